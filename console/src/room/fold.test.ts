import { describe, expect, it } from "vitest";
import type { Message, Place, View } from "../api/client";
import { bare, fold } from "./fold";

const place = (id: string, count: number): Place => ({ id, name: id, kind: "pile", sight: "open", x: 0, y: 0, wide: 1, high: 1, count });
const view: View = {
  you: 1,
  settings: { name: "Test", wide: 900, high: 600 },
  seats: [],
  decks: [],
  places: [place("a", 3), place("b", 1)],
  pieces: [{ id: "day", name: "day", kind: "counter", x: 0, y: 0, value: 1 }],
  marker: {},
  asks: [],
};
const line = (number: number) => ({ number, at: 0, seat: 1, who: "Ada", do: "shuffle", text: "shuffle a" });
const seen = fold(bare, { type: "view", gate: "g", told: 4, view, log: [line(1)] });

describe("fold", () => {
  it("takes a view whole", () => {
    expect(seen).toMatchObject({ gate: "g", told: 4 });
    expect(seen.view?.places).toHaveLength(2);
  });

  it("replaces changed places where they were, adds new ones and drops gone ones", () => {
    const next = fold(seen, { type: "changes", places: [place("a", 2), place("felt/1", 1)], gone: ["b"], log: [line(2)] });
    expect(next.view?.places.map((p) => [p.id, p.count])).toEqual([
      ["a", 2],
      ["felt/1", 1],
    ]);
    expect(next.log.map((l) => l.number)).toEqual([1, 2]);
    expect(next.told).toBe(5);
  });

  it("leaves the former state as it was", () => {
    fold(seen, { type: "changes", places: [place("a", 0)] });
    expect(seen.view?.places[0]?.count).toBe(3);
  });

  it("keeps what changes do not name", () => {
    const next = fold(seen, { type: "changes" });
    expect(next.view?.places).toBe(seen.view?.places);
    expect(next.view?.seats).toBe(seen.view?.seats);
  });

  it("does not fold changes into nothing", () => {
    expect(fold(bare, { type: "changes" } as Message)).toBe(bare);
  });

  it("folds pieces, the turn marker and asks", () => {
    const next = fold(seen, {
      type: "changes",
      pieces: [{ id: "day", name: "day", kind: "counter", x: 0, y: 0, value: 2 }],
      marker: { seat: 2 },
      asks: [{ id: 1, from: 2, to: 1, place: "a", for: "take", count: 1 }],
    });
    expect(next.view?.pieces[0]?.value).toBe(2);
    expect(next.view?.marker.seat).toBe(2);
    expect(next.view?.asks).toHaveLength(1);
    expect(fold(next, { type: "changes", off: ["day"], asks: [] }).view).toMatchObject({ pieces: [], asks: [] });
  });

  it("notes who is here", () => {
    expect(fold(seen, { type: "here", here: [1, 3], watching: 2 })).toMatchObject({ here: [1, 3], watching: 2 });
    expect(fold(seen, { type: "here" })).toMatchObject({ here: [], watching: 0 });
  });

  it("keeps where others point until they leave the table", () => {
    const at = fold(bare, { type: "point", seat: 2, x: 30, y: 40 });
    expect(at.points).toEqual({ 2: { x: 30, y: 40 } });
    expect(fold(at, { type: "point", seat: 2, away: true }).points).toEqual({});
  });
});
