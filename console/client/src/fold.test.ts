import { describe, expect, it } from "vitest";
import type { Message, Place, View } from "./shapes";
import { card, toldOf } from "../../src/testing/samples";
import { bare, fold } from "./fold";

const place = (id: string, count: number): Place => ({ id, name: id, kind: "pile", sight: "open", x: 0, y: 0, wide: 1, high: 1, count });
const laid = ({ name, kind, sight, x, y, wide, high }: Place) => ({ name, kind, sight, x, y, wide, high });
const newPlace = (id: string, count: number) => ({ id, count, laid: laid(place(id, count)) });
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
const seen = fold(bare, { type: "view", gate: "g", told: 4, view: toldOf(view), log: [line(1)] });

describe("fold", () => {
  it("takes a view whole", () => {
    expect(seen).toMatchObject({ gate: "g", told: 4 });
    expect(seen.view?.places).toHaveLength(2);
  });

  it("replaces changed places where they were, adds new ones and drops gone ones", () => {
    const next = fold(seen, { type: "changes", places: [{ id: "a", count: 2 }, newPlace("felt/1", 1)], gone: ["b"], log: [line(2)] });
    expect(next.view?.places.map((p) => [p.id, p.count])).toEqual([
      ["a", 2],
      ["felt/1", 1],
    ]);
    expect(next.log.map((l) => l.number)).toEqual([1, 2]);
    expect(next.told).toBe(5);
  });

  const row = fold(bare, {
    type: "view",
    gate: "g",
    told: 0,
    view: toldOf({ ...view, places: [{ ...place("a", 3), kind: "row", cards: [card("one", "Fog"), card("two"), card("three")] }] }),
  });
  const names = (state: typeof row) => state.view?.places[0]?.cards?.map((c) => [c.handle, c.face.name]);

  it("takes cards out that went, and puts in those that came, where they lie", () => {
    const faces = { ice: { deck: "weather", side: "front" as const, name: "Ice", picture: "i" } };
    const next = fold(row, {
      type: "changes",
      faces,
      places: [{ id: "a", count: 3, step: 5, went: ["two"], cards: [{ at: 0, handle: "new", face: "ice", side: "front" }] }],
    });
    expect(names(next)).toEqual([
      ["new", "Ice"],
      ["one", "Fog"],
      ["three", ""],
    ]);
    expect(next.view?.places[0]).toMatchObject({ name: "a", count: 3, step: 5 });
    expect(next.view?.places[0]?.cards?.[1], "what did not change is the same").toBe(row.view?.places[0]?.cards?.[0]);
    const turned = fold(next, {
      type: "changes",
      places: [{ id: "a", count: 3, cards: [{ at: 2, handle: "three", face: "ice", side: "front", turn: 90 }] }],
    });
    expect(names(turned)?.[2]).toEqual(["three", "Ice"]);
    expect(turned.view?.places[0]?.cards).toHaveLength(3);
    expect(names(fold(turned, { type: "changes", places: [{ id: "a", count: 0, anew: true }] }))).toBeUndefined();
  });

  it("leaves the former state as it was", () => {
    fold(seen, { type: "changes", places: [{ id: "a", count: 0 }] });
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
    expect(fold(at, { type: "point", seat: 2, x: 0, y: 0, away: true }).points).toEqual({});
  });
});
