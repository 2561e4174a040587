// The one source of state at a table: the view, and the changes folded into it.
import type { LogLine, Message, View } from "../api/client";

export interface TableState {
  view: View | null;
  log: LogLine[];
  here: number[];
  watching: number;
  /** What others are dragging, by their seat. */
  grips: Record<number, string[]>;
  /** Where others' pointers are, in millimetres of the table, by their seat. */
  points: Record<number, { x: number; y: number }>;
  gate: string;
  /** How many changes this viewer was told in the life of the room that gate names. */
  told: number;
}

export const bare: TableState = { view: null, log: [], here: [], watching: 0, grips: {}, points: {}, gate: "", told: 0 };

/** How many lines of the log are kept. */
const logLength = 300;

/** The state after a message. Messages that change nothing return the same state. */
export function fold(state: TableState, message: Message): TableState {
  switch (message.type) {
    case "view":
      return {
        ...state,
        view: message.view ?? null,
        log: message.log ?? [],
        gate: message.gate ?? "",
        told: message.told ?? 0,
      };
    case "changes":
      return foldChanges(state, message);
    case "grip":
      return { ...state, grips: { ...state.grips, [message.seat ?? 0]: message.cards ?? [] } };
    case "point":
      return { ...state, points: pointed(state.points, message) };
    case "here":
      return { ...state, here: message.here ?? [], watching: message.watching ?? 0 };
    default:
      return state;
  }
}

function pointed(points: TableState["points"], { seat = 0, x = 0, y = 0, away }: Message): TableState["points"] {
  if (!away) return { ...points, [seat]: { x, y } };
  return Object.fromEntries(Object.entries(points).filter(([other]) => Number(other) !== seat));
}

function foldChanges(state: TableState, message: Message): TableState {
  if (!state.view) return state;
  const view: View = {
    ...state.view,
    seats: message.seats ?? state.view.seats,
    decks: message.decks ?? state.view.decks,
    settings: message.settings ?? state.view.settings,
    marker: message.marker ?? state.view.marker,
    asks: message.asks ?? state.view.asks,
    pieces: foldById(state.view.pieces, message.pieces ?? [], message.off ?? []),
    places: foldById(state.view.places, message.places ?? [], message.gone ?? []),
  };
  return {
    ...state,
    view,
    log: message.log ? [...state.log, ...message.log].slice(-logLength) : state.log,
    told: state.told + 1,
  };
}

/** Changed things take the old one's position in the list, new ones come last. */
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
  return [...kept, ...byId.values()];
}
