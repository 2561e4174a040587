// What can be laid anew: a zone or piece of each kind, in the middle of what is seen.
import Button from "react-bootstrap/Button";
import type { Action } from "../api/client";
import { pieceKinds, zoneKinds } from "../api/tables.gen";
import { useTable } from "../table/TableContext";
import { lattice, mean, nameOfThing, things } from "./arranging";
import "./Palette.css";

/** Millimetres of a new zone. */
const sizes = { pile: [70, 95], row: [320, 100], grid: [300, 240], hand: [260, 95] } as const;

export function Palette() {
  const { view, act, now, canAct, middle } = useTable();
  const lay = async (action: Action) => {
    const before = new Set(things(now()).map(nameOfThing));
    if (await act(action))
      mean(
        ...things(now())
          .map(nameOfThing)
          .filter((name) => !before.has(name)),
      );
  };
  const at = () => {
    const spot = middle();
    let [x, y] = [spot.x, spot.y].map((n) => Math.round(n / lattice) * lattice) as [number, number];
    while (things(now()).some((t) => Math.hypot(t.x - x, t.y - y) < lattice)) [x, y] = [x + 4 * lattice, y + 4 * lattice]; // beside what was laid before
    return { x, y };
  };
  return (
    <div className="palette" role="toolbar" aria-label="Lay something new">
      <strong>Zone</strong>
      {zoneKinds.map((kind) => (
        <Button
          key={kind}
          size="sm"
          variant="outline-primary"
          disabled={!canAct}
          onClick={() =>
            void lay({
              do: "lay-zone",
              kind,
              wide: sizes[kind][0],
              high: sizes[kind][1],
              ...at(),
              ...(kind === "hand" ? { owner: view.you, sight: "owner" } : {}),
            })
          }
        >
          {kind}
        </Button>
      ))}
      <strong>Piece</strong>
      {pieceKinds.map((kind) => (
        <Button
          key={kind}
          size="sm"
          variant="outline-primary"
          disabled={!canAct}
          onClick={() => void lay({ do: "lay-piece", kind, ...at(), ...(kind === "cue" ? { text: 'say "…"' } : {}) })}
        >
          {kind}
        </Button>
      ))}
      <Button size="sm" variant="outline-primary" disabled={!canAct} onClick={() => void act({ do: "undo" })}>
        Undo
      </Button>
    </div>
  );
}
