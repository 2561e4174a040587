// The outer cuts of a sheet and its first gutters, dragged over the picture, or moved by
// arrow keys. The numbers follow; kit.yaml changes once the handle is let go.
import { useRef, type KeyboardEvent, type PointerEvent } from "react";
import { cellBox, fits, gutterOf, marginOf } from "./grid";
import type { Grid } from "./types";

const sides = ["Left", "Top", "Right", "Bottom"] as const;

interface Handle {
  label: string;
  level: boolean; // it lies along a row, and is moved up and down
  at: number; // pixels of the picture
  value: number;
  /** The grid with the handle moved to a place. */
  to: (at: number) => Grid;
  /** The grid with its number changed by so much. */
  by: (change: number) => Grid;
}

interface Props {
  grid: Grid;
  size: [number, number];
  onMove: (grid: Grid) => void;
  onDone: (grid: Grid) => void;
}

export function CutHandles({ grid, size, onMove, onDone }: Props) {
  const area = useRef<HTMLDivElement>(null);
  const dragged = useRef<{ handle: Handle; grid: Grid } | null>(null);
  const place = (handle: Handle, e: PointerEvent) => {
    const box = area.current?.getBoundingClientRect();
    if (!box) return 0;
    return handle.level ? ((e.clientY - box.top) / box.height) * size[1] : ((e.clientX - box.left) / box.width) * size[0];
  };
  const move = (e: PointerEvent) => {
    if (!dragged.current) return;
    const { handle } = dragged.current;
    const grid = handle.to(place(handle, e));
    if (!fits(grid, size)) return;
    dragged.current.grid = grid;
    onMove(grid);
  };
  const drop = () => {
    if (dragged.current) onDone(dragged.current.grid);
    dragged.current = null;
  };
  const keys = (e: KeyboardEvent, handle: Handle) => {
    const steps: Record<string, number> = { ArrowRight: 1, ArrowDown: 1, ArrowUp: -1, ArrowLeft: -1 };
    const step = steps[e.key];
    if (!step) return;
    e.preventDefault();
    const next = handle.by(e.shiftKey ? 10 * step : step);
    if (fits(next, size)) onDone(next);
  };
  return (
    <div ref={area} className="cut-handles">
      {handlesOf(grid, size).map((handle) => (
        <div
          key={handle.label}
          role="slider"
          tabIndex={0}
          aria-label={handle.label}
          aria-valuenow={handle.value}
          aria-valuetext={`${handle.value} pixels`}
          className={handle.level ? "cut-handle level" : "cut-handle"}
          style={handle.level ? { top: `${(100 * handle.at) / size[1]}%` } : { left: `${(100 * handle.at) / size[0]}%` }}
          title={`${handle.label}: drag, or use the arrow keys`}
          onPointerDown={(e) => {
            e.preventDefault();
            e.currentTarget.focus();
            e.currentTarget.setPointerCapture(e.pointerId);
            dragged.current = { handle, grid };
          }}
          onPointerMove={move}
          onPointerUp={drop}
          onPointerCancel={() => {
            dragged.current = null;
            onMove(grid);
          }}
          onKeyDown={(e) => keys(e, handle)}
        />
      ))}
    </div>
  );
}

/** The handles that a grid has. */
function handlesOf(grid: Grid, size: [number, number]): Handle[] {
  const margin = marginOf(grid.margin);
  const gutter = gutterOf(grid.gutter);
  const withMargin = (side: number, pixels: number): Grid => ({
    ...grid,
    margin: margin.map((n, i) => (i === side ? Math.max(0, Math.round(pixels)) : n)),
  });
  const withGutter = (axis: number, pixels: number): Grid => ({
    ...grid,
    gutter: gutter.map((n, i) => (i === axis ? Math.max(0, Math.round(pixels)) : n)),
  });
  const outer = sides.map((side, i): Handle => {
    const level = i % 2 === 1;
    const whole = size[level ? 1 : 0];
    const far = i > 1;
    const value = margin[i] ?? 0;
    return {
      label: `${side} margin`,
      level,
      value,
      at: far ? whole - value : value,
      to: (at) => withMargin(i, far ? whole - at : at),
      by: (change) => withMargin(i, value + change),
    };
  });
  const inner = [0, 1].flatMap((axis): Handle[] => {
    if ((axis ? grid.rows : grid.columns) < 2) return [];
    const [x, y] = cellBox(grid, size, axis ? grid.columns + 1 : 2);
    const at = axis ? y : x;
    const value = gutter[axis] ?? 0;
    const middle = at - value / 2;
    return [
      {
        label: axis ? "Gutter down" : "Gutter across",
        level: axis === 1,
        value,
        at,
        to: (place) => withGutter(axis, 2 * (place - middle)),
        by: (change) => withGutter(axis, value + change),
      },
    ];
  });
  return [...outer, ...inner];
}
