// Every property of a piece, by its kind.
import type { Action, Piece } from "../api/client";
import { limits } from "../api/tables.gen";
import { useTable } from "../table/TableContext";
import { NumberLaid, TextLaid, TickLaid } from "./Fields";
import { PictureLaid } from "./PictureLaid";
import { StepsLaid } from "./StepsLaid";

type Laid = Omit<Extract<Action, { do: "lay-piece" }>, "do" | "piece">;

export function PieceFields({ piece }: { piece: Piece }) {
  const { view, act } = useTable();
  const lay = (change: Laid) => void act({ do: "lay-piece", piece: piece.id, ...change });
  const moved = !piece.locked;
  return (
    <>
      <TextLaid label="name" value={piece.name} onLay={(name) => lay({ name })} />
      <ByKind piece={piece} lay={lay} />
      <div className="laid-pair">
        <NumberLaid label="x, mm" value={piece.x} least={0} most={view.settings.wide} disabled={!moved} onLay={(x) => lay({ x })} />
        <NumberLaid label="y, mm" value={piece.y} least={0} most={view.settings.high} disabled={!moved} onLay={(y) => lay({ y })} />
        {(piece.kind === "mat" || piece.kind === "token" || piece.kind === "note") && (
          <NumberLaid
            label="wide, mm"
            value={piece.wide}
            least={limits.leastSide}
            most={limits.side}
            none={piece.kind === "mat" ? undefined : "its own"}
            disabled={!moved}
            onLay={(wide) => lay({ wide: wide ?? 0 })}
          />
        )}
        {piece.kind === "mat" && (
          <NumberLaid
            label="high, mm"
            value={piece.high}
            least={limits.leastSide}
            most={limits.side}
            disabled={!moved}
            onLay={(high) => lay({ high })}
          />
        )}
        <NumberLaid
          label="turned, °"
          value={piece.turn ?? 0}
          least={0}
          most={limits.turn}
          disabled={!moved}
          onLay={(turn) => lay({ turn })}
        />
      </div>
      <TickLaid label="locked: stays where it is" value={piece.locked ?? false} onLay={(locked) => lay({ locked })} />
    </>
  );
}

function ByKind({ piece, lay }: { piece: Piece; lay: (change: Laid) => void }) {
  switch (piece.kind) {
    case "counter":
      return (
        <div className="laid-pair">
          <NumberLaid label="value" value={piece.value ?? 0} least={-1e6} most={1e6} onLay={(value) => lay({ value })} />
          <NumberLaid label="step" value={piece.step || 1} least={1} most={1e6} onLay={(step) => lay({ step })} />
          <NumberLaid
            label="at least"
            value={piece.least}
            least={-1e6}
            most={1e6}
            none="no bound"
            onLay={(least) => lay({ bounds: { least, most: piece.most } })}
          />
          <NumberLaid
            label="at most"
            value={piece.most}
            least={-1e6}
            most={1e6}
            none="no bound"
            onLay={(most) => lay({ bounds: { least: piece.least, most } })}
          />
        </div>
      );
    case "die":
    case "spinner":
      return (
        <TextLaid
          label={`${piece.kind === "die" ? "faces" : "sectors"}, one a line; "lull × 2" is twice as likely`}
          rows={Math.max(4, piece.sectors?.length ?? 0)}
          value={written(piece)}
          onLay={(text) => lay({ sectors: readSectors(text) })}
        />
      );
    case "token":
      return (
        <>
          <PictureLaid
            label="one side"
            picture={piece.faces?.[0]}
            onLay={(face) => lay({ faces: [face, ...(piece.faces ?? []).slice(1)] })}
          />
          {piece.faces?.[0] && (
            <PictureLaid
              label="other side"
              picture={piece.faces[1]}
              onLay={(face) => piece.faces?.[0] && lay({ faces: [piece.faces[0], face] })}
            />
          )}
          <NumberLaid
            label="how many in the stack"
            value={piece.count || 1}
            least={1}
            most={limits.stack}
            onLay={(count) => lay({ count })}
          />
        </>
      );
    case "mat":
      return (
        <PictureLaid
          label="picture"
          picture={piece.faces?.[0]}
          onLay={(face, size) => lay({ faces: [face], high: Math.round(((piece.wide ?? 200) * size.high) / size.wide) })}
        />
      );
    case "timer":
      return (
        <NumberLaid
          label="seconds"
          value={(piece.length ?? 0) / 1000}
          least={1}
          most={limits.seconds}
          onLay={(seconds) => lay({ seconds })}
        />
      );
    case "note":
      return <TextLaid label="text, in Markdown" rows={8} value={piece.text ?? ""} onLay={(text) => lay({ text })} />;
    case "cue":
      return <StepsLaid label="steps" value={piece.text ?? ""} onLay={(text) => lay({ text })} />;
    default:
      return null;
  }
}

/** Faces or sectors as they are written, one a line. */
export function written(piece: Piece): string {
  return (piece.sectors ?? []).map((s) => ((s.weight ?? 1) > 1 ? `${s.name} × ${s.weight}` : s.name)).join("\n");
}

export function readSectors(text: string): { name: string; weight?: number }[] {
  return text
    .split("\n")
    .map((line) => line.trim())
    .filter((line) => line !== "")
    .map((line) => {
      const [, name, weight] = /^(.*?)\s*[×x*]\s*(\d+)$/.exec(line) ?? [];
      return name && weight ? { name, weight: Number(weight) } : { name: line };
    });
}
