// What can be done with what is chosen. Each act has a key.
import type { Action, View } from "../api/client";
import { find, myHand, type Chosen } from "./chosen";

export interface Act {
  key: string;
  label: string;
  action: Action;
}

export function actsFor(view: View, chosen: Chosen): Act[] {
  const place = view.places.find((p) => p.id === chosen.place);
  const hand = myHand(view);
  if (place) {
    const acts: Act[] = [];
    if (hand) {
      acts.push({ key: "d", label: "Draw 1", action: { do: "draw", from: place.id, count: 1 } });
      if (place.count > 2) acts.push({ key: "3", label: "Draw 3", action: { do: "draw", from: place.id, count: 3 } });
    }
    acts.push({ key: "s", label: "Shuffle", action: { do: "shuffle", place: place.id } });
    acts.push({ key: "f", label: "Flip top", action: { do: "flip", from: place.id } });
    acts.push({ key: "o", label: "Turn over", action: { do: "flip", from: place.id, which: "all" } });
    acts.push({ key: "r", label: "Rotate top", action: { do: "rotate", from: place.id } });
    if (view.you > 0) {
      acts.push({ key: "p", label: "Peek at 3", action: { do: "peek", place: place.id, count: Math.min(3, place.count) } });
      acts.push({ key: "c", label: "Cut", action: { do: "cut", place: place.id } });
      const pile = view.places.find((p) => p.kind === "pile" && p.id !== place.id && p.sight === "open");
      if (pile) acts.push({ key: "", label: `Shuffle into ${pile.name}`, action: { do: "shuffle-in", from: place.id, into: pile.id } });
    }
    return acts;
  }
  const held = chosen.handles.map((handle) => find(view, handle)).filter((found) => found !== null);
  if (held.length === 0) return [];
  const cards = held.map((found) => found.card.handle);
  const acts: Act[] = [
    { key: "f", label: "Flip", action: { do: "flip", cards } },
    { key: "r", label: "Rotate", action: { do: "rotate", cards } },
  ];
  if (hand && held.every((found) => found.place.id === hand.id)) {
    acts.push({ key: "e", label: "Show to everyone", action: { do: "show", cards } });
    acts.push({ key: "", label: "Hide again", action: { do: "show", cards, hide: true } });
  }
  if (hand && held.some((found) => found.place.id !== hand.id)) {
    acts.push({ key: "h", label: "To my hand", action: { do: "move", cards, to: { place: hand.id } } });
  }
  for (const home of view.places.filter((p) => p.kind === "pile" && held.every((found) => found.place.id !== p.id)).slice(0, 3)) {
    acts.push({ key: "", label: `Onto ${home.name}`, action: { do: "move", cards, to: { place: home.id } } });
  }
  return acts;
}
