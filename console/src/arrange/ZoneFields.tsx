// Every property of a zone.
import type { Action, Place } from "../api/client";
import { limits } from "../api/tables.gen";
import { useTable } from "../table/TableContext";
import { ChoiceLaid, NumberLaid, TextLaid, TickLaid } from "./Fields";

type Laid = Omit<Extract<Action, { do: "lay-zone" }>, "do" | "zone">;

export function ZoneFields({ place }: { place: Place }) {
  const { view, act } = useTable();
  const lay = (change: Laid) => void act({ do: "lay-zone", zone: place.id, ...change });
  const { wide, high } = view.settings;
  const arrival = place.arrival ?? {};
  const moved = !place.locked;
  return (
    <>
      <TextLaid label="name" value={place.name} onLay={(name) => lay({ name })} />
      <ChoiceLaid
        label="kind"
        value={place.kind}
        choices={[
          ["pile", "pile"],
          ["row", "row"],
          ["grid", "grid"],
          ["hand", "hand"],
        ]}
        onLay={(kind) => lay({ kind: kind as Laid["kind"] })}
      />
      <ChoiceLaid
        label="belongs to"
        value={String(place.owner ?? 0)}
        onLay={(owner) => lay({ owner: Number(owner) })}
        choices={[
          ["0", "nobody"],
          ...view.seats.map((s): [string, string] => [String(s.number), s.name ? `seat ${s.number}, ${s.name}` : `seat ${s.number}`]),
        ]}
      />
      <ChoiceLaid
        label="sight"
        value={place.sight}
        onLay={(sight) => lay({ sight: sight as Laid["sight"] })}
        choices={[
          ["open", "open: as the cards lie"],
          ["owner", "owner: its seat alone"],
          ["none", "none: nobody"],
        ]}
      />
      <ChoiceLaid
        label="cards arrive"
        value={arrival.side ?? ""}
        onLay={(side) => lay({ arrival: { ...arrival, side: side as "front" } })}
        choices={[
          ["", "as they are"],
          ["front", "face up"],
          ["back", "face down"],
        ]}
      />
      <ChoiceLaid
        label="and go"
        value={arrival.bottom ? "bottom" : "top"}
        onLay={(end) => lay({ arrival: { ...arrival, bottom: end === "bottom" } })}
        choices={
          place.kind === "pile"
            ? [
                ["top", "on top"],
                ["bottom", "underneath"],
              ]
            : [
                ["top", "to the right end"],
                ["bottom", "to the left end"],
              ]
        }
      />
      <NumberLaid
        label="turned to"
        value={arrival.turn}
        least={0}
        most={limits.turn}
        none="as they are"
        onLay={(turn) => lay({ arrival: { ...arrival, turn } })}
      />
      <NumberLaid
        label="holds"
        value={place.capacity}
        least={1}
        most={10000}
        none="any number"
        onLay={(capacity) => lay({ capacity: capacity ?? 0 })}
      />
      {place.grid && (
        <>
          <ChoiceLaid
            label="cells"
            value={place.grid.shape}
            onLay={(shape) => place.grid && lay({ grid: { ...place.grid, shape } })}
            choices={[
              ["square", "squares, 8 neighbours"],
              ["square4", "squares, 4 neighbours"],
              ["hex", "hexes"],
            ]}
          />
          <NumberLaid
            label="columns"
            value={place.grid.columns}
            least={1}
            most={100}
            onLay={(columns) => place.grid && columns && lay({ grid: { ...place.grid, columns } })}
          />
          <NumberLaid
            label="rows"
            value={place.grid.rows}
            least={1}
            most={100}
            onLay={(rows) => place.grid && rows && lay({ grid: { ...place.grid, rows } })}
          />
        </>
      )}
      <div className="laid-pair">
        <NumberLaid label="x, mm" value={place.x} least={0} most={wide} disabled={!moved} onLay={(x) => lay({ x })} />
        <NumberLaid label="y, mm" value={place.y} least={0} most={high} disabled={!moved} onLay={(y) => lay({ y })} />
        <NumberLaid
          label="wide, mm"
          value={place.wide}
          least={limits.leastSide}
          most={limits.side}
          disabled={!moved}
          onLay={(w) => lay({ wide: w })}
        />
        <NumberLaid
          label="high, mm"
          value={place.high}
          least={limits.leastSide}
          most={limits.side}
          disabled={!moved}
          onLay={(h) => lay({ high: h })}
        />
        <NumberLaid
          label="turned, °"
          value={place.turn ?? 0}
          least={0}
          most={limits.turn}
          disabled={!moved}
          onLay={(turn) => lay({ turn })}
        />
      </div>
      <TickLaid label="locked: stays where it is" value={place.locked ?? false} onLay={(locked) => lay({ locked })} />
    </>
  );
}
