// Measuring: from where one pressed to where the pointer is, in steps on a grid or
// else in millimetres.
import { ofTable } from "../parts/ofTable";
import type { View } from "../api/client";
import { distance, partsOf, readCell } from "../room/cells";
import type { Spot } from "./TableContext";

/** A spot of the table, and the cell it is on if it is on one. */
export interface Mark extends Spot {
  cell: string | null;
}

interface Measuring {
  on: boolean;
  from: Mark | null;
  to: Mark | null;
  cells: string[];
}

const off: Measuring = { on: false, from: null, to: null, cells: [] };

export const useMeasuring = ofTable<Measuring>(() => off);

export const toggleMeasuring = () => useMeasuring.setState((s) => ({ ...off, on: !s.on }));
export const stopMeasuring = () => useMeasuring.setState(off);

export function measureFrom(from: Mark): void {
  useMeasuring.setState({ from, to: from, cells: from.cell ? [from.cell] : [] });
}

export function measureTo(to: Mark): void {
  useMeasuring.setState(({ from }) => ({ to, cells: [from?.cell, to.cell].filter((cell) => typeof cell === "string") }));
}

/** How far it is, in words. */
export function howFar(view: View, from: Mark, to: Mark): string {
  const [of, a] = partsOf(from.cell ?? "");
  const [ofTo, b] = partsOf(to.cell ?? "");
  const grid = view.places.find((p) => p.id === of)?.grid;
  const [cellA, cellB] = [a ? readCell(a) : null, b ? readCell(b) : null];
  if (grid && of === ofTo && cellA && cellB && a && b) {
    const steps = distance(grid, cellA, cellB);
    return `${a} to ${b}: ${steps === 1 ? "1 step" : `${steps} steps`}`;
  }
  return `${Math.round(Math.hypot(from.x - to.x, from.y - to.y))} mm`;
}
