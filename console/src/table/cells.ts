// The arithmetic of grids that measuring needs, as core/grid has it.
import type { Place } from "../api/client";

export interface Cell { column: number; row: number }
type Grid = NonNullable<Place["grid"]>;

/** Column letters and row number, B3. */
export function cellName({ column, row }: Cell): string {
  let letters = "";
  for (let n = column + 1; n > 0; n = Math.floor((n - 1) / 26)) letters = String.fromCharCode(65 + ((n - 1) % 26)) + letters;
  return `${letters}${row + 1}`;
}

export function readCell(name: string): Cell | null {
  const [, letters, row] = /^([A-Z]+)(\d+)$/.exec(name) ?? [];
  if (!letters || !row) return null;
  return { column: [...letters].reduce((n, letter) => n * 26 + letter.charCodeAt(0) - 64, 0) - 1, row: Number(row) - 1 };
}

/** Two of the three axes of a hex grid. */
const axial = ({ column, row }: Cell): [number, number] => [column, row - (column - (column & 1)) / 2];

/** The least number of steps between two cells. */
export function distance(grid: Grid, a: Cell, b: Cell): number {
  const [columns, rows] = [Math.abs(a.column - b.column), Math.abs(a.row - b.row)];
  if (grid.shape === "square4") return columns + rows;
  if (grid.shape !== "hex") return Math.max(columns, rows);
  const [ax, az] = axial(a);
  const [bx, bz] = axial(b);
  return Math.max(Math.abs(ax - bx), Math.abs(az - bz), Math.abs(ax + az - bx - bz));
}
