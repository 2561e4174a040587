// Arranging the table: what is on, what is meant, and the arithmetic of laying
// things straight. The table itself changes by actions like any other.
import { ofTable } from "../parts/ofTable";
import type { Action, Piece, Place, View } from "../api/client";

/** A zone or a piece, by its id. */
export interface Thing {
  kind: "zone" | "piece";
  id: string;
  name: string;
  x: number;
  y: number;
  wide: number;
  high: number;
  turn: number;
  locked: boolean;
}

/** Lines that what is dragged lies in line with, in millimetres. */
export interface Guides {
  x: number | null;
  y: number | null;
}

interface Arranging {
  on: boolean;
  /** Ids of what is meant, as zone:sky or piece:day. */
  meant: string[];
  /** Through whose eyes the table is looked at: a seat, 0 for whoever watches, -1 for one's own. */
  as: number;
  guides: Guides;
}

const off: Arranging = { on: false, meant: [], as: -1, guides: { x: null, y: null } };

export const useArranging = ofTable<Arranging>(() => off);

export const startArranging = () => useArranging.setState({ ...off, on: true });
export const stopArranging = () => useArranging.setState(off);
export const mean = (...meant: string[]) => useArranging.setState({ meant });

export const nameOfThing = (thing: Thing) => `${thing.kind}:${thing.id}`;

/** Whether one may arrange the table. */
export function mayArrange({ you, settings }: View): boolean {
  return you > 0 && (settings.host === you || settings.arrange === "everyone");
}

/** Millimetres that pieces without a size of their own take up, about. */
const pieceSizes: Record<Piece["kind"], [number, number]> = {
  counter: [124, 66],
  die: [124, 66],
  spinner: [124, 66],
  marker: [160, 66],
  timer: [196, 66],
  note: [300, 90],
  cue: [110, 42],
  token: [90, 150],
  mat: [200, 150],
};

export function sizeOf(piece: Piece): [number, number] {
  const [wide, high] = pieceSizes[piece.kind];
  if (piece.kind === "mat") return [piece.wide ?? wide, piece.high ?? high];
  return piece.wide ? [piece.wide, (piece.wide * high) / wide] : [wide, high];
}

/** Everything that can be arranged: mats first, because they lie under the rest. */
export function things(view: View): Thing[] {
  const piece = (p: Piece): Thing => {
    const [wide, high] = sizeOf(p);
    return { kind: "piece", id: p.id, name: p.name, x: p.x, y: p.y, wide, high, turn: p.turn ?? 0, locked: p.locked ?? false };
  };
  const zone = (p: Place): Thing => ({
    kind: "zone",
    id: p.id,
    name: p.name,
    x: p.x,
    y: p.y,
    wide: p.wide,
    high: p.high,
    turn: p.turn ?? 0,
    locked: p.locked ?? false,
  });
  return [
    ...view.pieces.filter((p) => p.kind === "mat").map(piece),
    ...view.places.filter((p) => p.kind !== "loose" && p.kind !== "cell").map(zone),
    ...view.pieces.filter((p) => p.kind !== "mat").map(piece),
  ];
}

/** The change of a thing as an action. */
export function change(
  thing: Thing,
  by: { x?: number; y?: number; wide?: number; high?: number; turn?: number; locked?: boolean },
): Action {
  return thing.kind === "zone" ? { do: "lay-zone", zone: thing.id, ...by } : { do: "lay-piece", piece: thing.id, ...by };
}

/** Several changes as one action, with one undo. */
export function together(actions: Action[]): Action {
  const [only] = actions;
  return actions.length === 1 && only ? only : { do: "all", actions };
}

/** Millimetres between the lines that things snap to by themselves. */
export const lattice = 5;
/** How near another thing's line must be to draw what is dragged into it, in millimetres. */
const near = 5;

/** Where a thing dropped at a spot comes to lie: in line with another, or else on the lattice. */
export function snap(thing: Thing, at: { x: number; y: number }, others: Thing[]): { x: number; y: number; guides: Guides } {
  const along = (middle: number, half: number, lines: number[]): { to: number; guide: number | null } => {
    let best: { to: number; guide: number | null } = { to: Math.round(middle / lattice) * lattice, guide: null };
    let least = near;
    for (const line of lines) {
      for (const own of [0, -half, half]) {
        const away = Math.abs(middle + own - line);
        if (away < least) {
          least = away;
          best = { to: line - own, guide: line };
        }
      }
    }
    return best;
  };
  const upright = thing.turn % 180 !== 90;
  const x = along(
    at.x,
    (upright ? thing.wide : thing.high) / 2,
    others.flatMap((o) => [o.x, o.x - o.wide / 2, o.x + o.wide / 2]),
  );
  const y = along(
    at.y,
    (upright ? thing.high : thing.wide) / 2,
    others.flatMap((o) => [o.y, o.y - o.high / 2, o.y + o.high / 2]),
  );
  return { x: tenth(x.to), y: tenth(y.to), guides: { x: x.guide, y: y.guide } };
}

export const tenth = (n: number) => Math.round(n * 10) / 10;

export type Alignment = "left" | "centre" | "right" | "top" | "middle" | "bottom" | "across" | "down" | "size";

/** Laying several things in line, evenly apart, or in one size; the first sets the measure. */
export function align(all: Thing[], how: Alignment): Action[] {
  const [first] = all;
  if (!first) return [];
  const moved = (thing: Thing, to: { x?: number; y?: number; wide?: number; high?: number }) => change(thing, to);
  switch (how) {
    case "left":
      return all.map((t) => moved(t, { x: tenth(first.x - first.wide / 2 + t.wide / 2), y: t.y }));
    case "right":
      return all.map((t) => moved(t, { x: tenth(first.x + first.wide / 2 - t.wide / 2), y: t.y }));
    case "centre":
      return all.map((t) => moved(t, { x: first.x, y: t.y }));
    case "top":
      return all.map((t) => moved(t, { x: t.x, y: tenth(first.y - first.high / 2 + t.high / 2) }));
    case "bottom":
      return all.map((t) => moved(t, { x: t.x, y: tenth(first.y + first.high / 2 - t.high / 2) }));
    case "middle":
      return all.map((t) => moved(t, { x: t.x, y: first.y }));
    case "size":
      return all.map((t) => moved(t, t.kind === "zone" ? { wide: first.wide, high: first.high } : { wide: first.wide }));
    default:
      return spread(all, how === "across" ? "x" : "y").map(([t, at]) => moved(t, how === "across" ? { x: at, y: t.y } : { x: t.x, y: at }));
  }
}

/** Even distances between the outermost two. */
function spread(all: Thing[], axis: "x" | "y"): [Thing, number][] {
  const sorted = [...all].sort((a, b) => a[axis] - b[axis]);
  const [from, to] = [sorted[0]?.[axis] ?? 0, sorted.at(-1)?.[axis] ?? 0];
  return sorted.map((t, i) => [t, tenth(from + ((to - from) * i) / Math.max(1, sorted.length - 1))]);
}

/** What a viewer sees in a place: 0 is somebody who watches. */
export function sees(place: Pick<Place, "sight" | "owner">, viewer: number): "fronts" | "as they lie" | "how many" {
  if (place.sight === "open") return "as they lie";
  return place.sight === "owner" && place.owner === viewer && viewer > 0 ? "fronts" : "how many";
}

/** Who sees into a place, in a few words. */
export function whoSees(view: View, place: Pick<Place, "sight" | "owner">): string {
  if (place.sight === "open") return "everyone sees cards as they lie";
  if (place.sight === "none") return "nobody sees fronts";
  return `only ${view.seats.find((s) => s.number === place.owner)?.name || `seat ${place.owner ?? "?"}`} sees fronts`;
}
