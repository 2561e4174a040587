// The one source of state at a table: the view, and the changes folded into it.
import type { Card, Faces, LogLine, Message, Place, PlaceChange, ToldCard, ToldPlace, ToldView, Veil, View } from "./shapes.js";

export interface TableState {
  view: View | null;
  log: LogLine[];
  here: number[];
  watching: number;
  /** What others are dragging, by their seat. */
  grips: Record<number, string[]>;
  /** Where others' pointers are, in millimetres of the table, by their seat. */
  points: Record<number, { x: number; y: number }>;
  /** What cards show, by the words that the service names it by. Each is told once. */
  faces: Faces;
  gate: string;
  /** How many changes this viewer was told in the life of the room that gate names. */
  told: number;
}

export const bare: TableState = { view: null, log: [], here: [], watching: 0, grips: {}, points: {}, faces: {}, gate: "", told: 0 };

type Changes = Extract<Message, { type: "changes" }>;
type Pointing = Extract<Message, { type: "point" }>;

/** How many lines of the log are kept. */
const logLength = 300;

/** The state after a message. Messages that change nothing return the same state. */
export function fold(state: TableState, message: Message): TableState {
  switch (message.type) {
    case "view":
      return {
        ...state,
        view: viewOf(message.view),
        faces: message.view.faces,
        log: message.log ?? [],
        gate: message.gate,
        told: message.told,
      };
    case "changes":
      return foldChanges(state, message);
    case "grip":
      return { ...state, grips: { ...state.grips, [message.seat]: message.cards ?? [] } };
    case "point":
      return { ...state, points: pointed(state.points, message) };
    case "here":
      return { ...state, here: message.here ?? [], watching: message.watching ?? 0 };
    default:
      return state;
  }
}

function pointed(points: TableState["points"], { seat, x, y, away }: Pointing): TableState["points"] {
  if (!away) return { ...points, [seat]: { x, y } };
  return Object.fromEntries(Object.entries(points).filter(([other]) => Number(other) !== seat));
}

function foldChanges(state: TableState, message: Changes): TableState {
  if (!state.view) return state;
  const faces = message.faces ? { ...state.faces, ...message.faces } : state.faces;
  const view: View = {
    ...state.view,
    seats: message.seats ?? state.view.seats,
    decks: message.decks ?? state.view.decks,
    settings: message.settings ?? state.view.settings,
    marker: message.marker ?? state.view.marker,
    asks: message.asks ?? state.view.asks,
    pieces: foldById(state.view.pieces, message.pieces ?? [], message.off ?? []),
    places: foldPlaces(state.view.places, message.places ?? [], message.gone ?? [], faces),
  };
  return {
    ...state,
    view,
    faces,
    log: message.log ? [...state.log, ...message.log].slice(-logLength) : state.log,
    told: state.told + 1,
  };
}

/** A view with what its cards show. */
function viewOf({ faces, ...view }: ToldView): View {
  return { ...view, places: view.places.map((p) => placeOf(p, faces)) };
}

function placeOf({ cards, veils, ...place }: ToldPlace, faces: Faces): Place {
  return { ...place, cards: cards?.map((c) => cardOf(c, faces)), veils: veilsOf(veils, faces) };
}

function cardOf({ handle, face, side, turn }: ToldCard, faces: Faces): Card {
  return { handle, side, turn, face: faces[face] ?? blank };
}

const veilsOf = (veils: { face: string; count: number }[] | undefined, faces: Faces): Veil[] | undefined =>
  veils?.map(({ face, count }) => ({ face: faces[face] ?? blank, count }));

/** Stands where a face was never told, which does not happen. */
const blank: Card["face"] = { deck: "", side: "back", picture: "" };

function foldPlaces(old: Place[], changes: PlaceChange[], gone: string[], faces: Faces): Place[] {
  const before = new Map(old.map((p) => [p.id, p]));
  return foldById(
    old,
    changes.map((c) => foldPlace(before.get(c.id), c, faces)),
    gone,
  );
}

/** Takes out the cards that went or lie otherwise, then puts in those that came or do. */
function foldPlace(before: Place | undefined, { id, laid, anew, went, cards = [], veils, ...holds }: PlaceChange, faces: Faces): Place {
  const how = laid ?? before;
  if (!how) throw new Error(`nothing was told of the place ${id}`);
  const out = new Set([...(went ?? []), ...cards.map((c) => c.handle)]);
  const lying = anew ? [] : (before?.cards ?? []).filter((c) => !out.has(c.handle));
  for (const { at = 0, ...card } of cards) lying.splice(at, 0, cardOf(card, faces));
  const { count, step, looker, looks } = holds;
  return { ...how, id, count, step, looker, looks, cards: lying.length > 0 ? lying : undefined, veils: veilsOf(veils, faces) };
}

/** Changed things take the old one's place, and new ones come where their names say: things are told in the order of their names. */
function foldById<T extends { id: string }>(old: T[], changed: T[], gone: string[]): T[] {
  if (changed.length === 0 && gone.length === 0) return old;
  const byId = new Map(changed.map((thing) => [thing.id, thing]));
  const kept = old
    .filter((thing) => !gone.includes(thing.id))
    .map((thing) => {
      const next = byId.get(thing.id);
      byId.delete(thing.id);
      return next ?? thing;
    });
  for (const thing of byId.values()) {
    const at = kept.findIndex((other) => other.id > thing.id);
    kept.splice(at < 0 ? kept.length : at, 0, thing);
  }
  return kept;
}
