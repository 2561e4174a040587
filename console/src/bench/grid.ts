// Where the cells of a sheet lie, as core/sheet has it.
import type { Grid } from "./types";

type Spacing = number | number[] | undefined;

/** Pixels around all cells: left, top, right, bottom. */
export type Margin = [number, number, number, number];

/** A margin as four numbers; it is written as one where all are the same. */
export function marginOf(margin: Spacing): Margin {
  const [left = 0, top = left, right = left, bottom = top] = Array.isArray(margin) ? margin : [margin];
  return [left, top, right, bottom];
}

/** A gutter as two numbers, across and down. */
export function gutterOf(gutter: Spacing): [number, number] {
  const [across = 0, down = across] = Array.isArray(gutter) ? gutter : [gutter];
  return [across, down];
}

/** Numbers as kit.yaml has them: one if all are the same, none if that is zero. */
export function written(numbers: number[]): number | number[] | undefined {
  if (numbers.some((n) => n !== numbers[0])) return numbers;
  return numbers[0] || undefined;
}

/** Numbers as a person reads and types them: "12", or "12, 8, 12, 8". */
export function shown(numbers: number[]): string {
  return numbers.every((n) => n === numbers[0]) ? String(numbers[0]) : numbers.join(", ");
}

/** The numbers that a person typed, if they are as many as there must be, or one for all. */
export function typed(text: string, of: number): number[] | undefined {
  const numbers = text.split(",").map((part) => Number(part.trim() || "0"));
  if (numbers.some((n) => !Number.isInteger(n) || n < 0 || n > 8192)) return undefined;
  if (numbers.length === of) return numbers;
  return numbers.length === 1 ? Array.from({ length: of }, () => numbers[0] as number) : undefined;
}

/** Left, top, width and height of a cell in pixels; cells are numbered from 1. */
export function cellBox(g: Grid, size: [number, number], number: number): [number, number, number, number] {
  const [wide, high] = usable(g, size);
  const column = (number - 1) % g.columns;
  const row = Math.floor((number - 1) / g.columns);
  const [across, down] = gutterOf(g.gutter);
  const [left, top] = marginOf(g.margin);
  return [
    left + Math.floor((column * wide) / g.columns) + column * across,
    top + Math.floor((row * high) / g.rows) + row * down,
    Math.floor(wide / g.columns),
    Math.floor(high / g.rows),
  ];
}

function usable(g: Grid, [wide, high]: [number, number]): [number, number] {
  const [left, top, right, bottom] = marginOf(g.margin);
  const [across, down] = gutterOf(g.gutter);
  return [wide - left - right - (g.columns - 1) * across, high - top - bottom - (g.rows - 1) * down];
}

/** Whether two grids cut the same. */
export const sameGrid = (a: Grid, b: Grid): boolean =>
  a.columns === b.columns &&
  a.rows === b.rows &&
  shown(marginOf(a.margin)) === shown(marginOf(b.margin)) &&
  shown(gutterOf(a.gutter)) === shown(gutterOf(b.gutter)) &&
  (a.count ?? 0) === (b.count ?? 0);

/** Whether cells of at least 8 pixels fit. */
export function fits(g: Grid, size: [number, number]): boolean {
  const [wide, high] = usable(g, size);
  return g.columns >= 1 && g.rows >= 1 && g.columns * g.rows <= 1000 && wide >= 8 * g.columns && high >= 8 * g.rows;
}
