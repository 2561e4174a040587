import { beforeEach, describe, expect, it, vi } from "vitest";
import { unzipSync } from "fflate";

vi.mock("comlink", () => ({
  wrap: () => ({ put: async () => undefined, drop: async () => undefined, check: async () => ({ mistakes: [], warnings: [], decks: [] }) }),
}));
vi.stubGlobal("Worker", vi.fn());

const { edit, openDraft, putFiles, redo, undo, unzipped, useDraft, zipped } = await import("./draft");
const { cellBox, fits, sameGrid, shown, typed, written } = await import("./grid");
const { problemsOf } = await import("./Problems");

describe("where the cells of a sheet lie", () => {
  it("never drifts and stays within the margins", () => {
    const grid = { columns: 7, rows: 3, margin: 5, gutter: 2 };
    const first = cellBox(grid, [1003, 500], 1);
    for (let cell = 1; cell <= 21; cell++) {
      const [x, y, w, h] = cellBox(grid, [1003, 500], cell);
      expect([w, h]).toEqual(first.slice(2));
      expect(x).toBeGreaterThanOrEqual(5);
      expect(x + w).toBeLessThanOrEqual(998);
      expect(y + h).toBeLessThanOrEqual(495);
    }
    expect(cellBox({ columns: 3, rows: 2 }, [180, 168], 5)).toEqual([60, 84, 60, 84]);
  });
  it("has margins on four sides and gutters both ways, written as short as they can be", () => {
    const grid = { columns: 2, rows: 2, margin: [10, 20, 30, 40], gutter: [6, 4] };
    expect(cellBox(grid, [246, 264], 4)).toEqual([10 + 100 + 6, 20 + 100 + 4, 100, 100]);
    expect([written([0, 0]), written([5, 5]), written([5, 6])]).toEqual([undefined, 5, [5, 6]]);
    expect([shown([5, 5]), shown([5, 6])]).toEqual(["5", "5, 6"]);
    expect([typed("7", 2), typed("7, 8", 2), typed("7, 8, 9", 2), typed("x", 2), typed("-1", 2)]).toEqual([
      [7, 7],
      [7, 8],
      undefined,
      undefined,
      undefined,
    ]);
    expect(sameGrid({ columns: 1, rows: 1, margin: 5 }, { columns: 1, rows: 1, margin: [5, 5, 5, 5], gutter: 0 })).toBe(true);
  });
  it("takes no grid that leaves cells under 8 pixels", () => {
    expect(fits({ columns: 30, rows: 3 }, [200, 100])).toBe(false);
    expect(fits({ columns: 4, rows: 4 }, [200, 100])).toBe(true);
  });
});

describe("the kit on the bench", () => {
  const text = (name: string) => new TextDecoder().decode(useDraft.getState().files[name]);
  beforeEach(async () => {
    await openDraft();
  });
  it("keeps the comments and the order of kit.yaml while it is edited", async () => {
    await putFiles({
      "kit.yaml": new TextEncoder().encode(
        "# mine\nkit: 1\nname: A\nsheets:\n  one: {file: one.png, columns: 4, rows: 4} # as drawn\nseats: 2\n",
      ),
    });
    edit(["sheets", "one", "columns"], 5);
    expect(text("kit.yaml")).toBe("# mine\nkit: 1\nname: A\nsheets:\n  one: { file: one.png, columns: 5, rows: 4 } # as drawn\nseats: 2\n");
    edit(["sheets", "one", "columns"], undefined);
    expect(useDraft.getState().manifest.sheets?.one).toEqual({ file: "one.png", rows: 4 });
    expect(useDraft.getState().changed).toBe(true);
  });
  it("goes back and forth through what was changed, and forgets what was undone once something else is", async () => {
    const name = () => useDraft.getState().manifest.name;
    edit(["name"], "one");
    edit(["name"], "two");
    await putFiles({ "a.png": new Uint8Array([1]) });
    await undo();
    expect(Object.keys(useDraft.getState().files)).toEqual(["kit.yaml"]);
    await undo();
    expect(name()).toBe("one");
    await redo();
    expect(name()).toBe("two");
    edit(["name"], "three");
    await redo();
    expect(name()).toBe("three");
    await undo();
    await undo();
    await undo();
    await undo();
    expect(name()).toBe("My game");
  });
  it("goes back step by step however fast that is asked for; a change that goes on is one step", async () => {
    await openDraft(useDraft.getState().files);
    const name = () => useDraft.getState().manifest.name;
    const began = name();
    edit(["name"], "one");
    edit(["name"], "two", true);
    edit(["name"], "three", true);
    edit(["name"], "four");
    void undo();
    await undo();
    expect(name()).toBe(began);
    void redo();
    await redo();
    expect(name()).toBe("four");
  });
  it("is as it was kept once all is undone, and is not where it was never kept", async () => {
    const { files } = useDraft.getState();
    const changed = () => useDraft.getState().changed;
    await openDraft(files);
    edit(["name"], "one");
    expect(changed()).toBe(true);
    await undo();
    expect(changed()).toBe(false);
    await redo();
    expect(changed()).toBe(true);
    await openDraft(files, null, null);
    edit(["name"], "one");
    await undo();
    expect(changed()).toBe(true);
  });
  it("is the same zip as long as it is the same kit", () => {
    const { files } = useDraft.getState();
    expect(zipped(files)).toEqual(zipped({ ...files }));
    expect(Object.keys(unzipSync(zipped(files)))).toEqual(["kit.yaml"]);
  });
  it("opens a zip with the kit in a folder of its own", async () => {
    const files = { "marsh/kit.yaml": new TextEncoder().encode("kit: 1\nname: B\n"), "marsh/art/a.png": new Uint8Array([1]) };
    await openDraft(unzipped(zipped(files)));
    expect(Object.keys(useDraft.getState().files).sort()).toEqual(["art/a.png", "kit.yaml"]);
    expect(useDraft.getState().manifest.name).toBe("B");
    expect(() => unzipped(zipped({ "a.png": new Uint8Array([1]) }))).toThrow("The zip holds no kit.yaml.");
  });
});

it("lists mistakes before warnings, each with its place", () => {
  const all = problemsOf({
    mistakes: [
      { file: "kit.yaml", path: "decks.d.back", line: 3, text: "no" },
      { file: "", text: "warning: weather.png: looks odd" },
    ],
    warnings: ["letters.csv, row 7: front, box 2: does not fit", "decks.d: stretched"],
    decks: [],
  });
  expect(all.map((t) => [t.mistake, t.file, t.path])).toEqual([
    [true, "kit.yaml", "decks.d.back"],
    [false, "weather.png", undefined],
    [false, "letters.csv", undefined],
    [false, "decks.d", "decks.d"],
  ]);
  expect(all.map((t) => t.text).slice(0, 2)).toEqual(["decks.d.back: no", "weather.png: looks odd"]);
});
