import { describe, expect, it } from "vitest";
import type { View } from "../api/client";
import { card, place, viewOf } from "../testing/samples";
import { guess, withGuess } from "./guess";

const view = viewOf({
  seats: [],
  pieces: [{ id: "day", name: "day", kind: "counter", x: 0, y: 0, value: 3, step: 2 }],
  places: [
    place({ id: "weather", cards: [card("w")], count: 7 }),
    place({ id: "sky", kind: "row", cards: [card("a"), card("b")] }),
    place({ id: "felt/1", kind: "loose", cards: [card("l")] }),
    place({ id: "satchel/1", kind: "hand", sight: "owner", owner: 1, cards: [card("h")] }),
    place({ id: "satchel/2", kind: "hand", sight: "owner", owner: 2, count: 3 }),
  ],
});
const after = (action: Parameters<typeof guess>[1]) => {
  const next = withGuess(view, guess(view, action));
  return { counts: Object.fromEntries(next.places.map((p) => [p.id, p.count])), next };
};
const handles = (v: View, id: string) => v.places.find((p) => p.id === id)?.cards?.map((c) => c.handle);

describe("guessing what one's own act does", () => {
  it("moves cards between places, and takes an empty felt place away", () => {
    const { counts, next } = after({ do: "move", cards: ["l", "w"], to: { place: "sky", index: 1 } });
    expect(counts).toEqual({ weather: 6, sky: 4, "satchel/1": 1, "satchel/2": 3 });
    expect(handles(next, "sky")).toEqual(["a", "l", "w", "b"]);
    expect(handles(next, "weather")).toEqual([]);
  });

  it("changes the order within a row", () => {
    expect(handles(after({ do: "move", cards: ["a"], to: { place: "sky", index: 1 } }).next, "sky")).toEqual(["b", "a"]);
  });

  it("lays a card on a spot of the felt, and on a free cell where the service will", () => {
    expect(after({ do: "move", cards: ["a"], to: { x: 30, y: 40 } }).next.places.at(-1)).toMatchObject({
      kind: "loose",
      x: 30,
      y: 40,
      wide: 88,
      count: 1,
    });
    const marsh = place({
      id: "marsh",
      kind: "grid",
      x: 450,
      y: 300,
      wide: 400,
      high: 300,
      turn: 90,
      grid: { shape: "square", columns: 4, rows: 3 },
    });
    const cell = withGuess(
      { ...view, places: [...view.places, marsh] },
      guess({ ...view, places: [...view.places, marsh] }, { do: "move", cards: ["a"], to: { place: "marsh/D3" } }),
    ).places.at(-1);
    expect([cell?.id, Math.round(cell?.x ?? 0), Math.round(cell?.y ?? 0), cell?.wide]).toEqual(["marsh/D3", 350, 450, 100]); // as core/table lays it
  });

  it("shows nothing of what comes into another's hand, or underneath", () => {
    const { next, counts } = after({ do: "move", cards: ["h"], to: { place: "satchel/2" } });
    expect(counts["satchel/2"]).toBe(4);
    expect(handles(next, "satchel/2")).toBeUndefined();
    expect(handles(after({ do: "move", cards: ["h"], to: { place: "weather", under: true } }).next, "weather")).toEqual(["w"]);
  });

  it("draws by number, turns, and counts", () => {
    expect(after({ do: "draw", from: "weather", count: 2 }).counts.weather).toBe(5);
    expect(after({ do: "draw", from: "weather", count: 9 }).next).toBe(view); // a refusal is for the service to say
    expect(after({ do: "rotate", cards: ["a"] }).next.places[1]?.cards?.[0]?.turn).toBe(90);
    expect(after({ do: "set", piece: "day", by: -1 }).next.pieces[0]?.value).toBe(1);
  });

  it("leaves alone what only the service can tell", () => {
    for (const action of [
      { do: "shuffle", place: "weather" },
      { do: "flip", cards: ["a"] },
      { do: "move", cards: ["gone"], to: { place: "sky" } },
    ] as const) {
      expect(withGuess(view, guess(view, action as Parameters<typeof guess>[1]))).toBe(view);
    }
  });

  it("is dropped as soon as one of its things has moved on", () => {
    const guessed = guess(view, { do: "draw", from: "weather", count: 2 });
    const settled: View = { ...view, places: view.places.map((p) => (p.id === "weather" ? { ...p, count: 5 } : p)) };
    expect(withGuess(settled, guessed)).toBe(settled);
  });
});
