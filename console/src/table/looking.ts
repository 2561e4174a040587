// Looking at the table with wheel, middle or right button, and fingers: zoom, move, pinch.
import { useEffect, type RefObject } from "react";
import { held, useViewport, zoomedAt, type Sizes } from "./viewport";

/** Whether something of the table itself is under the pointer, and not the felt. */
const onThing = (target: EventTarget | null) =>
  target instanceof Element && !!target.closest("[data-handle], button, .piece, .frame, input");

export function useLooking(frame: RefObject<HTMLElement | null>, wide: number, high: number, fit: number): void {
  useEffect(() => {
    const element = frame.current;
    if (!element) return;
    const sizes = (): Sizes => ({ frame: [element.clientWidth, element.clientHeight], table: [wide * fit, high * fit] });
    const beside = (x: number, y: number): [number, number] => {
      const box = element.getBoundingClientRect();
      return [x - box.left - box.width / 2, y - box.top - box.height / 2];
    };
    const down = new Map<number, { x: number; y: number }>();
    const middle = () => {
      const all = [...down.values()];
      return { x: all.reduce((n, p) => n + p.x, 0) / all.length, y: all.reduce((n, p) => n + p.y, 0) / all.length };
    };
    const apart = () => {
      const [a, b] = [...down.values()];
      return a && b ? Math.hypot(a.x - b.x, a.y - b.y) : 0;
    };
    const wheel = (e: WheelEvent) => {
      e.preventDefault();
      useViewport.setState(
        zoomedAt(useViewport.getState(), Math.exp(-e.deltaY * (e.ctrlKey ? 0.01 : 0.0018)), beside(e.clientX, e.clientY), sizes()),
      );
    };
    const press = (e: PointerEvent) => {
      const pans = e.button === 1 || (!onThing(e.target) && (e.button === 2 || e.pointerType === "touch"));
      if (!pans && !(e.pointerType === "touch" && down.size > 0)) return;
      down.set(e.pointerId, { x: e.clientX, y: e.clientY });
      if (e.button === 1) e.preventDefault();
    };
    const move = (e: PointerEvent) => {
      const before = down.get(e.pointerId);
      if (!before) return;
      const [from, gap] = [middle(), apart()];
      down.set(e.pointerId, { x: e.clientX, y: e.clientY });
      const to = middle();
      let next = held(
        { ...useViewport.getState(), x: useViewport.getState().x + to.x - from.x, y: useViewport.getState().y + to.y - from.y },
        sizes(),
      );
      if (gap > 0 && apart() > 0) next = zoomedAt(next, apart() / gap, beside(to.x, to.y), sizes());
      useViewport.setState(next);
    };
    const up = (e: PointerEvent) => {
      down.delete(e.pointerId);
    };
    element.addEventListener("wheel", wheel, { passive: false });
    element.addEventListener("pointerdown", press);
    addEventListener("pointermove", move);
    addEventListener("pointerup", up);
    addEventListener("pointercancel", up);
    return () => {
      element.removeEventListener("wheel", wheel);
      element.removeEventListener("pointerdown", press);
      removeEventListener("pointermove", move);
      removeEventListener("pointerup", up);
      removeEventListener("pointercancel", up);
    };
  }, [frame, wide, high, fit]);
}
