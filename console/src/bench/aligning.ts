// Boxes of a layout fall into line while they are dragged: with the edges and middles of the card and of the other boxes.

export type At = [left: number, top: number, wide: number, high: number];

/** Where a box falls into line, and along which lines of the card that is. */
export interface Aligned {
  at: At;
  across: number[]; // from the left, in pixels of the card
  down: number[]; // from the top
}

/**
 * A box that was dragged to a place, or to a size, as it falls into line with a card and with other boxes that are no
 * further away than some pixels.
 */
export function aligned(at: At, sizing: boolean, others: At[], card: [number, number], within: number): Aligned {
  const [x, across] = fall(at[0], at[2], sizing, linesOf(others, card[0], 0), within);
  const [y, down] = fall(at[1], at[3], sizing, linesOf(others, card[1], 1), within);
  return {
    at: sizing ? [at[0], at[1], at[2] + x, at[3] + y] : [at[0] + x, at[1] + y, at[2], at[3]],
    across,
    down,
  };
}

/** The lines that a box can fall into, in one direction. */
function linesOf(others: At[], card: number, axis: 0 | 1): number[] {
  const lines = [0, card / 2, card];
  for (const o of others) {
    const [from, long] = [o[axis], o[axis + 2] ?? 0];
    lines.push(from, from + long / 2, from + long);
  }
  return lines;
}

/** By how much a box moves to fall into the nearest line, and which lines it then lies along. */
function fall(from: number, long: number, sizing: boolean, lines: number[], within: number): [number, number[]] {
  const edges = sizing ? [from + long] : [from, from + long / 2, from + long];
  let by = 0;
  let nearest = within + 1;
  for (const edge of edges)
    for (const line of lines) {
      const off = Math.round(line - edge);
      if (Math.abs(off) < nearest) [nearest, by] = [Math.abs(off), off];
    }
  if (nearest > within) return [0, []];
  return [by, [...new Set(lines)].filter((line) => edges.some((edge) => Math.abs(edge + by - line) < 0.6))];
}
