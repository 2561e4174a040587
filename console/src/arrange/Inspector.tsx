// The inspector: every property of what is meant, or of the table as a whole.
import Button from "react-bootstrap/Button";
import { useTable } from "../table/TableContext";
import { align, mean, nameOfThing, stopArranging, things, together, useArranging, whoSees, type Alignment, type Thing } from "./arranging";
import { ChoiceLaid } from "./Fields";
import { copy, takeOff } from "./Frames";
import { PieceFields } from "./PieceFields";
import { TableFields } from "./TableFields";
import { ZoneFields } from "./ZoneFields";
import "./Inspector.css";

export function Inspector() {
  const { view, canAct } = useTable();
  const { meant, as } = useArranging();
  const chosen = things(view).filter((t) => meant.includes(nameOfThing(t)));
  const [one] = chosen;
  return (
    <aside className="inspector" aria-label="Inspector">
      <header>
        <h2>{chosen.length > 1 ? `${chosen.length} things` : one ? one.name : "The table"}</h2>
        <Button size="sm" onClick={stopArranging}>
          Done
        </Button>
      </header>
      <div className="inspector-body">
        <fieldset disabled={!canAct}>
          {chosen.length > 1 && <Several chosen={chosen} />}
          {chosen.length === 1 && one && <One key={nameOfThing(one)} thing={one} />}
          {chosen.length === 0 && <TableFields />}
        </fieldset>
        <ChoiceLaid
          label="Seen with the eyes of"
          value={String(as)}
          onLay={(seat) => useArranging.setState({ as: Number(seat) })}
          choices={[
            ["-1", "who sees what, in words"],
            ...view.seats.map((s): [string, string] => [String(s.number), s.name ? `seat ${s.number}, ${s.name}` : `seat ${s.number}`]),
            ["0", "somebody who watches"],
          ]}
        />
        {as < 0 && !one && (
          <ul className="sights" aria-label="Colours of the frames">
            <li className="sight-open">everyone sees cards as they lie</li>
            <li className="sight-owner">its seat alone sees fronts</li>
            <li className="sight-none">nobody sees fronts</li>
          </ul>
        )}
        <p className="quiet">
          {one
            ? "Arrows move it, with Shift by a millimetre; R turns, C copies, F fixes it in place, Delete takes it off; Alt while dragging does not snap."
            : "Click a frame to choose it, with Shift several. Drag it to move it; a corner sizes it, the round handle turns it."}
        </p>
      </div>
    </aside>
  );
}

function One({ thing }: { thing: Thing }) {
  const { view } = useTable();
  const place = thing.kind === "zone" ? view.places.find((p) => p.id === thing.id) : undefined;
  const piece = thing.kind === "piece" ? view.pieces.find((p) => p.id === thing.id) : undefined;
  return (
    <>
      {place && <p className={`who-sees sight-${place.sight}`}>{sentenceOf(whoSees(view, place))}</p>}
      {place && <ZoneFields place={place} />}
      {piece && <PieceFields piece={piece} />}
      <Doing chosen={[thing]} />
    </>
  );
}

const sentenceOf = (text: string) => `${text.charAt(0).toUpperCase()}${text.slice(1)}.`;

/** Copying and taking off. */
function Doing({ chosen }: { chosen: Thing[] }) {
  const { act, now } = useTable();
  const copyAll = async () => {
    const before = new Set(things(now()).map(nameOfThing));
    if (await act(together(chosen.map(copy))))
      mean(
        ...things(now())
          .map(nameOfThing)
          .filter((name) => !before.has(name)),
      );
  };
  return (
    <div className="laid-doing">
      <Button size="sm" variant="outline-primary" onClick={() => void copyAll()}>
        Copy
      </Button>
      <Button size="sm" variant="outline-danger" onClick={() => void act(together(chosen.map(takeOff)))}>
        Take off the table
      </Button>
    </div>
  );
}

const alignments: [Alignment, string][] = [
  ["left", "left edges"],
  ["centre", "middles across"],
  ["right", "right edges"],
  ["top", "upper edges"],
  ["middle", "middles down"],
  ["bottom", "lower edges"],
  ["across", "evenly across"],
  ["down", "evenly down"],
  ["size", "one size"],
];

function Several({ chosen }: { chosen: Thing[] }) {
  const { act } = useTable();
  const { meant } = useArranging();
  const inOrder = [...chosen].sort((a, b) => meant.indexOf(nameOfThing(a)) - meant.indexOf(nameOfThing(b)));
  return (
    <>
      <p>
        Lay them in line with <strong>{inOrder[0]?.name}</strong>:
      </p>
      <div className="laid-aligning">
        {alignments.map(([how, label]) => (
          <Button
            key={how}
            size="sm"
            variant="outline-primary"
            onClick={() =>
              void act(
                together(
                  align(
                    inOrder.filter((t) => !t.locked),
                    how,
                  ),
                ),
              )
            }
          >
            {label}
          </Button>
        ))}
      </div>
      <Doing chosen={chosen} />
    </>
  );
}
