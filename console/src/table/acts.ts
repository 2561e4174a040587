// What can be done with what is chosen. Each act has a key; how many it takes is
// typed as a digit or set in the bar.
import type { Action, Place, View } from "../api/client";
import { find, myHand, nameOf, type Chosen } from "./chosen";
import { keyOf, type ActName } from "./keymap";

export interface Act {
  /** What it is; several of one kind differ by where to. */
  name: ActName;
  /** Its key; empty for all of a kind but the first. */
  key: string;
  label: string;
  action: Action;
}

export function actsFor(view: View, chosen: Chosen, count = 1): Act[] {
  const place = view.places.find((p) => p.id === chosen.place);
  const acts = place ? pileActs(view, place, Math.max(1, Math.min(count, place.count || 1))) : cardActs(view, chosen);
  const first = (act: Offered, at: number) => acts.findIndex((other) => other.name === act.name) === at;
  return acts.map((act, at) => ({ ...act, key: first(act, at) ? keyOf(act.name) : "" }));
}

type Offered = Omit<Act, "key">;

/** How many a pile's acts can take. */
export const mostOf = (place: Place) => Math.max(1, place.count);

function pileActs(view: View, place: Place, n: number): Offered[] {
  if (view.you === 0) return [];
  const hand = myHand(view);
  const seated = view.seats.filter((s) => s.name).length;
  const top = place.cards?.[place.cards.length - 1];
  const acts: Offered[] = [];
  if (hand) acts.push({ name: "draw", label: `Draw ${n}`, action: { do: "draw", from: place.id, count: n } });
  if (seated > 1)
    acts.push({ name: "deal", label: `Deal ${n} to each`, action: { do: "deal", from: place.id, shares: [{ who: "every", count: n }] } });
  if (hand) {
    acts.push({ name: "fill", label: `Fill my hand to ${n}`, action: { do: "top-up", from: place.id, to: n } });
    if (seated > 1)
      acts.push({ name: "fillAll", label: `Fill every hand to ${n}`, action: { do: "top-up", from: place.id, to: n, every: true } });
  }
  acts.push({ name: "shuffle", label: "Shuffle", action: { do: "shuffle", place: place.id } });
  acts.push({ name: "flip", label: "Flip top", action: { do: "flip", from: place.id } });
  acts.push({ name: "turnOver", label: "Turn over", action: { do: "flip", from: place.id, which: "all" } });
  acts.push({ name: "rotate", label: "Rotate top", action: { do: "rotate", from: place.id } });
  if (view.you > 0) {
    acts.push({ name: "peek", label: `Peek at ${n}`, action: { do: "peek", place: place.id, count: n } });
    acts.push({ name: "cut", label: "Cut", action: { do: "cut", place: place.id } });
    acts.push({ name: "sort", label: "Sort by name", action: { do: "sort", place: place.id, by: "name" } });
  }
  for (const row of view.places.filter((p) => ((p.kind === "row" && !p.owner) || p.kind === "grid") && p.id !== place.id).slice(0, 3)) {
    acts.push({
      name: "spread",
      label: `Spread ${n} over ${nameOf(view, row)}`,
      action: { do: "spread", from: place.id, count: n, over: row.id },
    });
  }
  const pile = view.places.find(
    (p) => p.kind === "pile" && p.id !== place.id && p.sight === "open" && p.cards?.at(-1)?.face.deck === top?.face.deck && !!top,
  );
  if (pile) acts.push({ name: "onto", label: `Shuffle into ${pile.name}`, action: { do: "shuffle-in", from: place.id, into: pile.id } });
  if (top)
    acts.push({
      name: "gather",
      label: `Gather all ${top.face.deck} and shuffle`,
      action: { do: "gather", deck: top.face.deck, shuffle: true },
    });
  return acts;
}

function cardActs(view: View, chosen: Chosen): Offered[] {
  const hand = myHand(view);
  const held = chosen.handles.map((handle) => find(view, handle)).filter((found) => found !== null);
  if (held.length === 0) return [];
  const cards = held.map((found) => found.card.handle);
  const mine = hand && held.every((found) => found.place.id === hand.id);
  const acts: Offered[] = [
    { name: "flip", label: "Flip", action: { do: "flip", cards } },
    { name: "rotate", label: "Rotate", action: { do: "rotate", cards } },
  ];
  if (mine) {
    acts.push({ name: "show", label: "Show to everyone", action: { do: "show", cards } });
    acts.push({ name: "showBriefly", label: "Show for 20 seconds", action: { do: "show", cards, seconds: 20 } });
    acts.push({ name: "hide", label: "Hide again", action: { do: "show", cards, hide: true } });
    acts.push({ name: "sort", label: "Sort my hand", action: { do: "sort", place: hand.id, by: "name" } });
  }
  if (hand && held.some((found) => found.place.id !== hand.id)) {
    acts.push({ name: "toHand", label: "To my hand", action: { do: "move", cards, to: { place: hand.id } } });
  }
  if (mine) {
    const home = view.places.find((p) => p.kind === "pile" && p.count > 0 && p.cards?.at(-1)?.face.deck === held[0]?.card.face.deck);
    const away = view.places.find(
      (p) =>
        p.kind === "pile" &&
        p.id !== home?.id &&
        p.sight === "open" &&
        (p.count === 0 || p.cards?.at(-1)?.face.deck === held[0]?.card.face.deck),
    );
    if (home && away)
      acts.push({
        name: "exchange",
        label: `Exchange: onto ${away.name}, as many from ${home.name}`,
        action: { do: "exchange", cards, away: away.id, draw: home.id },
      });
  }
  const [one, other] = cards;
  if (one && other && cards.length === 2)
    acts.push({ name: "swap", label: "Let them change places", action: { do: "swap", cards: [one, other] } });
  const [first] = held;
  if (first && held.length === 1 && (first.place.kind === "row" || mine)) {
    const step = (by: number) => ({ do: "move" as const, cards, to: { place: first.place.id, index: first.index + by } });
    if (first.index > 0) acts.push({ name: "left", label: "To the left", action: step(-1) });
    if (first.index < first.place.count - 1) acts.push({ name: "right", label: "To the right", action: step(1) });
  }
  const mat = held.find((found) => found.place.kind === "loose" || found.place.kind === "cell" || found.place.kind === "row");
  if (mat && held.length > 1 && !mine)
    acts.push({ name: "together", label: "Put together", action: { do: "move", cards, to: { x: mat.place.x, y: mat.place.y } } });
  const decks = new Set(held.map((found) => found.card.face.deck));
  const piles = view.places.filter((p) => p.kind === "pile" && held.every((found) => found.place.id !== p.id));
  const likely = (p: Place) => (p.cards?.some((c) => decks.has(c.face.deck)) ? 0 : p.count === 0 ? 1 : 2); // piles of the same deck first, then empty ones
  for (const home of [...piles].sort((a, b) => likely(a) - likely(b)).slice(0, 4)) {
    acts.push({ name: "onto", label: `Onto ${home.name}`, action: { do: "move", cards, to: { place: home.id } } });
  }
  if (mine) {
    for (const other of view.places.filter((p) => p.kind === "hand" && p.owner && p.owner !== view.you && view.seats[p.owner - 1]?.name)) {
      acts.push({
        name: "give",
        label: `Give to ${view.seats[(other.owner ?? 1) - 1]?.name ?? ""}`,
        action: { do: "move", cards, to: { place: other.id } },
      });
    }
  }
  return acts;
}
