// The mat with everything that lies on it, scaled to fit.
import { useEffect, useRef } from "react";
import type { Place } from "../api/client";
import { nothing } from "./chosen";
import { useDragging } from "./dragging";
import { PieceOnMat } from "./PieceOnMat";
import { PlaceOnMat } from "./PlaceOnMat";
import { useTable } from "./TableContext";

export function Mat({ onScale }: { onScale: (millimetre: number) => void }) {
  const { view, choose, millimetre } = useTable();
  const frame = useRef<HTMLDivElement>(null);
  const onFelt = useDragging(({ dragging }) => dragging?.state === "moving" && !!dragging.drop && !dragging.over);
  const { wide, high } = view.settings;
  useEffect(() => {
    const element = frame.current;
    if (!element) return;
    const observer = new ResizeObserver(() => {
      onScale(Math.max(0.12, Math.min(element.clientWidth / wide, element.clientHeight / high)));
    });
    observer.observe(element);
    return () => observer.disconnect();
  }, [wide, high, onScale]);
  return (
    <div className="mat-frame" ref={frame}>
      <div
        className={`mat ${onFelt ? "over" : ""} ${view.settings.mat ? "pictured" : ""}`}
        data-mat
        role="region"
        aria-label="Table"
        style={{ "--mm": `${millimetre}px`, "--mat-wide": wide, "--mat-high": high, backgroundImage: view.settings.mat ? `url(/pictures/${view.settings.mat.full})` : undefined }}
        onClick={() => choose(nothing)}
      >
        {view.places.filter((p) => p.kind === "grid").map((place) => <PlaceOnMat key={place.id} place={place} />)}
        {view.places.filter((p) => p.kind !== "hand" && p.kind !== "grid").sort(byAge).map((place) => <PlaceOnMat key={place.id} place={place} />)}
        {view.pieces.map((piece) => <PieceOnMat key={piece.id} piece={piece} />)}
      </div>
    </div>
  );
}

/** Loose cards in the order they came, so that the last one played lies on top. */
function byAge(a: Place, b: Place): number {
  const age = (p: Place) => (p.kind === "loose" ? Number(p.id.split("/")[1]) : 0);
  return age(a) - age(b);
}
