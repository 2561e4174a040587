// What the console computes as the core does is compared with what the core computed.
import { describe, expect, it } from "vitest";
import { cellBox as sheetBox } from "../bench/grid";
import { freeKey } from "../bench/keys";
import { quoted, ways } from "../table/complete";
import { cellBox, cellName, cellPlace, distance, readCell } from "../room/cells";
import { bare, fold } from "../../client/src/fold";
import type { Message, Place } from "./client";
import vectors from "./vectors.gen.json";

type Grid = NonNullable<Place["grid"]>;
const gridOf = (of: { shape: string; columns: number; rows: number }): Grid => ({ ...of, shape: of.shape as Grid["shape"] });

describe("the cells of a grid on the table", () => {
  it("are called as the core calls them", () => {
    for (const { column, row, name } of vectors.cells) {
      expect(cellName({ column, row })).toBe(name);
      expect(readCell(name)).toEqual({ column, row });
    }
  });

  it("lie where the core lays them", () => {
    for (const { grid, column, row, middle } of vectors.cells) {
      const box = cellBox(gridOf(grid), { column, row });
      expect(box.left + box.wide / 2).toBeCloseTo(middle[0] ?? -1, 9);
      expect(box.top + box.high / 2).toBeCloseTo(middle[1] ?? -1, 9);
    }
  });

  it("are as far apart as the core says", () => {
    expect(vectors.distances.length).toBeGreaterThan(50);
    for (const { grid, from, to, steps } of vectors.distances) {
      const [a, b] = [readCell(from), readCell(to)];
      expect(a && b && distance(gridOf(grid), a, b), `${from} to ${to} of ${JSON.stringify(grid)}`).toBe(steps);
    }
  });

  it("turn with their grid", () => {
    const place: Place = {
      id: "g",
      name: "g",
      kind: "grid",
      sight: "open",
      x: 100,
      y: 50,
      wide: 60,
      high: 40,
      turn: 90,
      count: 0,
      grid: { shape: "square", columns: 3, rows: 2 },
    };
    const cell = cellPlace(place, { column: 2, row: 0 });
    expect(cell?.id).toBe("g/C1");
    expect(cell?.x).toBeCloseTo(110, 6);
    expect(cell?.y).toBeCloseTo(70, 6);
    expect(cellPlace({ ...place, grid: undefined }, { column: 0, row: 0 })).toBeNull();
  });
});

describe("a name in a step", () => {
  it("stands in quotes where the core quotes it", () => {
    for (const { name, quoted: asTheCore } of vectors.names) expect(quoted(name)).toBe(asTheCore);
  });
});

describe("the cells of a sheet", () => {
  it("are cut where the core cuts them", () => {
    for (const { grid, size, cell, box } of vectors.sheets) {
      expect(sheetBox(grid, [size[0] ?? 0, size[1] ?? 0], cell), JSON.stringify({ grid, size, cell })).toEqual(box);
    }
  });
});

describe("a key made of a name", () => {
  it("is the one that the core makes", () => {
    expect(vectors.keys.length).toBeGreaterThan(30);
    for (const { name, taken, key } of vectors.keys)
      expect(freeKey(name, "cards", Object.fromEntries(taken.map((t) => [t, true]))), name).toBe(key);
  });
});

describe("a line of Steps", () => {
  it("goes on as the core says", () => {
    for (const { line, ways: are } of vectors.written) expect([line, ways(line, vectors.known)]).toEqual([line, are]);
  });
});

describe("what is told of a game", () => {
  it("comes to the view that the core has", () => {
    for (const { viewer, first, changes, view } of vectors.folds) {
      const told = [
        { type: "view", gate: "g", told: 0, view: first },
        ...changes.map((c) => ({ type: "changes", ...c })),
      ] as unknown as Message[];
      const anew = { type: "view", gate: "g", told: 0, view } as unknown as Message;
      expect(changes.length).toBeGreaterThan(8);
      expect([viewer, told.reduce(fold, bare).view]).toEqual([viewer, fold(bare, anew).view]);
    }
  });
});
