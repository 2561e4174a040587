// The drag under way: what is dragged, where the pointer is, and what it is
// over. Only what is drawn of it lives here; the table itself does not change
// until the service says so.
import { ofTable } from "../parts/ofTable";
import type { Card, Deck } from "../api/client";
import { indexAt, type Dragged, type Drop, type Under } from "./drop";

export interface Dragging extends Dragged {
  /** Counts drags, so that what settles late does not end a newer one. */
  id: number;
  card: Card | null;
  deck: Deck | undefined;
  x: number;
  y: number;
  /** Where the drag began, to spring back to. */
  startX: number;
  startY: number;
  drop: Drop | null;
  over: string | null;
  state: "moving" | "waiting" | "springing";
}

export const useDragging = ofTable<{ dragging: Dragging | null }>(() => ({ dragging: null }));

let drags = 0;

/** Begins a drag. One that only waits to be settled gives way; one under way does not. */
export function beginDrag(of: Omit<Dragging, "id" | "drop" | "over" | "state">): boolean {
  if (useDragging.getState().dragging?.state === "moving") return false;
  useDragging.setState({ dragging: { ...of, id: ++drags, drop: null, over: null, state: "moving" } });
  return true;
}

/** Ends a drag that was dropped, if it is still the newest: well, or springing back. */
export function endDrag(id: number, well: boolean): boolean {
  if (useDragging.getState().dragging?.id !== id) return false;
  if (well) setDragging(null);
  else springBack();
  return true;
}

export function setDragging(change: Partial<Dragging> | null): void {
  useDragging.setState(({ dragging }) => ({
    dragging: change === null ? null : ({ ...dragging, ...change } as Dragging),
  }));
}

/** How long a card takes to spring back, in milliseconds; also in DragGhost.css. */
const springTime = 180;

export function springBack(): void {
  setDragging({ state: "springing", over: null, drop: null });
  setTimeout(() => {
    if (useDragging.getState().dragging?.state === "springing") setDragging(null);
  }, springTime);
}

/** What lies under a point of the screen. */
export function under(x: number, y: number, dragged: string[], millimetre: number): Under {
  for (const element of document.elementsFromPoint(x, y)) {
    const tray = element.closest<HTMLElement>("[data-tray]");
    if (tray?.dataset.tray) return { tray: tray.dataset.tray, index: indexAt(x, middlesOf(tray, dragged, 0)) };
    const place = element.closest<HTMLElement>("[data-place]");
    if (place?.dataset.place) {
      const turn = Number(place.dataset.turn ?? 0);
      const box = place.getBoundingClientRect();
      const card = element.closest<HTMLElement>("[data-handle]")?.dataset.handle;
      return {
        place: place.dataset.place,
        index: indexAt(along(x, y, turn), middlesOf(place, dragged, turn)),
        low: y > box.top + box.height * 0.72,
        card: card && !dragged.includes(card) ? card : undefined,
      };
    }
    const mat = element.closest<HTMLElement>("[data-mat]");
    if (mat) {
      const box = mat.getBoundingClientRect();
      return { x: (x - box.left) / millimetre, y: (y - box.top) / millimetre };
    }
  }
  return null;
}

/** How far along a turned row a point of the screen lies. */
function along(x: number, y: number, turn: number): number {
  const radians = (turn * Math.PI) / 180;
  return x * Math.cos(radians) + y * Math.sin(radians);
}

function middlesOf(place: HTMLElement, dragged: string[], turn: number): number[] {
  return [...place.querySelectorAll<HTMLElement>("[data-handle]")]
    .filter((card) => !dragged.includes(card.dataset.handle ?? ""))
    .map((card) => card.getBoundingClientRect())
    .map((box) => along(box.left + box.width / 2, box.top + box.height / 2, turn));
}
