// @vitest-environment jsdom
import { cleanup, fireEvent, screen } from "@testing-library/react";
import { afterEach, describe, expect, it } from "vitest";
import type { Piece, Place, View } from "../api/client";
import { leaveTable } from "../parts/ofTable";
import type { TableParts } from "../table/TableContext";
import { place, viewOf } from "../testing/samples";
import { layParts } from "../testing/table";
import { align, mayArrange, mean, sees, snap, startArranging, stopArranging, things, useArranging, whoSees } from "./arranging";
import { Frames } from "./Frames";
import { Inspector } from "./Inspector";
import { Palette } from "./Palette";
import { readSectors, written } from "./PieceFields";

const zone = (change: Partial<Place> & { id: string }): Place => place({ x: 100, y: 100, wide: 60, high: 80, ...change });
const day: Piece = { id: "day", name: "day", kind: "counter", x: 300, y: 200, value: 1, least: 0 };
const wind: Piece = { id: "wind", name: "wind", kind: "die", x: 500, y: 200, sectors: [{ name: "north" }, { name: "lull", weight: 2 }] };
const view: View = viewOf({
  pieces: [day, wind],
  places: [
    zone({ id: "sky", kind: "row" }),
    zone({ id: "satchel/2", name: "satchel", kind: "hand", owner: 2, sight: "owner", x: 250 }),
    zone({ id: "felt/1", kind: "loose", count: 1 }),
  ],
});

const lay = (what: React.ReactNode, change: Partial<TableParts> = {}) => layParts(view, what, change).act;

afterEach(() => {
  cleanup();
  stopArranging();
});

const [sky, satchel] = things(view);

describe("laying things straight", () => {
  it("draws what is near another's line into it, and the rest onto the lattice", () => {
    if (!sky || !satchel) throw new Error("no things");
    expect(snap(sky, { x: 248, y: 333 }, [satchel])).toEqual({ x: 250, y: 335, guides: { x: 250, y: null } });
    expect(snap(sky, { x: 187, y: 333 }, [satchel]).x).toBe(190); // its right edge at the other's left one: 190 + 30
  });

  it("lays several in line with the first", () => {
    const three = things(view).filter((t) => t.id !== "sky");
    expect(align(three, "middle").map((a) => (a.do === "lay-piece" || a.do === "lay-zone" ? a.y : null))).toEqual([100, 100, 100]);
    expect(align(three, "across").map((a) => (a.do === "lay-piece" || a.do === "lay-zone" ? a.x : null))).toEqual([250, 375, 500]);
  });
});

describe("who sees what", () => {
  it("is told for any eyes", () => {
    const own = { sight: "owner", owner: 2 } as const;
    expect([1, 2, 0].map((seat) => sees(own, seat))).toEqual(["how many", "fronts", "how many"]);
    expect(whoSees(view, own)).toBe("only Bo sees fronts");
    expect(whoSees(view, { sight: "none" })).toBe("nobody sees fronts");
  });
  it("goes by the settings who may arrange", () => {
    expect(mayArrange(view)).toBe(true);
    expect(mayArrange({ ...view, you: 2 })).toBe(false);
    expect(mayArrange({ ...view, you: 2, settings: { ...view.settings, arrange: "everyone" } })).toBe(true);
  });
});

it("is over at the next table", () => {
  startArranging();
  useArranging.setState({ as: 2, meant: ["zone:sky"] });
  leaveTable();
  expect(useArranging.getState()).toMatchObject({ on: false, meant: [], as: -1 });
});

describe("frames", () => {
  it("stand for zones and pieces, not for loose cards, and say who sees", () => {
    lay(<Frames />);
    expect(screen.getAllByRole("button").map((e) => e.getAttribute("aria-label"))).toEqual([
      "sky, row, everyone sees cards as they lie",
      "satchel Bo alone, hand, only Bo sees fronts",
      "day, counter",
      "wind, die",
    ]);
  });
  it("are chosen, moved, turned, copied and taken off by key", () => {
    const act = lay(<Frames />);
    const frame = screen.getByRole("button", { name: /^sky/ });
    fireEvent.click(frame);
    expect(useArranging.getState().meant).toEqual(["zone:sky"]);
    for (const key of ["ArrowRight", "r", "c", "f", "Delete"]) fireEvent.keyDown(frame, { key });
    expect(act.mock.calls.map(([a]) => a)).toEqual([
      { do: "lay-zone", zone: "sky", x: 105, y: 100 },
      { do: "lay-zone", zone: "sky", turn: 15 },
      { do: "lay-zone", like: "sky" },
      { do: "lay-zone", zone: "sky", locked: true },
      { do: "take-off", zone: "sky", cards: "felt" },
    ]);
  });
  it("that are locked do not move", () => {
    const act = lay(<Frames />, { view: { ...view, places: [zone({ id: "sky", locked: true })], pieces: [] } });
    fireEvent.keyDown(screen.getByRole("button"), { key: "ArrowRight" });
    expect(act).not.toHaveBeenCalled();
  });
});

describe("the inspector", () => {
  it("lays what was typed when one leaves the field, and not before", () => {
    startArranging();
    mean("zone:sky");
    const act = lay(<Inspector />);
    const name = screen.getByLabelText("name");
    fireEvent.change(name, { target: { value: "west bank" } });
    expect(act).not.toHaveBeenCalled();
    fireEvent.blur(name);
    fireEvent.change(screen.getByLabelText("sight"), { target: { value: "none" } });
    fireEvent.click(screen.getByLabelText(/^locked/));
    expect(act.mock.calls.map(([a]) => a)).toEqual([
      { do: "lay-zone", zone: "sky", name: "west bank" },
      { do: "lay-zone", zone: "sky", sight: "none" },
      { do: "lay-zone", zone: "sky", locked: true },
    ]);
  });
  it("shows a piece by its kind, and the table when nothing is meant", () => {
    mean("piece:day");
    const act = lay(<Inspector />);
    const most = screen.getByLabelText("at most");
    fireEvent.change(most, { target: { value: "30" } });
    fireEvent.blur(most);
    expect(act).toHaveBeenCalledWith({ do: "lay-piece", piece: "day", bounds: { least: 0, most: 30 } });
    cleanup();
    mean();
    lay(<Inspector />);
    expect(screen.getByLabelText("setup")).toBeTruthy();
    expect(screen.getByLabelText("may arrange")).toBeTruthy();
  });
  it("lays several in line, as one action", () => {
    mean("piece:wind", "piece:day");
    const act = lay(<Inspector />);
    fireEvent.click(screen.getByRole("button", { name: "middles across" }));
    expect(act).toHaveBeenCalledWith({
      do: "all",
      actions: [
        { do: "lay-piece", piece: "wind", x: 500, y: 200 },
        { do: "lay-piece", piece: "day", x: 500, y: 200 },
      ],
    });
  });
});

describe("the palette", () => {
  it("lays something new in the middle of what is seen", () => {
    const act = lay(<Palette />);
    fireEvent.click(screen.getByRole("button", { name: "hand" }));
    expect(act).toHaveBeenCalledWith({ do: "lay-zone", kind: "hand", wide: 260, high: 95, x: 450, y: 300, owner: 1, sight: "owner" });
  });
});

describe("a second new thing", () => {
  it("is laid beside the first", () => {
    const laid = { ...view, places: [...view.places, zone({ id: "zone1", x: 450, y: 300 })] };
    const act = lay(<Palette />, { now: () => laid });
    fireEvent.click(screen.getByRole("button", { name: "pile" }));
    expect(act.mock.calls[0]?.[0]).toMatchObject({ kind: "pile", x: 470, y: 320 });
  });
});

describe("faces of a die", () => {
  it("are read as they are written", () => {
    expect(written(wind)).toBe("north\nlull × 2");
    expect(readSectors("north\n\n lull x 2 \n3 × 3")).toEqual([{ name: "north" }, { name: "lull", weight: 2 }, { name: "3", weight: 3 }]);
  });
});
