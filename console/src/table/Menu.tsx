// A menu where one clicked. It is walked with the arrows, and left with Escape or a
// press elsewhere. It lies over everything: parts of the page are layers of their own,
// and what is inside one lies under the next.
import { useEffect, useRef } from "react";
import { createPortal } from "react-dom";
import Dropdown from "react-bootstrap/Dropdown";
import "./Menu.css";

export interface MenuAt {
  x: number;
  y: number;
}
export interface Item {
  key?: string;
  label: string;
  disabled?: boolean;
  run: () => void;
}

/** Pixels of an item, to keep the menu within the window. */
const itemHigh = 34;
/** Pixels of the menu, with what it keeps off the edge. */
const wide = 250;

export function Menu({ at, label, items, onClose }: { at: MenuAt | null; label: string; items: Item[]; onClose: () => void }) {
  const list = useRef<HTMLDivElement>(null);
  useEffect(() => {
    if (!at) return;
    const before = document.activeElement;
    list.current?.querySelector("button")?.focus();
    const away = (e: Event) => {
      if (!(e.target instanceof Node && list.current?.contains(e.target))) onClose();
    };
    addEventListener("pointerdown", away);
    return () => {
      removeEventListener("pointerdown", away);
      if (before instanceof HTMLElement) before.focus({ preventScroll: true });
    };
  }, [at, onClose]);
  if (!at || items.length === 0) return null;
  return createPortal(
    <Dropdown show onToggle={(open) => open || onClose()}>
      <Dropdown.Menu
        ref={list}
        show
        className="card-menu"
        role="menu"
        aria-label={label}
        style={{ left: Math.min(at.x, innerWidth - wide), top: Math.max(8, Math.min(at.y, innerHeight - itemHigh * items.length - 16)) }}
      >
        {items.map(({ key, label, disabled, run }) => (
          <Dropdown.Item
            key={label}
            as="button"
            type="button"
            role="menuitem"
            disabled={disabled}
            onClick={() => {
              onClose();
              run();
            }}
          >
            {label}
            {key && <kbd>{key.toUpperCase()}</kbd>}
          </Dropdown.Item>
        ))}
      </Dropdown.Menu>
    </Dropdown>,
    document.body,
  );
}
