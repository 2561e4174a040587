// Choosing many cards with a box drawn over the felt.
import { useEffect, useState, type RefObject } from "react";
import { useTable } from "./TableContext";
import "./BoxChoice.css";

interface Drawn {
  x: number;
  y: number;
  toX: number;
  toY: number;
}

export function BoxChoice({ frame }: { frame: RefObject<HTMLDivElement | null> }) {
  const { chosen, choose } = useTable();
  const [box, setBox] = useState<Drawn | null>(null);
  useEffect(() => {
    const element = frame.current;
    if (!element) return;
    const down = (e: PointerEvent) => {
      if (
        e.button !== 0 ||
        e.pointerType === "touch" ||
        !(e.target instanceof Element) ||
        e.target.closest("[data-handle], button, input, .piece")
      )
        return;
      let drawn: Drawn = { x: e.clientX, y: e.clientY, toX: e.clientX, toY: e.clientY };
      const move = (m: PointerEvent) => {
        drawn = { ...drawn, toX: m.clientX, toY: m.clientY };
        if (Math.hypot(drawn.toX - drawn.x, drawn.toY - drawn.y) > 6) setBox(drawn);
      };
      const up = () => {
        removeEventListener("pointermove", move);
        removeEventListener("pointerup", up);
        setBox(null);
        if (Math.hypot(drawn.toX - drawn.x, drawn.toY - drawn.y) <= 6) return;
        element.addEventListener("click", (c) => c.stopPropagation(), { capture: true, once: true }); // the click that ends the drag chooses nothing else
        setTimeout(() =>
          choose({ place: null, handles: [...new Set([...(e.shiftKey ? chosen.handles : []), ...within(element, drawn)])] }),
        );
      };
      addEventListener("pointermove", move);
      addEventListener("pointerup", up);
    };
    element.addEventListener("pointerdown", down);
    return () => element.removeEventListener("pointerdown", down);
  }, [frame, chosen, choose]);
  if (!box) return null;
  return (
    <div
      className="box-choice"
      aria-hidden="true"
      style={{
        left: Math.min(box.x, box.toX),
        top: Math.min(box.y, box.toY),
        width: Math.abs(box.toX - box.x),
        height: Math.abs(box.toY - box.y),
      }}
    />
  );
}

/** The cards whose middles lie in a box. */
export function within(frame: HTMLElement, box: Drawn): string[] {
  const inside = (v: number, a: number, b: number) => v >= Math.min(a, b) && v <= Math.max(a, b);
  return [...frame.querySelectorAll<HTMLElement>("[data-handle]")]
    .filter((card) => {
      const r = card.getBoundingClientRect();
      return inside(r.left + r.width / 2, box.x, box.toX) && inside(r.top + r.height / 2, box.y, box.toY);
    })
    .map((card) => card.dataset.handle ?? "");
}
