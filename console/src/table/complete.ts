// How a step might go on, as the core has it (core/steps, complete.go).
import type { View } from "../api/client";
import { goesOn, keywords, verbs } from "../api/tables.gen";

/** How many ways to go on are offered. */
const offered = 8;

/** The names that a line may speak of, as one seat knows them. */
export interface Known {
  own: string[];
  places: string[];
  pieces: { name: string; kind: string }[];
  players: string[];
  others: string[]; // decks, and cards that are seen
}

/** The first whole lines that go on from what was typed; none while no word is begun. */
export function complete(text: string, view: View): string[] {
  if (text === "" || /\s$/.test(text)) return [];
  return ways(text, knownIn(view)).slice(0, offered);
}

function knownIn(view: View): Known {
  const places = view.places.filter((p) => p.kind !== "loose" && p.kind !== "cell");
  const isOwn = (p: View["places"][number]) => view.you > 0 && p.owner === view.you;
  return {
    own: places.filter(isOwn).map((p) => p.name),
    places: places.filter((p) => !isOwn(p)).map((p) => p.name),
    pieces: view.pieces,
    players: view.seats.map((s) => s.name ?? ""),
    others: [...view.decks.map((d) => d.name), ...view.places.flatMap((p) => p.cards ?? []).map((c) => c.face.name ?? "")],
  };
}

/** All whole lines that go on from a line. */
export function ways(line: string, known: Known): string[] {
  const at = line.search(/("[^"]*|\S*)$/);
  const before = line.slice(0, at);
  const begun = line.slice(at).replace(/^"/, "").toLowerCase();
  const words = mayFollow(before.toLowerCase().split(/\s+/).filter(Boolean), known);
  const fitting = words.filter((word) => {
    const name = word.toLowerCase().replace(/^"|"$/g, "");
    return name !== begun.replace(/"$/, "") && name.startsWith(begun);
  });
  return [...new Set(fitting)].map((word) => before + word);
}

function mayFollow(before: string[], known: Known): readonly string[] {
  const last = before.at(-1);
  if (last === undefined) return verbs;
  const kinds = (goesOn.piecesAfter as Record<string, readonly string[]>)[last];
  const pieces = written(known.pieces.filter((p) => !kinds || kinds.includes(p.kind)).map((p) => p.name));
  const own = written(known.own.filter((name) => name !== "hand")); // it is spoken of as "my hand"
  const places = written(known.places);
  if (last === "run") return [...pieces, "setup"];
  if (kinds) return pieces;
  if (last === "my") return [...own, "hand"];
  if ((goesOn.before as readonly string[]).includes(last)) return [...places, "my hand", "my", "every hand", "seat"];
  if (last === "of") return [...written(known.players), ...places, "my hand", "my", "seat"];
  return [...own, ...places, ...pieces, ...written(known.players), ...written(known.others), ...goesOn.between];
}

const written = (names: string[]): string[] => names.filter((n) => n !== "").map(quoted);

/** A name as it stands in a step: in quotes where it would be read otherwise. */
export function quoted(name: string): string {
  const bare = name !== "" && !keywords.includes(name.toLowerCase()) && !/^\p{Nd}/u.test(name) && !/[\s,()=≠!<>≤≥"#]/u.test(name);
  return bare ? name : `"${name.replaceAll('"', "'")}"`;
}
