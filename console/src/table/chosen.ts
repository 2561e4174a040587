// What is chosen at the table: cards by their handles, or a whole place.
import type { Card, Place, View } from "../api/client";

export interface Chosen {
  handles: string[];
  place: string | null;
}

export const nothing: Chosen = { handles: [], place: null };

/** Choosing a card alone, or adding it to and taking it from what is chosen. */
export function chooseCard(chosen: Chosen, handle: string, more: boolean): Chosen {
  if (!more) return { handles: chosen.handles.length === 1 && chosen.handles[0] === handle ? [] : [handle], place: null };
  const handles = chosen.handles.includes(handle) ? chosen.handles.filter((h) => h !== handle) : [...chosen.handles, handle];
  return { handles, place: null };
}

export function choosePlace(chosen: Chosen, place: string): Chosen {
  return chosen.place === place ? nothing : { handles: [], place };
}

/** What of the chosen is still before one's eyes. */
export function stillThere(chosen: Chosen, view: View): Chosen {
  const handles = chosen.handles.filter((handle) => find(view, handle));
  const place = view.places.some((p) => p.id === chosen.place && p.count > 0) ? chosen.place : null;
  if (place === chosen.place && handles.length === chosen.handles.length) return chosen;
  return { handles, place };
}

export function find(view: View, handle: string): { place: Place; card: Card; index: number } | null {
  for (const place of view.places) {
    const index = place.cards?.findIndex((card) => card.handle === handle) ?? -1;
    const card = place.cards?.[index];
    if (card) return { place, card, index };
  }
  return null;
}

/** One's own hand: the first place of kind hand that belongs to one's seat. */
export function myHand(view: View): Place | undefined {
  return view.places.find((p) => p.kind === "hand" && p.owner === view.you && view.you > 0);
}

/** What people call a place. */
export function nameOf(view: View, place: Place): string {
  if (place.kind === "loose") return place.count > 1 ? "a pile on the felt" : "a card on the felt";
  if (place.kind === "cell") return place.name;
  if (place.kind === "hand" && place.owner === view.you) return "my hand";
  if (!place.owner) return place.name;
  if (place.owner === view.you) return `my ${place.name}`;
  const owner = view.seats.find((s) => s.number === place.owner);
  return `${place.name} of ${owner?.name || `seat ${place.owner}`}`;
}
