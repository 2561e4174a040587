import { describe, expect, it } from "vitest";
import type { View } from "../api/client";
import { cellName, distance, hexLines, readCell } from "../room/cells";
import { lastPlayed } from "./lastPlayed";
import { howFar } from "./measuring";
import { outlineOf } from "./outline";

const far = (shape: string, a: string, b: string) => {
  const [from, to] = [readCell(a), readCell(b)];
  return from && to ? distance({ shape, columns: 40, rows: 40 }, from, to) : -1;
};

describe("cells", () => {
  it("of a hex grid are outlined with their slopes", () => {
    const path = hexLines({ shape: "hex", columns: 2, rows: 2 });
    expect(path.match(/M/g)).toHaveLength(4);
    expect(path.startsWith("M142.9 0L428.6 0L571.4 200L428.6 400L142.9 400L0 200Z")).toBe(true);
  });

  it("are named and read past Z", () => {
    for (const name of ["A1", "Z9", "AA10", "AB2"]) {
      const cell = readCell(name);
      expect(cell && cellName(cell)).toBe(name);
    }
    expect(readCell("3B")).toBeNull();
  });
  it("are as far apart as their grid says", () => {
    expect([
      far("square", "A1", "C2"),
      far("square4", "A1", "C2"),
      far("hex", "A1", "C2"),
      far("hex", "A1", "B1"),
      far("hex", "B1", "C1"),
      far("hex", "A1", "B3"),
    ]).toEqual([2, 3, 2, 1, 1, 3]);
  });
});

describe("measuring", () => {
  const view = { places: [{ id: "marsh", grid: { shape: "hex", columns: 7, rows: 4 } }] } as unknown as View;
  it("counts steps on one grid, and millimetres else", () => {
    expect(howFar(view, { x: 0, y: 0, cell: "marsh/A1" }, { x: 90, y: 0, cell: "marsh/B1" })).toBe("A1 to B1: 1 step");
    expect(howFar(view, { x: 0, y: 0, cell: "marsh/A1" }, { x: 30, y: 40, cell: null })).toBe("50 mm");
  });
});

describe("the outline of a picture", () => {
  it("goes round what is opaque", () => {
    expect(outlineOf(() => 255, 40, 40)).toBeUndefined();
    const polygon = outlineOf((x, y) => (x >= 10 && x < 30 && y >= 20 ? 255 : 0), 40, 40) ?? "";
    expect(polygon.startsWith("polygon(25% ")).toBe(true);
    expect(polygon).toContain("75% 100%");
    expect(polygon).not.toContain(" 0%,");
    expect(outlineOf(() => 0, 40, 40)).toBeUndefined();
  });
});

describe("the last card played", () => {
  const line = (text: string, place?: string, seat = 2) => ({
    number: 1,
    at: 0,
    seat,
    who: "Bo",
    do: text.split(" ")[0] ?? "",
    text,
    place,
  });
  it("is the last step that put a card somewhere", () => {
    expect(lastPlayed([line("move 1 of my hand to sky", "sky"), line("shuffle weather", "weather")])).toEqual({ place: "sky", seat: 2 });
    expect(lastPlayed([line("shuffle weather", "weather")])).toBeNull();
    expect(lastPlayed([line("move 1 of my hand to sky", "sky"), line("gather weather", "weather")])).toBeNull();
  });
});
