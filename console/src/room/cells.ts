// The arithmetic of grids that measuring needs, as core/grid has it.
import type { Place } from "../api/client";

export interface Cell {
  column: number;
  row: number;
}
type Grid = NonNullable<Place["grid"]>;

/** Column letters and row number, B3. */
export function cellName({ column, row }: Cell): string {
  let letters = "";
  for (let n = column + 1; n > 0; n = Math.floor((n - 1) / 26)) letters = String.fromCharCode(65 + ((n - 1) % 26)) + letters;
  return `${letters}${row + 1}`;
}

/** Takes the id of a place apart: a grid and its cell's name, a zone's key and a seat's number, or felt and a number. */
export function partsOf(id: string): [of: string, rest: string] {
  const at = id.indexOf("/");
  return at < 0 ? [id, ""] : [id.slice(0, at), id.slice(at + 1)];
}

export function readCell(name: string): Cell | null {
  const [, letters, row] = /^([A-Z]+)(\d+)$/.exec(name) ?? [];
  if (!letters || !row) return null;
  return { column: [...letters].reduce((n, letter) => n * 26 + letter.charCodeAt(0) - 64, 0) - 1, row: Number(row) - 1 };
}

/** Where a cell lies within its grid and how large it is, in parts of the grid's size. */
export function cellBox({ shape, columns, rows }: Grid, { column, row }: Cell): { left: number; top: number; wide: number; high: number } {
  const hex = shape === "hex";
  const wide = hex ? (columns - 1) * 0.75 + 1 : columns;
  const high = rows + (hex && columns > 1 ? 0.5 : 0);
  return { left: (hex ? column * 0.75 : column) / wide, top: (row + (hex && column % 2 ? 0.5 : 0)) / high, wide: 1 / wide, high: 1 / high };
}

/** The outlines of all cells of a hex grid, as a path over a field of 1000 by 1000. */
export function hexLines(grid: Grid): string {
  const all: string[] = [];
  for (let column = 0; column < grid.columns; column++) {
    for (let row = 0; row < grid.rows; row++) {
      const { left, top, wide, high } = cellBox(grid, { column, row });
      const corners = [
        [0.25, 0],
        [0.75, 0],
        [1, 0.5],
        [0.75, 1],
        [0.25, 1],
        [0, 0.5],
      ] as const;
      all.push(
        `M${corners.map(([x, y]) => `${Math.round((left + x * wide) * 1e4) / 10} ${Math.round((top + y * high) * 1e4) / 10}`).join("L")}Z`,
      );
    }
  }
  return all.join("");
}

/** The place of a free cell, as it is made when a card comes to lie there. */
export function cellPlace(grid: Place, cell: Cell): Place | null {
  if (!grid.grid) return null;
  const box = cellBox(grid.grid, cell);
  const [dx, dy] = [(box.left + box.wide / 2 - 0.5) * grid.wide, (box.top + box.high / 2 - 0.5) * grid.high];
  const turn = ((grid.turn ?? 0) * Math.PI) / 180;
  return {
    id: `${grid.id}/${cellName(cell)}`,
    name: `${grid.name} ${cellName(cell)}`,
    kind: "cell",
    of: grid.id,
    owner: grid.owner,
    sight: grid.sight,
    turn: grid.turn,
    count: 0,
    x: grid.x + dx * Math.cos(turn) - dy * Math.sin(turn),
    y: grid.y + dx * Math.sin(turn) + dy * Math.cos(turn),
    wide: box.wide * grid.wide,
    high: box.high * grid.high,
  };
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
