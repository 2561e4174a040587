// One's own acts show at once: what an action will most likely do to the view, as far
// as the view itself tells. A guess lasts until the service has settled the action, or
// until one of the things it is about changes.
import type { Action, Card, Piece, Place, View } from "../api/client";
import { cellPlace, partsOf, readCell } from "./cells";

/** A thing as it was and as it is guessed to be; without after it is gone, without before it is new. */
interface Guessed<T> {
  before?: T;
  after?: T;
}

export interface Guess {
  places: Guessed<Place>[];
  pieces: Guessed<Piece>[];
  /** Handles of the cards the action is about, to show that they are not settled. */
  cards: string[];
}

const none: Guess = { places: [], pieces: [], cards: [] };

/** What an action will do; nothing for what only the service can tell. */
export function guess(view: View, action: Action): Guess {
  switch (action.do) {
    case "move":
      return guessMove(view, action);
    case "flip":
      return { ...none, cards: action.cards ?? topOf(view, action.from) };
    case "rotate":
      return guessTurn(view, action.cards ?? [], action.steps ?? 1);
    case "draw":
      return guessDraw(view, action.from, action.count ?? 1);
    case "set":
      return guessPiece(view, action.piece, (p) => ({ ...p, value: action.to ?? (p.value ?? 0) + (action.by ?? 0) * (p.step || 1) }));
    case "hand":
      return guessPiece(view, action.piece, (p) => ({ ...p, seat: action.seat }));
    case "move-piece": {
      const { x, y } = action;
      return action.count || x === undefined || y === undefined ? none : guessPiece(view, action.piece, (p) => ({ ...p, x, y }));
    }
    default:
      return none;
  }
}

/** The view with a guess laid over it, or as it is if it has moved on since. */
export function withGuess(view: View, { places, pieces }: Guess): View {
  const [laidPlaces, laidPieces] = [laid(view.places, places), laid(view.pieces, pieces)];
  if (!laidPlaces || !laidPieces) return view;
  return laidPlaces === view.places && laidPieces === view.pieces ? view : { ...view, places: laidPlaces, pieces: laidPieces };
}

/** A list with guessed things in it; null if one of them is not as it was any more. */
function laid<T extends { id: string }>(all: T[], guessed: Guessed<T>[]): T[] | null {
  if (guessed.length === 0) return all;
  if (guessed.some(({ before }) => before && !all.includes(before))) return null;
  const changed = new Map(guessed.map(({ before, after }) => [before ?? null, after]));
  const kept = all.flatMap((thing) => (changed.has(thing) ? (changed.get(thing) ?? []) : thing));
  return [...kept, ...guessed.flatMap(({ before, after }) => (before ? [] : (after ?? [])))];
}

const stacked = (place: Place) => place.kind === "pile" || place.kind === "loose" || place.kind === "cell";

function topOf(view: View, from: string | undefined): string[] {
  const top = view.places.find((p) => p.id === from)?.cards?.at(-1)?.handle;
  return top ? [top] : [];
}

/** A place without some of its cards; a passing place goes with its last one. */
function without(place: Place, handles: string[]): Place | undefined {
  const left = (place.cards ?? []).filter((c) => !handles.includes(c.handle));
  const count = place.count - ((place.cards ?? []).length - left.length);
  if (count <= 0 && (place.kind === "loose" || place.kind === "cell")) return undefined;
  const next: Place = { ...place, count, cards: left };
  const top = place.cards?.at(-1);
  if (stacked(place) && left.length === 0 && count > 0 && top?.face.side === "back") next.veils = [{ face: top.face, count }]; // what lies below is not known yet
  return next;
}

function guessMove(view: View, { cards = [], to }: Extract<Action, { do: "move" }>): Guess {
  const from = view.places.filter((p) => p.cards?.some((c) => cards.includes(c.handle)));
  const moving = cards.flatMap((handle) => from.flatMap((p) => p.cards?.find((c) => c.handle === handle) ?? []));
  const place = view.places.find((p) => p.id === to.place);
  if (moving.length === 0 || moving.length !== cards.length) return none;
  if (!place) {
    const fresh = freshPlace(view, to, moving);
    if (!fresh) return { ...none, cards };
    return {
      ...none,
      cards,
      places: [
        ...from.map((p): Guessed<Place> => ({ before: p, after: without(p, cards) })),
        { after: arrived(view, fresh, moving, undefined, undefined) },
      ],
    };
  }
  const source = from.find((p) => p === place);
  const base = source ? (without(place, cards) ?? { ...place, cards: [], count: 0 }) : place;
  const guessed = from.filter((p) => p !== place).map((p): Guessed<Place> => ({ before: p, after: without(p, cards) }));
  return { ...none, cards, places: [...guessed, { before: place, after: arrived(view, base, moving, to.index, to.under) }] };
}

/** A place that comes with its first card: on the felt, or a free cell of a grid. */
function freshPlace(view: View, { x, y, place }: { x?: number; y?: number; place?: string }, [first]: Card[]): Place | null {
  const deck = view.decks.find((d) => d.key === first?.face.deck);
  if (x !== undefined && y !== undefined)
    return {
      id: "felt/guessed",
      name: "felt",
      kind: "loose",
      sight: "open",
      x,
      y,
      wide: deck?.wide ?? 63,
      high: deck?.high ?? 88,
      count: 0,
    };
  const [of, address] = partsOf(place ?? "");
  const grid = view.places.find((p) => p.id === of && p.kind === "grid");
  const cell = readCell(address ?? "");
  return grid && cell ? cellPlace(grid, cell) : null;
}

/** A place with cards that came in, as far as one sees into it. */
function arrived(view: View, place: Place, cards: Card[], index: number | undefined, under: boolean | undefined): Place {
  const count = place.count + cards.length;
  const seen = place.sight === "open" || (place.sight === "owner" && place.owner === view.you);
  const bottom = under ?? place.arrival?.bottom;
  if (!seen || (stacked(place) && bottom && place.count > 0)) return { ...place, count };
  if (stacked(place)) return { ...place, count, cards: cards.slice(-1), veils: undefined };
  const all = place.cards ?? [];
  const at = index ?? (bottom ? 0 : all.length);
  return {
    ...place,
    count,
    step: place.step || (view.decks.find((d) => d.key === cards[0]?.face.deck)?.wide ?? 63) + 4,
    cards: [...all.slice(0, at), ...cards, ...all.slice(at)],
  };
}

function guessTurn(view: View, cards: string[], steps: number): Guess {
  const by = steps * (view.settings.turn || 90);
  const places = view.places
    .filter((p) => p.cards?.some((c) => cards.includes(c.handle)))
    .map((before) => ({
      before,
      after: {
        ...before,
        cards: before.cards?.map((c) => (cards.includes(c.handle) ? { ...c, turn: ((((c.turn ?? 0) + by) % 360) + 360) % 360 } : c)),
      },
    }));
  return { ...none, places, cards };
}

/** Drawn cards are not seen before they have come: the pile grows smaller at once. */
function guessDraw(view: View, from: string, count: number): Guess {
  const before = view.places.find((p) => p.id === from);
  if (!before || before.count <= count || !stacked(before)) return none;
  return { ...none, places: [{ before, after: { ...before, count: before.count - count } }] };
}

function guessPiece(view: View, id: string, change: (piece: Piece) => Piece): Guess {
  const before = view.pieces.find((p) => p.id === id);
  return before ? { ...none, pieces: [{ before, after: change(before) }] } : none;
}
