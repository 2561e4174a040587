// A piece on the mat. It is dragged to another spot; of a stack of tokens one is taken
// off, with Shift all. Mats and cues stay where they are laid.
import { useDrag } from "@use-gesture/react";
import { lazy, memo, Suspense, useEffect, useState } from "react";
import type { Action, Piece, View } from "../api/client";
import { usePicture } from "../api/pictures";
import { useOutline } from "./outline";
import { useTableNow, useTablePart } from "./TableContext";
import "./PieceOnMat.css";

const Markdown = lazy(() => import("react-markdown"));

/** What letting a piece go at a spot would be: a token on a like one makes a stack. */
export function dropPiece(view: View, piece: Piece, at: { x: number; y: number }, all: boolean): { action: Action; hint: string } {
  const some = piece.kind === "token" && (piece.count ?? 1) > 1 && !all ? { count: 1 } : {};
  const near = view.pieces.find(
    (p) => p.kind === "token" && p.id !== piece.id && Math.hypot(p.x - at.x, p.y - at.y) < 25 && alike(p, piece),
  );
  if (piece.kind === "token" && near)
    return { action: { do: "stack", piece: piece.id, onto: near.id, ...some }, hint: `onto ${near.name}` };
  return {
    action: { do: "move-piece", piece: piece.id, x: Math.round(at.x), y: Math.round(at.y), ...some },
    hint: some.count ? "one of them; Shift takes all" : "here",
  };
}

const alike = (a: Piece, b: Piece) => (a.faces ?? []).length > 0 && JSON.stringify(a.faces) === JSON.stringify(b.faces);

/** Whether a piece is dragged while one plays. */
const stays = (piece: Piece) => piece.locked || piece.kind === "mat" || piece.kind === "cue";

export const PieceOnMat = memo(function PieceOnMat({ piece }: { piece: Piece }) {
  const now = useTableNow();
  const [off, setOff] = useState<{ x: number; y: number; hint: string } | null>(null);
  const bind = useDrag(
    ({ first, last, tap, canceled, movement: [dx, dy], event, cancel }) => {
      if (tap) return;
      const { view, act, canAct, millimetre } = now();
      if (first && (!canAct || stays(piece) || (event.target instanceof Element && event.target.closest("button, a")))) {
        cancel();
        return;
      }
      const to = { x: piece.x + dx / millimetre, y: piece.y + dy / millimetre };
      const inside = to.x >= 0 && to.y >= 0 && to.x <= view.settings.wide && to.y <= view.settings.high;
      const drop = dropPiece(view, piece, to, event instanceof PointerEvent && event.shiftKey);
      setOff({ x: dx, y: dy, hint: inside ? drop.hint : "back where it was" });
      if (!last) return;
      if (canceled || !inside) setOff(null);
      else void act(drop.action).then(() => setOff(null));
    },
    { filterTaps: true, pointer: { keys: false } },
  );
  if (piece.kind === "mat") return <MatPiece piece={piece} />;
  return (
    <div
      {...bind()}
      className={`piece ${piece.kind} ${off ? "dragged" : ""} ${stays(piece) ? "stays" : ""}`}
      data-piece={piece.id}
      role="group"
      aria-label={`${piece.name}, ${piece.kind}`}
      style={{
        "--x": piece.x,
        "--y": piece.y,
        "--piece-wide": piece.wide,
        translate: off ? `${off.x}px ${off.y}px` : undefined,
        touchAction: "none",
      }}
    >
      {off && <span className="ghost-hint">{off.hint}</span>}
      <div className="piece-body" style={{ rotate: piece.turn ? `${piece.turn}deg` : undefined }}>
        <Body piece={piece} />
      </div>
      {!showsItsName(piece) && <span>{piece.name}</span>}
    </div>
  );
});

/** Whether a piece is its name already: a cue, and a token that nothing is on. */
const showsItsName = (piece: Piece) => piece.kind === "cue" || (piece.kind === "token" && !piece.faces?.length && !piece.sectors?.length);

/** A picture that lies under everything, with its name where it has no picture yet. */
function MatPiece({ piece }: { piece: Piece }) {
  const [face] = piece.faces ?? [];
  const src = usePicture(face?.full, "full");
  return (
    <div
      className="mat-piece"
      role="img"
      aria-label={`${piece.name}, mat`}
      style={{
        "--x": piece.x,
        "--y": piece.y,
        "--wide": piece.wide,
        "--high": piece.high,
        rotate: `${piece.turn ?? 0}deg`,
        backgroundImage: src ? `url(${src})` : undefined,
      }}
    >
      {!face?.full && piece.name}
    </div>
  );
}

function Body({ piece }: { piece: Piece }) {
  const act = useTablePart((t) => t.act);
  const canAct = useTablePart((t) => t.canAct);
  const you = useTablePart((t) => t.view.you);
  const holder = useTablePart(({ view }) => view.seats.find((s) => s.number === piece.seat)?.name ?? "nobody");
  switch (piece.kind) {
    case "counter":
      return (
        <>
          <button
            type="button"
            disabled={!canAct}
            onClick={() => void act({ do: "set", piece: piece.id, by: -1 })}
            aria-label={`one less ${piece.name}`}
          >
            −
          </button>
          <strong>{piece.value ?? 0}</strong>
          <button
            type="button"
            disabled={!canAct}
            onClick={() => void act({ do: "set", piece: piece.id, by: 1 })}
            aria-label={`one more ${piece.name}`}
          >
            +
          </button>
        </>
      );
    case "die":
    case "spinner":
      return (
        <>
          <FaceShown piece={piece} at={(piece.up ?? 0) - 1} none="–" />
          <button
            type="button"
            disabled={!canAct}
            onClick={() => void act({ do: "roll", pieces: [piece.id] })}
            aria-label={`${piece.kind === "die" ? "roll" : "spin"} ${piece.name}`}
          >
            {piece.kind === "die" ? "roll" : "spin"}
          </button>
        </>
      );
    case "marker":
      return (
        <>
          <strong>{holder}</strong>
          <button
            type="button"
            disabled={!canAct}
            onClick={() => void act({ do: "hand", piece: piece.id, seat: you })}
            aria-label={`take ${piece.name}`}
          >
            take
          </button>
        </>
      );
    case "timer":
      return <Timer piece={piece} />;
    case "token":
      return <Token piece={piece} />;
    case "cue":
      return (
        <button type="button" className="cue" disabled={!canAct} title={piece.text} onClick={() => void act({ do: "run", cue: piece.id })}>
          {piece.name}
        </button>
      );
    default:
      return (
        <div className="note-text">
          <Suspense fallback={piece.text}>
            <Markdown
              components={{
                a: ({ href, children }) => (
                  <a href={href} target="_blank" rel="noreferrer noopener">
                    {children}
                  </a>
                ),
              }}
            >
              {piece.text ?? ""}
            </Markdown>
          </Suspense>
        </div>
      );
  }
}

/** What one face of a piece shows: its picture, or else its word. */
function FaceShown({ piece, at, none }: { piece: Piece; at: number; none: string }) {
  const src = usePicture(piece.faces?.[at]?.small, "small");
  const word = piece.sectors?.[at]?.name ?? none;
  return src ? <img className="face-shown" src={src} alt={word} draggable={false} /> : <strong>{word}</strong>;
}

/** A token's picture is taken hold of by its outline, not by the box around it. */
function Token({ piece }: { piece: Piece }) {
  const act = useTablePart((t) => t.act);
  const canAct = useTablePart((t) => t.canAct);
  const side = piece.side === "back" ? 1 : 0;
  const src = usePicture(piece.faces?.[side]?.small, "small") ?? "";
  const outline = useOutline(src);
  const many = (piece.count ?? 1) > 1 ? <strong className="stack-count">×{piece.count}</strong> : null;
  return (
    <>
      {src ? (
        <span className="token-face">
          <img src={src} alt={piece.name} draggable={false} style={{ clipPath: outline }} />
        </span>
      ) : (
        <FaceShown piece={piece} at={side} none={piece.name} />
      )}
      {Math.max(piece.faces?.length ?? 0, piece.sectors?.length ?? 0) > 1 && (
        <button type="button" disabled={!canAct} onClick={() => void act({ do: "move-piece", piece: piece.id, flip: true })}>
          flip
        </button>
      )}
      {many}
    </>
  );
}

function Timer({ piece }: { piece: Piece }) {
  const act = useTablePart((t) => t.act);
  const canAct = useTablePart((t) => t.canAct);
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
      <strong>
        {Math.floor(left / 60)}:{String(left % 60).padStart(2, "0")}
      </strong>
      <button type="button" disabled={!canAct} onClick={() => run(ends > 0 ? "stop" : "start")}>
        {ends > 0 ? "stop" : "start"}
      </button>
      <button type="button" disabled={!canAct} onClick={() => run("reset")}>
        reset
      </button>
    </>
  );
}
