// The mat with everything that lies on it, scaled to fit, zoomed and moved.
import { useEffect, useLayoutEffect, useMemo, useState, type PointerEvent, type ReactNode, type RefObject } from "react";
import type { Place, View } from "../api/client";
import { usePicture } from "../api/pictures";
import { partsOf } from "../room/cells";
import { BoxChoice } from "./BoxChoice";
import { nothing } from "./chosen";
import { under, useDragging } from "./dragging";
import { useLooking } from "./looking";
import { Measure } from "./Measure";
import { measureFrom, measureTo, toggleMeasuring, useMeasuring } from "./measuring";
import { useMoves } from "./moves";
import { PieceOnMat } from "./PieceOnMat";
import { PlaceOnMat } from "./PlaceOnMat";
import { Pointers } from "./Pointers";
import { useTable } from "./TableContext";
import { useViewport, whole, zoomedAt } from "./viewport";
import "./Mat.css";

interface Props {
  /** Pixels of a millimetre as it is seen, and as it is drawn: while one zooms, what is drawn is only scaled. */
  onScale: (millimetre: number, drawn: number) => void;
  frame: RefObject<HTMLDivElement | null>;
  /** What is laid over all of it, such as the frames of arranging; then no box chooses cards. */
  over?: ReactNode;
}

export function Mat({ onScale, frame, over }: Props) {
  const { view, choose, millimetre, point } = useTable();
  const [fit, setFit] = useState(1);
  const { zoom, x, y } = useViewport();
  const measuring = useMeasuring((s) => s.on);
  const onFelt = useDragging(({ dragging }) => dragging?.state === "moving" && !!dragging.drop && !dragging.over);
  const { wide, high } = view.settings;
  const matPicture = usePicture(view.settings.mat?.full, "full");
  useLayoutEffect(() => {
    // before anything is seen, so that nothing jumps
    const element = frame.current;
    if (!element) return;
    const measure = () => setFit(Math.max(0.12, Math.min(element.clientWidth / wide, element.clientHeight / high)));
    measure();
    const observer = new ResizeObserver(measure);
    observer.observe(element);
    return () => observer.disconnect();
  }, [frame, wide, high]);
  const drawn = useSettled(zoom);
  const scaled = drawn !== zoom;
  useLayoutEffect(() => onScale(fit * zoom, fit * drawn), [onScale, fit, zoom, drawn]);
  useLooking(frame, wide, high, fit);
  useMoves(view, fit * drawn, !scaled);
  const spot = (e: PointerEvent) => {
    const mat = frame.current?.querySelector("[data-mat]")?.getBoundingClientRect();
    return mat ? { x: (e.clientX - mat.left) / millimetre, y: (e.clientY - mat.top) / millimetre } : null;
  };
  const mark = (e: PointerEvent) => {
    const at = spot(e);
    const target = under(e.clientX, e.clientY, [], millimetre);
    return at && { ...at, cell: target && "place" in target && target.place.includes("/") ? target.place : null };
  };
  return (
    <div
      className={`mat-frame ${measuring ? "measuring" : ""}`}
      ref={frame}
      onPointerDownCapture={(e) => {
        const from = measuring && e.button === 0 && !(e.target instanceof Element && e.target.closest(".zoom")) ? mark(e) : null;
        if (!from) return;
        e.stopPropagation();
        e.currentTarget.setPointerCapture(e.pointerId);
        measureFrom(from);
      }}
      onPointerMove={(e) => {
        point(spot(e));
        const to = measuring && e.buttons === 1 ? mark(e) : null;
        if (to) measureTo(to);
      }}
      onPointerLeave={() => point(null)}
      onContextMenu={(e) => {
        if (e.target instanceof Element && !e.target.closest("[data-handle], button")) e.preventDefault();
      }}
    >
      {/* eslint-disable-next-line jsx-a11y/click-events-have-key-events, jsx-a11y/no-noninteractive-element-interactions -- Escape chooses nothing, too */}
      <div
        className={`mat ${onFelt ? "over" : ""} ${view.settings.mat?.full ? "pictured" : ""}`}
        data-mat
        role="region"
        aria-label="Table"
        style={{
          "--mm": `${fit * drawn}px`,
          "--mat-wide": wide,
          "--mat-high": high,
          translate: `calc(-50% + ${x}px) calc(-50% + ${y}px)`, // before it is scaled, so that its middle stays
          scale: scaled ? String(zoom / drawn) : undefined,
          willChange: scaled ? "scale" : undefined,
          backgroundImage: matPicture ? `url(${matPicture})` : undefined,
        }}
        onClick={(e) => {
          if (!(e.target instanceof Element && e.target.closest(".piece"))) choose(nothing);
        }}
      >
        <Lying view={view} />
        <Pointers />
        <Measure />
        {over}
      </div>
      {!over && !measuring && <BoxChoice frame={frame} />}
      <Looking frame={frame} fit={fit} />
    </div>
  );
}

/** How long one zooms no more before the table is drawn anew at its new size, in milliseconds. */
const settleTime = 160;

/** The zoom at which the table is drawn: the latest once it stays. */
function useSettled(zoom: number): number {
  const [settled, settle] = useState(zoom);
  useEffect(() => {
    if (settled === zoom) return;
    const later = setTimeout(() => settle(zoom), settleTime);
    return () => clearTimeout(later);
  }, [zoom, settled]);
  return settled;
}

/** What lies on the mat, the lowest first: mats, grids, zones, loose cards, pieces. */
function Lying({ view }: { view: View }) {
  const { places, pieces, you } = view;
  const lying = useMemo(
    () => [...places].filter((p) => p.kind !== "grid" && !(p.kind === "hand" && p.owner === you)).sort(byAge),
    [places, you],
  );
  return (
    <>
      {pieces
        .filter((p) => p.kind === "mat")
        .map((piece) => (
          <PieceOnMat key={piece.id} piece={piece} />
        ))}
      {places
        .filter((p) => p.kind === "grid")
        .map((place) => (
          <PlaceOnMat key={place.id} place={place} />
        ))}
      {lying.map((place) => (
        <PlaceOnMat key={place.id} place={place} />
      ))}
      {pieces
        .filter((p) => p.kind !== "mat")
        .map((piece) => (
          <PieceOnMat key={piece.id} piece={piece} />
        ))}
    </>
  );
}

/** The buttons in the corner: nearer, farther, all of it, and measuring. */
function Looking({ frame, fit }: { frame: RefObject<HTMLDivElement | null>; fit: number }) {
  const { view } = useTable();
  const { zoom, x, y } = useViewport();
  const measuring = useMeasuring((s) => s.on);
  const zoomBy = (factor: number) => {
    const { wide, high } = view.settings;
    useViewport.setState(
      zoomedAt(useViewport.getState(), factor, [0, 0], {
        frame: [frame.current?.clientWidth ?? 1, frame.current?.clientHeight ?? 1],
        table: [wide * fit, high * fit],
      }),
    );
  };
  return (
    <div className="zoom" role="group" aria-label="Looking at the table">
      <button type="button" aria-pressed={measuring} aria-keyshortcuts="q" onClick={toggleMeasuring}>
        Measure
      </button>
      <button type="button" aria-label="Nearer" onClick={() => zoomBy(1.4)}>
        +
      </button>
      <button type="button" aria-label="Farther" disabled={zoom === 1} onClick={() => zoomBy(1 / 1.4)}>
        −
      </button>
      <button type="button" disabled={zoom === 1 && x === 0 && y === 0} onClick={() => useViewport.setState(whole)}>
        Show all
      </button>
    </div>
  );
}

/** Loose cards in the order they came, so that the last one played lies on top. */
function byAge(a: Place, b: Place): number {
  const age = (p: Place) => (p.kind === "loose" ? Number(partsOf(p.id)[1]) : 0);
  return age(a) - age(b);
}
