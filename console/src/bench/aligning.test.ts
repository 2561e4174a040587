import { describe, expect, it } from "vitest";
import { aligned } from "./aligning";

const card: [number, number] = [500, 700];

describe("a box that is dragged", () => {
  it("falls into line with the card's edges and middle", () => {
    expect(aligned([4, 300, 100, 100], false, [], card, 6)).toEqual({ at: [0, 300, 100, 100], across: [0], down: [350] });
    expect(aligned([203, 300, 100, 50], false, [], card, 6)).toEqual({ at: [200, 300, 100, 50], across: [250], down: [350] });
    expect(aligned([395, 20, 100, 50], false, [], card, 6).at).toEqual([400, 20, 100, 50]);
  });

  it("falls into line with other boxes, the nearest first", () => {
    const other: [number, number, number, number] = [60, 80, 120, 40];
    expect(aligned([57, 202, 200, 60], false, [other], card, 6)).toEqual({ at: [60, 202, 200, 60], across: [60], down: [] });
    expect(aligned([182, 117, 33, 60], false, [other], card, 6)).toEqual({ at: [180, 120, 33, 60], across: [180], down: [120] });
  });

  it("stays where nothing is near, and its corner alone falls when it is sized", () => {
    expect(aligned([20, 20, 91, 57], false, [], card, 6)).toEqual({ at: [20, 20, 91, 57], across: [], down: [] });
    expect(aligned([3, 300, 494, 100], true, [], card, 6)).toEqual({ at: [3, 300, 497, 100], across: [500], down: [] });
  });
});
