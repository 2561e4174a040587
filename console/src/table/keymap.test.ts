import { describe, expect, it } from "vitest";
import { card, place, viewOf } from "../testing/samples";
import { actsFor } from "./acts";
import { actKeys, allKeys, keyOf, pageKeys, pressed, written } from "./keymap";

const view = viewOf({
  seats: ["Ada", "Bo", "Cleo"].map((name, i) => ({ number: i + 1, name, colour: "#111111" })),
  places: [
    place({ id: "weather", cards: [card("w", "w")], count: 7 }),
    place({ id: "outbox", cards: [card("o", "o")] }),
    place({ id: "letters" }),
    place({ id: "stamps" }),
    place({ id: "sky", kind: "row", cards: [card("s", "s"), card("t", "t"), card("u", "u")] }),
    place({ id: "pier", kind: "row" }),
    place({ id: "satchel/1", kind: "hand", sight: "owner", owner: 1, cards: [card("h", "h"), card("i", "i"), card("j", "j")] }),
    place({ id: "satchel/2", kind: "hand", sight: "owner", owner: 2 }),
    place({ id: "satchel/3", kind: "hand", sight: "owner", owner: 3 }),
  ],
});
const choices = [
  { handles: [], place: "weather" },
  { handles: [], place: "outbox" },
  { handles: ["s"], place: null },
  { handles: ["t", "u"], place: null },
  { handles: ["h"], place: null },
  { handles: ["i"], place: null },
  { handles: ["h", "i"], place: null },
  { handles: ["h", "s"], place: null },
];

describe("the keyboard", () => {
  it("has a key for every act, whatever is chosen", () => {
    const offered = new Set<string>();
    for (const chosen of choices) {
      for (const act of actsFor(view, chosen)) {
        offered.add(act.name === "give" ? "deal" : act.name);
        const first = actsFor(view, chosen).find((other) => other.name === act.name);
        expect(first?.key, `${act.label} of ${JSON.stringify(chosen)}`).toBe(keyOf(act.name));
      }
    }
    expect([...offered].sort()).toEqual(Object.keys(actKeys).sort()); // and an act for every key
  });

  it("gives no key twice at once", () => {
    for (const chosen of choices) {
      const keys = actsFor(view, chosen)
        .map((act) => act.key)
        .filter((key) => key !== "");
      expect(new Set(keys).size).toBe(keys.length);
      for (const key of keys) expect(pressed(key), key).toBeUndefined();
    }
  });

  it("is the first of several that a key does, and the others are in the menu", () => {
    const onto = actsFor(view, { handles: ["s"], place: null }).filter((act) => act.name === "onto");
    expect(onto.length).toBeGreaterThan(1);
    expect(onto.map((act) => act.key)).toEqual(["l", ...onto.slice(1).map(() => "")]);
    expect(onto[0]?.label).toMatch(/weather|outbox/);
  });

  it("knows what the page does at a key", () => {
    expect(pressed("Escape")).toBe("nothing");
    expect(pressed("7")).toBe("count");
    expect(pressed("q")).toBe("measure");
    expect(pressed("Q")).toBeUndefined();
    expect(pressed("d")).toBeUndefined();
  });

  it("is all on the page of keys, once", () => {
    expect(allKeys).toHaveLength(Object.keys(actKeys).length + Object.keys(pageKeys).length);
    expect(new Set(allKeys.map((row) => row.does)).size).toBe(allKeys.length);
    const shown = allKeys.map(written);
    expect(new Set(shown).size).toBe(shown.length);
    expect(shown).toContain("D");
    expect(shown).toContain("1 to 9");
  });
});
