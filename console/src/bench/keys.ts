// Keys of sheets, decks and layouts, made of names as the core makes them (core/deck, FreeKey).
import { latin } from "../api/tables.gen";

const longest = 40;

/** A key made of a name, "Über Öl" gives "ueber-oel"; another one where nothing is left of it. */
function keyFrom(name: string, instead: string): string {
  let text = name.normalize("NFC").toLowerCase().normalize("NFC");
  for (const [letter, plain] of latin) text = text.replaceAll(letter, plain);
  const made = text
    .normalize("NFD")
    .replace(/\p{Mn}/gu, "")
    .replace(/[^a-z0-9]+/g, "-")
    .replace(/^-/, "");
  return made.slice(0, longest).replace(/-+$/, "") || instead;
}

/** A key made of a name that is not taken: letters, letters-2. YAML takes null for none. */
export function freeKey(name: string, instead: string, taken: Record<string, unknown> | undefined): string {
  const like = keyFrom(name, instead);
  let key = like;
  for (let n = 2; key === "null" || (taken && key in taken); n++) {
    const number = `-${n}`;
    key = like.slice(0, longest - number.length).replace(/-+$/, "") + number;
  }
  return key;
}
