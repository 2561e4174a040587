// How a step might go on: its first word is a verb, the others are often names.
import type { View } from "../api/client";
import { keywords, verbs } from "../api/tables.gen";

const between = [
  "from",
  "to",
  "onto",
  "under",
  "of",
  "over",
  "by",
  "at",
  "where",
  "my hand",
  "my",
  "every hand",
  "seat",
  "face up",
  "face down",
  "felt",
  "all of",
  "up to",
  "by chance",
];

/** How many ways to go on are offered. */
const offered = 8;

/** Whole lines that begin with what was typed. */
export function complete(text: string, view: View): string[] {
  const start = text.search(/("[^"]*|\S*)$/);
  const [before, word] = [text.slice(0, start), text.slice(start).replace(/^"/, "").toLowerCase()];
  if (word === "") return [];
  const names = [
    ...view.places.filter((p) => p.kind !== "loose" && p.kind !== "cell").map((p) => p.name),
    ...view.pieces.map((p) => p.name),
    ...view.decks.map((d) => d.name),
    ...view.seats.map((s) => s.name ?? ""),
    ...view.places.flatMap((p) => p.cards ?? []).map((c) => c.face.name ?? ""),
  ];
  const words = before.trim() === "" ? verbs : [...names.filter((n) => n !== "").map(quoted), ...between];
  const fitting = [...new Set(words)].filter((w) => w.replace(/^"/, "").toLowerCase().startsWith(word) && w.toLowerCase() !== word);
  return fitting.slice(0, offered).map((w) => before + w);
}

/** A name as it stands in a step: in quotes where it would be read otherwise. */
export function quoted(name: string): string {
  const bare = name !== "" && !keywords.includes(name.toLowerCase()) && !/^\p{Nd}/u.test(name) && !/[\s,()=≠!<>≤≥"#]/u.test(name);
  return bare ? name : `"${name.replaceAll('"', "'")}"`;
}
