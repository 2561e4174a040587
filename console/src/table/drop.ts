// Where a dragged card would go, and what that is called before letting go.
import type { Action, View } from "../api/client";
import { partsOf } from "../room/cells";
import { cardName } from "./CardFace";
import { nameOf } from "./chosen";

/**
 * What lies under the pointer: a place, of which one may be over the lower end or over a
 * card; the tray of a look; or a spot on the felt in millimetres.
 */
export type Under =
  { place: string; index: number; low?: boolean; card?: string } | { tray: string; index: number } | { x: number; y: number } | null;

/** What is dragged: cards by handle, or the top of a place that shows no handles. */
export interface Dragged {
  handles: string[];
  from: string;
}

export interface Drop {
  action: Action;
  hint: string;
  /** It goes underneath. */
  under?: boolean;
}

/** The action that letting go here would be; null means it springs back. */
export function dropOn(view: View, dragged: Dragged, under: Under, swap = false): Drop | null {
  if (!under) return null;
  const pick = dragged.handles.length > 0 ? { cards: dragged.handles } : { from: dragged.from };
  if ("tray" in under) return dropInTray(view, dragged, under);
  if (!("place" in under)) {
    return { action: { do: "move", ...pick, to: { x: Math.round(under.x), y: Math.round(under.y) } }, hint: "onto the felt" };
  }
  const place = view.places.find((p) => p.id === under.place);
  if (!place) return dropOnCell(view, pick, under.place);
  if (place.kind === "grid") return null;
  const [one] = dragged.handles;
  if (swap && one && under.card && dragged.handles.length === 1) {
    const other = place.cards?.find((c) => c.handle === under.card);
    return { action: { do: "swap", cards: [one, under.card] }, hint: `change places with ${other ? cardName(other) : "this card"}` };
  }
  const stacked = place.kind === "pile" || place.kind === "loose" || place.kind === "cell";
  if (stacked && place.id === dragged.from) return null;
  const name = nameOf(view, place);
  if (stacked) {
    const action: Action = { do: "move", ...pick, to: { place: place.id, ...(under.low && place.count > 0 ? { under: true } : {}) } };
    if (place.count === 0) return { action, hint: `onto ${name}` };
    return under.low ? { action, hint: `underneath ${name}`, under: true } : { action, hint: `on top of ${name}` };
  }
  // Others' hands show no order, so there is nothing to put a card between.
  const inOrder = place.sight === "open" || place.owner === view.you;
  const to = inOrder ? { place: place.id, index: under.index } : { place: place.id };
  const between = inOrder && under.index > 0 && under.index < (place.cards?.length ?? 0);
  return { action: { do: "move", ...pick, to }, hint: between ? `into ${name}, between these` : `into ${name}` };
}

/** Within the tray of a look cards only change their order; the topmost stands first. */
function dropInTray(view: View, dragged: Dragged, { tray, index }: { tray: string; index: number }): Drop | null {
  const place = view.places.find((p) => p.id === tray);
  if (!place || dragged.from !== tray) return null;
  const rest = [...(place.cards ?? [])]
    .reverse()
    .map((c) => c.handle)
    .filter((handle) => !dragged.handles.includes(handle));
  const order = [...rest.slice(0, index), ...dragged.handles, ...rest.slice(index)];
  return { action: { do: "reorder", place: tray, top: order.reverse() }, hint: index === 0 ? "to the top" : "here, as you look" };
}

/** A cell of a grid is there though no card lies on it. */
function dropOnCell(view: View, pick: object, id: string): Drop | null {
  const [of, cell] = partsOf(id);
  const grid = view.places.find((p) => p.id === of && p.kind === "grid");
  if (!grid || !cell) return null;
  return { action: { do: "move", ...pick, to: { place: id } }, hint: `onto ${grid.name} ${cell}` };
}

/** The index a card dropped at x gets among cards whose middles lie at these. */
export function indexAt(x: number, middles: number[]): number {
  return middles.filter((middle) => middle < x).length;
}
