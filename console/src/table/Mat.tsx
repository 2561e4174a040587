// The mat with everything that lies on it, scaled to fit, zoomed and moved.
import { useEffect, useLayoutEffect, useRef, useState } from "react";
import type { Place } from "../api/client";
import { BoxChoice } from "./BoxChoice";
import { nothing } from "./chosen";
import { useDragging } from "./dragging";
import { PieceOnMat } from "./PieceOnMat";
import { PlaceOnMat } from "./PlaceOnMat";
import { Pointers } from "./Pointers";
import { useTable } from "./TableContext";
import { held, useViewport, whole, zoomedAt, type Sizes } from "./viewport";

export function Mat({ onScale }: { onScale: (millimetre: number) => void }) {
  const { view, choose, millimetre, point } = useTable();
  const frame = useRef<HTMLDivElement>(null);
  const [fit, setFit] = useState(1);
  const { zoom, x, y } = useViewport();
  const onFelt = useDragging(({ dragging }) => dragging?.state === "moving" && !!dragging.drop && !dragging.over);
  const { wide, high } = view.settings;
  useEffect(() => {
    const element = frame.current;
    if (!element) return;
    const observer = new ResizeObserver(() => setFit(Math.max(0.12, Math.min(element.clientWidth / wide, element.clientHeight / high))));
    observer.observe(element);
    return () => observer.disconnect();
  }, [wide, high]);
  useLayoutEffect(() => onScale(fit * zoom), [onScale, fit, zoom]);
  const sizes = (): Sizes => ({ frame: [frame.current?.clientWidth ?? 1, frame.current?.clientHeight ?? 1], table: [wide * fit, high * fit] });
  useEffect(() => {
    const element = frame.current;
    if (!element) return;
    const measured = (): Sizes => ({ frame: [element.clientWidth, element.clientHeight], table: [wide * fit, high * fit] });
    const wheel = (e: WheelEvent) => {
      e.preventDefault();
      const box = element.getBoundingClientRect();
      const at: [number, number] = [e.clientX - box.left - box.width / 2, e.clientY - box.top - box.height / 2];
      useViewport.setState(zoomedAt(useViewport.getState(), Math.exp(-e.deltaY * (e.ctrlKey ? 0.01 : 0.0018)), at, measured()));
    };
    element.addEventListener("wheel", wheel, { passive: false });
    return () => element.removeEventListener("wheel", wheel);
  }, [wide, high, fit]);
  const pan = useRef<{ x: number; y: number; from: { x: number; y: number } } | null>(null);
  const zoomBy = (factor: number) => useViewport.setState(zoomedAt(useViewport.getState(), factor, [0, 0], sizes()));
  return (
    <div className="mat-frame" ref={frame}
      onPointerDown={(e) => {
        const felt = e.target instanceof Element && !e.target.closest("[data-handle], button, .piece");
        if (e.button === 1 || e.button === 2 && felt || e.pointerType === "touch" && felt) {
          pan.current = { x: e.clientX, y: e.clientY, from: useViewport.getState() };
          e.currentTarget.setPointerCapture(e.pointerId);
          if (e.button === 1) e.preventDefault();
        }
      }}
      onPointerMove={(e) => {
        const p = pan.current;
        if (p) useViewport.setState((v) => held({ zoom: v.zoom, x: p.from.x + e.clientX - p.x, y: p.from.y + e.clientY - p.y }, sizes()));
        const mat = frame.current?.querySelector("[data-mat]")?.getBoundingClientRect();
        if (mat) point({ x: (e.clientX - mat.left) / millimetre, y: (e.clientY - mat.top) / millimetre });
      }}
      onPointerUp={() => { pan.current = null; }}
      onPointerCancel={() => { pan.current = null; }}
      onPointerLeave={() => point(null)}
      onContextMenu={(e) => { if (e.target instanceof Element && !e.target.closest("[data-handle], button")) e.preventDefault(); }}>
      <div
        className={`mat ${onFelt ? "over" : ""} ${view.settings.mat ? "pictured" : ""}`}
        data-mat
        role="region"
        aria-label="Table"
        style={{
          "--mm": `${millimetre}px`, "--mat-wide": wide, "--mat-high": high, translate: `${x}px ${y}px`,
          backgroundImage: view.settings.mat ? `url(/pictures/${view.settings.mat.full})` : undefined,
        }}
        onClick={() => choose(nothing)}
      >
        {view.places.filter((p) => p.kind === "grid").map((place) => <PlaceOnMat key={place.id} place={place} />)}
        {view.places.filter((p) => p.kind !== "hand" && p.kind !== "grid").sort(byAge).map((place) => <PlaceOnMat key={place.id} place={place} />)}
        {view.pieces.map((piece) => <PieceOnMat key={piece.id} piece={piece} />)}
        <Pointers />
      </div>
      <BoxChoice frame={frame} />
      <div className="zoom" role="group" aria-label="Zoom">
        <button type="button" aria-label="Nearer" onClick={() => zoomBy(1.4)}>+</button>
        <button type="button" aria-label="Farther" disabled={zoom === 1} onClick={() => zoomBy(1 / 1.4)}>−</button>
        <button type="button" disabled={zoom === 1 && x === 0 && y === 0} onClick={() => useViewport.setState(whole)}>Show all</button>
      </div>
    </div>
  );
}

/** Loose cards in the order they came, so that the last one played lies on top. */
function byAge(a: Place, b: Place): number {
  const age = (p: Place) => (p.kind === "loose" ? Number(p.id.split("/")[1]) : 0);
  return age(a) - age(b);
}
