// Cards that moved are seen to move: from where they were drawn before to where they
// are drawn now. A card is known by its handle, which dies when somebody loses it from
// sight, so nothing can be followed that is hidden.
import { useLayoutEffect, useRef } from "react";
import type { View } from "../api/client";
import { useDragging } from "./dragging";

/** How long a card takes, in milliseconds. */
const moveTime = 230;

export function useMoves(view: View, millimetre: number): void {
  const before = useRef<{ boxes: Map<string, DOMRect>; millimetre: number } | null>(null);
  useLayoutEffect(() => {
    const boxes = new Map<string, DOMRect>();
    const was = before.current;
    const still = matchMedia("(prefers-reduced-motion: reduce)").matches;
    const { dragging } = useDragging.getState();
    for (const card of document.querySelectorAll<HTMLElement>("[data-handle]")) {
      const handle = card.dataset.handle ?? "";
      const to = card.getBoundingClientRect();
      boxes.set(handle, to);
      if (!was || was.millimetre !== millimetre || still) continue;
      const from = dragging?.handles.includes(handle) ? new DOMRect(dragging.x - to.width / 2, dragging.y - to.height / 2, to.width, to.height) : was.boxes.get(handle);
      if (!from || to.width === 0 || Math.hypot(from.x - to.x, from.y - to.y) < 3) continue;
      const dx = from.x + from.width / 2 - to.x - to.width / 2;
      const dy = from.y + from.height / 2 - to.y - to.height / 2;
      card.animate([{ translate: `${dx}px ${dy}px`, scale: String(from.width / to.width), zIndex: 5 }, { translate: "0 0", scale: "1", zIndex: 5 }], { duration: moveTime, easing: "ease-out" });
    }
    before.current = { boxes, millimetre };
  }, [view, millimetre]);
}
