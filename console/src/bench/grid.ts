// Where the cells of a sheet lie, as core/sheet has it.
import type { Grid } from "./types";

/** Left, top, width and height of a cell in pixels; cells are numbered from 1. */
export function cellBox(g: Grid, size: [number, number], number: number): [number, number, number, number] {
  const [wide, high] = usable(g, size);
  const column = (number - 1) % g.columns;
  const row = Math.floor((number - 1) / g.columns);
  const gutter = g.gutter ?? 0;
  const margin = g.margin ?? 0;
  return [
    margin + Math.floor((column * wide) / g.columns) + column * gutter,
    margin + Math.floor((row * high) / g.rows) + row * gutter,
    Math.floor(wide / g.columns),
    Math.floor(high / g.rows),
  ];
}

function usable(g: Grid, [wide, high]: [number, number]): [number, number] {
  return [wide - 2 * (g.margin ?? 0) - (g.columns - 1) * (g.gutter ?? 0), high - 2 * (g.margin ?? 0) - (g.rows - 1) * (g.gutter ?? 0)];
}

/** Whether cells of at least 8 pixels fit. */
export function fits(g: Grid, size: [number, number]): boolean {
  const [wide, high] = usable(g, size);
  return g.columns >= 1 && g.rows >= 1 && g.columns * g.rows <= 1000 && wide >= 8 * g.columns && high >= 8 * g.rows;
}

/** The cells of a list such as "1-12, 15"; undefined is all of them. */
export function cellsOf(text: string | undefined): Set<number> | undefined {
  if (!text?.trim()) return undefined;
  const cells = new Set<number>();
  for (const part of text.split(",")) {
    const [first, last] = part.split("-").map((n) => Number(n.trim()));
    for (let cell = first ?? 0; cell <= (last ?? first ?? 0); cell++) cells.add(cell);
  }
  return cells;
}
