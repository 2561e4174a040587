// The acts for what is chosen, in a menu where one clicked.
import { useEffect, useRef } from "react";
import { actsFor } from "./acts";
import { useTable } from "./TableContext";

export interface MenuAt { x: number; y: number }

export function CardMenu({ at, count, onClose }: { at: MenuAt | null; count: number; onClose: () => void }) {
  const { view, chosen, act, canAct } = useTable();
  const list = useRef<HTMLUListElement>(null);
  useEffect(() => {
    if (!at) return;
    list.current?.querySelector("button")?.focus();
    const away = (e: Event) => { if (!(e.target instanceof Node && list.current?.contains(e.target))) onClose(); };
    addEventListener("pointerdown", away);
    return () => removeEventListener("pointerdown", away);
  }, [at, onClose]);
  const acts = actsFor(view, chosen, count);
  if (!at || acts.length === 0) return null;
  const step = (by: number) => {
    const all = [...(list.current?.querySelectorAll("button") ?? [])];
    all[(all.indexOf(document.activeElement as HTMLButtonElement) + by + all.length) % all.length]?.focus();
  };
  return (
    <ul ref={list} className="card-menu" role="menu" aria-label="What to do"
      style={{ left: Math.min(at.x, innerWidth - 240), top: Math.max(8, Math.min(at.y, innerHeight - 34 * acts.length - 16)) }}
      onKeyDown={(e) => {
        if (e.key === "Escape") onClose();
        if (e.key === "ArrowDown") step(1);
        if (e.key === "ArrowUp") step(-1);
        if (e.key.startsWith("Arrow")) e.preventDefault();
        e.stopPropagation();
      }}>
      {acts.map(({ key, label, action }) => (
        <li key={label} role="none">
          <button type="button" role="menuitem" disabled={!canAct} onClick={() => { void act(action); onClose(); }}>{label}{key && <kbd>{key.toUpperCase()}</kbd>}</button>
        </li>
      ))}
    </ul>
  );
}
