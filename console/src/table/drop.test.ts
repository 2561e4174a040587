import { describe, expect, it } from "vitest";
import { card, place, viewOf } from "../testing/samples";
import { actsFor } from "./acts";
import { chooseCard, choosePlace, nothing, stillThere } from "./chosen";
import { dropOn, indexAt } from "./drop";
import { held, whole, zoomedAt, type Sizes } from "./viewport";

const view = viewOf({
  decks: [],
  places: [
    place({ id: "moorings", kind: "grid", grid: { shape: "square", columns: 6, rows: 4 } }),
    place({ id: "weather", cards: [card("w")], count: 5 }),
    place({ id: "sky", kind: "row", cards: [card("a"), card("b")] }),
    place({ id: "satchel/1", name: "satchel", kind: "hand", sight: "owner", owner: 1, cards: [card("h")] }),
    place({ id: "satchel/2", name: "satchel", kind: "hand", sight: "owner", owner: 2, count: 3 }),
    place({ id: "outbox" }),
  ],
});
const dragged = { handles: ["h"], from: "satchel/1" };

describe("dropOn", () => {
  it("puts a card underneath at the lower end of a pile, and swaps with Shift", () => {
    expect(dropOn(view, dragged, { place: "weather", index: 0, low: true })).toMatchObject({
      hint: "underneath weather",
      under: true,
      action: { to: { place: "weather", under: true } },
    });
    expect(dropOn(view, dragged, { place: "outbox", index: 0, low: true })?.hint).toBe("onto outbox"); // nothing lies there
    expect(dropOn(view, dragged, { place: "sky", index: 1, card: "b" }, true)?.action).toEqual({ do: "swap", cards: ["h", "b"] });
  });

  it("changes the order of a look, the topmost first", () => {
    const looked = {
      ...view,
      places: [place({ id: "weather", looker: 1, looks: 3, cards: [card("low"), card("mid"), card("top")], count: 9 })],
    };
    expect(dropOn(looked, { handles: ["low"], from: "weather" }, { tray: "weather", index: 0 })?.action).toEqual({
      do: "reorder",
      place: "weather",
      top: ["mid", "top", "low"],
    });
    expect(dropOn(looked, dragged, { tray: "weather", index: 0 })).toBeNull();
  });

  it("says what letting go would do", () => {
    expect(dropOn(view, dragged, { place: "weather", index: 0 })?.hint).toBe("on top of weather");
    expect(dropOn(view, dragged, { place: "outbox", index: 0 })?.hint).toBe("onto outbox");
    expect(dropOn(view, dragged, { place: "sky", index: 1 })?.hint).toBe("into sky, between these");
    expect(dropOn(view, dragged, { place: "satchel/2", index: 2 })?.hint).toBe("into satchel of Bo");
    expect(dropOn(view, dragged, { x: 10.4, y: 20.6 })).toEqual({
      action: { do: "move", cards: ["h"], to: { x: 10, y: 21 } },
      hint: "onto the felt",
    });
  });

  it("finds the cells of a grid, though no card lies there yet", () => {
    expect(dropOn(view, dragged, { place: "moorings/B3", index: 0 })).toMatchObject({
      hint: "onto moorings B3",
      action: { to: { place: "moorings/B3" } },
    });
    expect(dropOn(view, dragged, { place: "moorings", index: 0 })).toBeNull();
  });

  it("names an index only where one sees the order", () => {
    expect(dropOn(view, dragged, { place: "sky", index: 1 })?.action).toMatchObject({ to: { place: "sky", index: 1 } });
    expect(dropOn(view, dragged, { place: "satchel/2", index: 1 })?.action).toMatchObject({ to: { place: "satchel/2" } });
  });

  it("springs back from nowhere, from a place that is gone, and onto the pile it came from", () => {
    expect(dropOn(view, dragged, null)).toBeNull();
    expect(dropOn(view, dragged, { place: "felt/9", index: 0 })).toBeNull();
    expect(dropOn(view, { handles: ["w"], from: "weather" }, { place: "weather", index: 0 })).toBeNull();
  });

  it("takes the top of a pile that shows no handles", () => {
    expect(dropOn(view, { handles: [], from: "vault" }, { place: "sky", index: 0 })?.action).toMatchObject({ from: "vault" });
  });
});

describe("indexAt", () => {
  it("counts the cards left of the pointer", () => {
    expect([5, 15, 25, 35].map((x) => indexAt(x, [10, 20, 30]))).toEqual([0, 1, 2, 3]);
  });
});

describe("choosing", () => {
  it("chooses one, or more with a modifier, and lets go again", () => {
    const one = chooseCard(nothing, "a", false);
    expect(chooseCard(one, "b", true).handles).toEqual(["a", "b"]);
    expect(chooseCard(one, "b", false).handles).toEqual(["b"]);
    expect(chooseCard(one, "a", false).handles).toEqual([]);
    expect(choosePlace(choosePlace(nothing, "weather"), "weather")).toEqual(nothing);
  });

  it("forgets what is not before one's eyes any more", () => {
    expect(stillThere({ handles: ["a", "gone"], place: null }, view)).toEqual({ handles: ["a"], place: null });
    expect(stillThere({ handles: [], place: "outbox" }, view)).toEqual(nothing);
  });
});

describe("looking at the table", () => {
  const sizes: Sizes = { frame: [900, 500], table: [900, 450] };
  it("keeps the point under the pointer where it is", () => {
    const once = zoomedAt(whole, 2, [100, -50], sizes);
    expect(once.zoom).toBe(2);
    expect((100 - once.x) / once.zoom).toBeCloseTo(100);
    expect(zoomedAt(once, 0.01, [100, -50], sizes)).toEqual({ zoom: 1, x: 0, y: 25 - 25 });
  });
  it("does not let the table go out of its frame", () => {
    expect(held({ zoom: 1, x: 400, y: -400 }, sizes)).toEqual({ zoom: 1, x: 0, y: -0 });
    expect(held({ zoom: 2, x: 4000, y: 0 }, sizes).x).toBe(510);
  });
});

describe("actsFor", () => {
  it("offers what fits the chosen, each with a key of its own", () => {
    const pile = actsFor(view, { handles: [], place: "weather" });
    expect(pile.map((a) => a.label)).toContain("Shuffle");
    const keys = pile.map((a) => a.key).filter((key) => key !== "");
    expect(new Set(keys).size).toBe(keys.length);
    expect(actsFor(view, { handles: ["a"], place: null }).map((a) => a.label)).toEqual([
      "Flip",
      "Rotate",
      "To my hand",
      "To the right",
      "Onto weather",
      "Onto outbox",
    ]);
    expect(actsFor(view, nothing)).toEqual([]);
  });

  it("takes as many as were asked for, and no more than there are", () => {
    const labels = (count: number) => actsFor(view, { handles: [], place: "weather" }, count).map((a) => a.label);
    expect(labels(2)).toContain("Deal 2 to each");
    const most = view.places.find((p) => p.id === "weather")?.count ?? 0;
    expect(labels(99)).toContain(`Draw ${most}`);
  });

  it("exchanges cards of one's hand onto a free pile for as many new ones", () => {
    expect(actsFor(view, { handles: ["h"], place: null }).find((a) => a.key === "j")?.action).toEqual({
      do: "exchange",
      cards: ["h"],
      away: "outbox",
      draw: "weather",
    });
  });

  it("offers nothing to whoever only watches", () => {
    expect(actsFor({ ...view, you: 0 }, { handles: [], place: "weather" })).toEqual([]);
  });
});
