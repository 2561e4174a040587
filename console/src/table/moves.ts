// Cards that moved are seen to move: from where they were drawn before to where they
// are drawn now. A card is known by its handle, which dies when somebody loses it from
// sight, so nothing can be followed that is hidden. Only places that changed are
// measured, so that a large table costs no more than a small one.
import { useLayoutEffect, useRef } from "react";
import type { Place, View } from "../api/client";
import { useDragging } from "./dragging";

/** How long a card takes, in milliseconds. */
const moveTime = 230;

/** Where a card is drawn, in pixels: on the mat beside its corner, else on the screen. */
interface Box {
  x: number;
  y: number;
  wide: number;
  onMat: boolean;
}

interface Known {
  millimetre: number;
  places: Set<Place>;
  boxes: Map<string, Box>;
}

/** millimetre is how it is drawn in pixels; still: it is not just being zoomed. */
export function useMoves(view: View, millimetre: number, still: boolean): void {
  const before = useRef<Known | null>(null);
  useLayoutEffect(() => {
    before.current = still ? follow(before.current, view.places, millimetre) : null;
  }, [view, millimetre, still]);
}

/** Has cards glide from where they were known to be, and returns where they are. */
function follow(known: Known | null, places: Place[], millimetre: number): Known | null {
  const mat = document.querySelector("[data-mat]")?.getBoundingClientRect();
  if (!mat) return null;
  const was = known?.millimetre === millimetre ? known : null;
  const changed = was ? places.filter((p) => !was.places.has(p)) : places;
  const moved: { card: HTMLElement; from: Box; to: Box }[] = [];
  const boxes = was?.boxes ?? new Map<string, Box>();
  const { dragging } = useDragging.getState();
  for (const card of changed.flatMap(cardsOf)) {
    // all is measured before anything is animated
    const handle = card.dataset.handle ?? "";
    const to = boxOf(card, mat);
    const from = dragging?.handles.includes(handle)
      ? { x: dragging.x - (to.onMat ? mat.x : 0), y: dragging.y - (to.onMat ? mat.y : 0), wide: to.wide, onMat: to.onMat }
      : boxes.get(handle);
    boxes.set(handle, to);
    if (was && from) moved.push({ card, from: onto(from, to, mat), to });
  }
  if (moved.length > 0 && !matchMedia("(prefers-reduced-motion: reduce)").matches) moved.forEach(glide);
  return { millimetre, places: new Set(places), boxes };
}

/** What an element of a place is found by; of a look there is a tray beside it. */
export const elementOf = (place: string, tray = false) => `${tray ? "tray" : "place"} ${place}`;

function cardsOf(place: Place): HTMLElement[] {
  const elements = [document.getElementById(elementOf(place.id)), place.looker ? document.getElementById(elementOf(place.id, true)) : null];
  return elements.flatMap((e) => (e ? [...e.querySelectorAll<HTMLElement>("[data-handle]")] : []));
}

/** The middle of a card. */
function boxOf(card: HTMLElement, mat: DOMRect): Box {
  const r = card.getBoundingClientRect();
  const onMat = card.closest("[data-mat]") !== null;
  return { x: r.x + r.width / 2 - (onMat ? mat.x : 0), y: r.y + r.height / 2 - (onMat ? mat.y : 0), wide: r.width, onMat };
}

/** A box as another one is measured. */
function onto(from: Box, to: Box, mat: DOMRect): Box {
  if (from.onMat === to.onMat) return from;
  const by = to.onMat ? -1 : 1;
  return { ...from, x: from.x + by * mat.x, y: from.y + by * mat.y };
}

function glide({ card, from, to }: { card: HTMLElement; from: Box; to: Box }): void {
  const [dx, dy] = [from.x - to.x, from.y - to.y];
  if (to.wide === 0 || Math.hypot(dx, dy) < 3) return;
  card.animate(
    [
      { translate: `${dx}px ${dy}px`, scale: String(from.wide / to.wide) },
      { translate: "0 0", scale: "1" },
    ],
    { duration: moveTime, easing: "ease-out" },
  );
}
