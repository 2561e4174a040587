// Every property of a piece, by its kind.
import { Fragment, type ReactNode } from "react";
import type { Action, Piece } from "../api/client";
import { limits, pieceParts } from "../api/tables.gen";
import { useTable } from "../table/TableContext";
import { NumberLaid, TextLaid, TickLaid } from "./Fields";
import { PictureLaid } from "./PictureLaid";
import { StepsLaid } from "./StepsLaid";

type Laid = Omit<Extract<Action, { do: "lay-piece" }>, "do" | "piece">;

interface Fields {
  piece: Piece;
  lay: (change: Laid) => void;
}

export function PieceFields({ piece }: { piece: Piece }) {
  const { view, act } = useTable();
  const lay = (change: Laid) => void act({ do: "lay-piece", piece: piece.id, ...change });
  const moved = !piece.locked;
  const parts: readonly string[] = pieceParts[piece.kind];
  return (
    <>
      <TextLaid label="name" value={piece.name} onLay={(name) => lay({ name })} />
      {parts.map((part) => fields[part] && <Fragment key={part}>{fields[part]({ piece, lay })}</Fragment>)}
      <div className="laid-pair">
        <NumberLaid label="x, mm" value={piece.x} least={0} most={view.settings.wide} disabled={!moved} onLay={(x) => lay({ x })} />
        <NumberLaid label="y, mm" value={piece.y} least={0} most={view.settings.high} disabled={!moved} onLay={(y) => lay({ y })} />
        {parts.includes("size") && (
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

/** The fields of the parts that pieces of some kinds have; which kinds have which the core says. */
const fields: Record<string, (of: Fields) => ReactNode> = {
  value: ({ piece, lay }) => (
    <NumberLaid label="value" value={piece.value ?? 0} least={-1e6} most={1e6} onLay={(value) => lay({ value })} />
  ),
  step: ({ piece, lay }) => <NumberLaid label="step" value={piece.step || 1} least={1} most={1e6} onLay={(step) => lay({ step })} />,
  bounds: ({ piece, lay }) => (
    <div className="laid-pair">
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
  ),
  faces: ({ piece, lay }) => (
    <TextLaid
      label={facesLabel[piece.kind] ?? 'faces, one a line; "lull × 2" is twice as likely'}
      rows={Math.max(piece.kind === "token" ? 2 : 4, piece.sectors?.length ?? 0)}
      value={written(piece)}
      onLay={(text) => lay({ sectors: readSectors(text) })}
    />
  ),
  picture: ({ piece, lay }) => <Pictures piece={piece} lay={lay} />,
  count: ({ piece, lay }) => (
    <NumberLaid label="how many in the stack" value={piece.count || 1} least={1} most={limits.stack} onLay={(count) => lay({ count })} />
  ),
  time: ({ piece, lay }) => (
    <NumberLaid label="seconds" value={(piece.length ?? 0) / 1000} least={1} most={limits.seconds} onLay={(seconds) => lay({ seconds })} />
  ),
  text: ({ piece, lay }) =>
    piece.kind === "cue" ? (
      <StepsLaid label="steps" value={piece.text ?? ""} onLay={(text) => lay({ text })} />
    ) : (
      <TextLaid label="text, in Markdown" rows={8} value={piece.text ?? ""} onLay={(text) => lay({ text })} />
    ),
};

const facesLabel: Record<string, string> = {
  spinner: 'sectors, one a line; "lull × 2" is twice as likely',
  token: "words on its one or two sides, one a line; a picture goes before a word",
};

/** The pictures of a piece, each with what it is of. The next is asked for once the one before it is there. */
function Pictures({ piece, lay }: Fields) {
  const labels =
    { mat: ["picture"], token: ["one side", "other side"] }[piece.kind as string] ??
    (piece.sectors ?? []).map((s) => `picture of ${s.name}`);
  const faces = piece.faces ?? [];
  return labels.slice(0, faces.length + 1).map((label, i) => (
    <PictureLaid
      key={label}
      label={label}
      picture={faces[i]}
      onLay={(face, size) => {
        const high = piece.kind === "mat" ? { high: Math.round(((piece.wide ?? 200) * size.high) / size.wide) } : {};
        lay({ faces: [...faces.slice(0, i), face, ...faces.slice(i + 1)], ...high });
      }}
    />
  ));
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
