// A piece on the mat: counter, die, spinner, token, marker, timer or note.
import { useEffect, useState } from "react";
import type { Piece } from "../api/client";
import { useTable } from "./TableContext";

export function PieceOnMat({ piece }: { piece: Piece }) {
  return (
    <div className={`piece ${piece.kind}`} style={{ "--x": piece.x, "--y": piece.y }} role="group" aria-label={`${piece.name}, ${piece.kind}`}
      onClick={(e) => e.stopPropagation()}>
      <div className="piece-body"><Body piece={piece} /></div>
      <span>{piece.name}</span>
    </div>
  );
}

function Body({ piece }: { piece: Piece }) {
  const { act, canAct, view } = useTable();
  const up = piece.up ? piece.sectors?.[piece.up - 1]?.name : "–";
  switch (piece.kind) {
    case "counter":
      return (
        <>
          <button type="button" disabled={!canAct} onClick={() => void act({ do: "set", piece: piece.id, by: -1 })} aria-label={`one less ${piece.name}`}>−</button>
          <strong>{piece.value ?? 0}</strong>
          <button type="button" disabled={!canAct} onClick={() => void act({ do: "set", piece: piece.id, by: 1 })} aria-label={`one more ${piece.name}`}>+</button>
        </>
      );
    case "die":
    case "spinner":
      return (
        <>
          <strong>{up}</strong>
          <button type="button" disabled={!canAct} onClick={() => void act({ do: "roll", pieces: [piece.id] })}>{piece.kind === "die" ? "roll" : "spin"}</button>
        </>
      );
    case "marker": {
      const holder = view.seats.find((s) => s.number === piece.seat)?.name ?? "nobody";
      return (
        <>
          <strong>{holder}</strong>
          <button type="button" disabled={!canAct} onClick={() => void act({ do: "hand", piece: piece.id, seat: view.you })}>take</button>
        </>
      );
    }
    case "timer":
      return <Timer piece={piece} />;
    case "token": {
      const face = piece.faces?.[piece.side === "back" ? 1 : 0];
      const many = (piece.count ?? 1) > 1 ? <strong className="stack-count">×{piece.count}</strong> : null;
      return <>{face ? <img src={`/pictures/${face.small}`} alt={piece.name} draggable={false} /> : <strong>{piece.name}</strong>}{many}</>;
    }
    default:
      return <span>{piece.text}</span>;
  }
}

function Timer({ piece }: { piece: Piece }) {
  const { act, canAct } = useTable();
  const ends = piece.ends ?? 0;
  const [now, setNow] = useState(() => Date.now());
  useEffect(() => {
    if (ends === 0) return;
    const tick = setInterval(() => setNow(Date.now()), 500);
    return () => clearInterval(tick);
  }, [ends]);
  const left = Math.max(0, Math.ceil((ends > 0 ? ends - now : (piece.left ?? 0)) / 1000));
  const run = (what: "start" | "stop" | "reset") => void act({ do: "timer", piece: piece.id, what });
  return (
    <>
      <strong>{Math.floor(left / 60)}:{String(left % 60).padStart(2, "0")}</strong>
      <button type="button" disabled={!canAct} onClick={() => run(ends > 0 ? "stop" : "start")}>{ends > 0 ? "stop" : "start"}</button>
      <button type="button" disabled={!canAct} onClick={() => run("reset")}>reset</button>
    </>
  );
}
