// What tests lay on a table.
import type { Card, Face, Faces, Place, ToldView, View } from "../api/client";

/** A card of weather: face up where it has a name. */
export const card = (handle: string, name = "", deck = "weather"): Card => ({
  handle,
  side: name ? "front" : "back",
  face: { deck, side: name ? "front" : "back", name, picture: `picture-of-${handle}` },
});

/** A pile, unless it is said otherwise, with as many cards as it shows. */
export const place = (change: Partial<Place> & { id: string }): Place => ({
  name: change.id,
  kind: "pile",
  sight: "open",
  x: 10,
  y: 10,
  wide: 10,
  high: 10,
  count: change.cards?.length ?? 0,
  ...change,
});

/** A view as the service tells it. */
export function toldOf({ places, ...view }: View): ToldView {
  const faces: Faces = {};
  const word = (face: Face) => {
    const known = Object.entries(faces).find(([, other]) => JSON.stringify(other) === JSON.stringify(face));
    const name = known?.[0] ?? `face${Object.keys(faces).length}`;
    faces[name] = face;
    return name;
  };
  return {
    ...view,
    places: places.map((p) => ({
      ...p,
      cards: p.cards?.map(({ face, ...card }) => ({ ...card, face: word(face) })),
      veils: p.veils?.map(({ face, count }) => ({ face: word(face), count })),
    })),
    faces,
  };
}

/** Ada's view of a table on which nothing lies yet; Bo sits there, too. */
export const viewOf = (change: Partial<View>): View => ({
  you: 1,
  settings: { name: "Test", wide: 900, high: 600, host: 1 },
  marker: {},
  asks: [],
  pieces: [],
  places: [],
  decks: [{ key: "weather", name: "weather", outline: "rounded", wide: 88, high: 63 }],
  seats: [
    { number: 1, name: "Ada", colour: "#111111" },
    { number: 2, name: "Bo", colour: "#222222" },
    { number: 3, colour: "#333333" },
  ],
  ...change,
});
