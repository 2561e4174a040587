import { cleanup, fireEvent, screen } from "@testing-library/react";
import { afterEach, describe, expect, it, vi } from "vitest";
import type { Piece, View } from "../api/client";
import { card, place, viewOf } from "../testing/samples";
import { layParts } from "../testing/table";
import { ActBar } from "./ActBar";
import { Asks } from "./Asks";
import { CardMenu } from "./CardMenu";
import { type Chosen } from "./chosen";
import { Enlarged } from "./Enlarged";
import { Hand } from "./Hand";
import { PeekTray } from "./PeekTray";
import { dropPiece, PieceOnMat } from "./PieceOnMat";
import { PlaceOnMat } from "./PlaceOnMat";
import { Pointers } from "./Pointers";
import { complete } from "./complete";
import { seatItems, Seats } from "./Seats";
import type { TableParts } from "./TableContext";

const pile = place({ id: "weather", cards: [card("w")], count: 7 });
const hand = place({
  id: "satchel/1",
  name: "satchel",
  kind: "hand",
  sight: "owner",
  owner: 1,
  cards: [card("h", "Fog"), card("i", "Calm")],
});
const others = place({ id: "satchel/2", name: "satchel", kind: "hand", sight: "owner", owner: 2, count: 3 });
const view: View = viewOf({ marker: { seat: 2 }, places: [pile, hand, others] });
const lay = (parts: React.ReactNode, change: Partial<TableParts> = {}) => layParts(view, parts, change);

afterEach(cleanup);

describe("a pile", () => {
  it("says its name, its count and its top card", () => {
    lay(<PlaceOnMat place={pile} />);
    expect(screen.getByRole("button", { name: "weather, 7 cards, on top weather card, face down" })).toBeTruthy();
  });

  it("is chosen as a whole, by click or key, and does nothing by that", () => {
    const { act, choose } = lay(<PlaceOnMat place={pile} />);
    const top = screen.getByRole("button");
    fireEvent.click(top);
    fireEvent.keyDown(top, { key: "Enter" });
    expect(choose).toHaveBeenCalledTimes(2);
    expect(choose).toHaveBeenCalledWith({ handles: [], place: "weather" });
    expect(act).not.toHaveBeenCalled();
  });

  it("offers its acts in the bar", () => {
    const { act } = lay(<ActBar count={1} onCount={vi.fn()} />, { chosen: { handles: [], place: "weather" } });
    fireEvent.click(screen.getByRole("button", { name: /^Shuffle/ }));
    expect(act).toHaveBeenCalledWith({ do: "shuffle", place: "weather" });
  });
});

describe("a grid", () => {
  it("shows every cell with its address, past Z too", () => {
    lay(<PlaceOnMat place={place({ id: "marsh", kind: "grid", grid: { shape: "hex", columns: 28, rows: 2 } })} />);
    const cells = [...document.querySelectorAll<HTMLElement>("[data-place^='marsh/']")].map((e) => e.dataset.place);
    expect(cells).toHaveLength(56);
    expect(cells).toContain("marsh/A1");
    expect(cells).toContain("marsh/AB2");
  });
});

describe("my hand", () => {
  it("shows fronts with their names, and marks what another seat is holding", () => {
    lay(<Hand place={hand} />, { grips: { 2: ["i"] } });
    expect(screen.getByRole("button", { name: "Fog" }).className).not.toContain("gripped");
    expect(screen.getByRole("button", { name: "Calm" }).title).toBe("Bo is holding this");
  });

  it("chooses several with a modifier", () => {
    const { choose } = lay(<Hand place={hand} />, { chosen: { handles: ["h"], place: null } });
    fireEvent.click(screen.getByRole("button", { name: "Calm" }), { shiftKey: true });
    expect(choose).toHaveBeenCalledWith({ handles: ["h", "i"], place: null } satisfies Chosen);
  });
});

describe("a look", () => {
  const looked = place({ id: "weather", looker: 1, looks: 2, count: 7, cards: [card("b", "Ice"), card("t", "Storm")] });

  it("is a tray with the topmost card first, for the looker alone", () => {
    lay(<PeekTray />, { view: { ...view, places: [looked] } });
    expect(screen.getAllByRole("button", { name: /Ice|Storm/ }).map((e) => e.getAttribute("aria-label"))).toEqual(["Storm", "Ice"]);
    cleanup();
    lay(<PeekTray />, { view: { ...view, you: 2, places: [{ ...looked, cards: [card("t")] }] } });
    expect(screen.queryByRole("region")).toBeNull();
  });

  it("puts the chosen underneath, and closes", () => {
    const { act } = lay(<PeekTray />, { view: { ...view, places: [looked] }, chosen: { handles: ["t"], place: null } });
    fireEvent.click(screen.getByRole("button", { name: "Chosen underneath" }));
    expect(act).toHaveBeenCalledWith({ do: "reorder", place: "weather", under: ["t"] });
    fireEvent.click(screen.getByRole("button", { name: "Close" }));
    expect(act).toHaveBeenCalledWith({ do: "close", place: "weather" });
  });
});

describe("an ask", () => {
  const asked = { ...view, asks: [{ id: 4, from: 2, to: 1, place: "satchel/1", for: "take", count: 1 }] };

  it("is answered by chance, with what is chosen, or declined", () => {
    const { act } = lay(<Asks />, { view: asked });
    fireEvent.click(screen.getByRole("button", { name: "Agree, by chance" }));
    fireEvent.click(screen.getByRole("button", { name: "Decline" }));
    expect(act.mock.calls).toEqual([[{ do: "agree", ask: 4 }], [{ do: "decline", ask: 4 }]]);
    cleanup();
    const chosen = lay(<Asks />, { view: asked, chosen: { handles: ["i"], place: null } });
    fireEvent.click(screen.getByRole("button", { name: "Agree, with what is chosen" }));
    expect(chosen.act).toHaveBeenCalledWith({ do: "agree", ask: 4, cards: ["i"] });
  });

  it("can be withdrawn by whoever asked, and concerns nobody else", () => {
    const { act } = lay(<Asks />, { view: { ...asked, you: 2 } });
    fireEvent.click(screen.getByRole("button", { name: "Withdraw" }));
    expect(act).toHaveBeenCalledWith({ do: "withdraw", ask: 4 });
    cleanup();
    lay(<Asks />, { view: { ...asked, you: 3 } });
    expect(screen.queryByRole("button")).toBeNull();
  });
});

describe("pieces", () => {
  const piece = (change: Partial<Piece> & Pick<Piece, "kind">): Piece => ({ id: "p", name: "piece", x: 0, y: 0, ...change });

  it("count, roll and are handed", () => {
    const { act } = lay(
      <>
        <PieceOnMat piece={piece({ id: "day", name: "day", kind: "counter", value: 3 })} />
        <PieceOnMat piece={piece({ id: "wind", kind: "die", sectors: [{ name: "north" }, { name: "lull" }], up: 2 })} />
        <PieceOnMat piece={piece({ id: "postmaster", kind: "marker", seat: 2 })} />
      </>,
    );
    fireEvent.click(screen.getByRole("button", { name: "one more day" }));
    fireEvent.click(screen.getByRole("button", { name: "roll piece" }));
    fireEvent.click(screen.getByRole("button", { name: "take piece" }));
    expect(act.mock.calls).toEqual([
      [{ do: "set", piece: "day", by: 1 }],
      [{ do: "roll", pieces: ["wind"] }],
      [{ do: "hand", piece: "postmaster", seat: 1 }],
    ]);
    expect(screen.getByText("lull")).toBeTruthy();
    expect(screen.getByText("Bo")).toBeTruthy();
  });

  it("show the time that is left", () => {
    lay(<PieceOnMat piece={piece({ kind: "timer", left: 95_000 })} />);
    expect(screen.getByText("1:35")).toBeTruthy();
  });

  it("cannot be used while nothing can be done", () => {
    lay(<PieceOnMat piece={piece({ name: "day", kind: "counter" })} />, { canAct: false });
    expect(screen.getByRole<HTMLButtonElement>("button", { name: "one more day" }).disabled).toBe(true);
  });
});

describe("seats", () => {
  it("tell who is here, who has the turn and how many cards each holds", () => {
    const ask = vi.fn();
    lay(<Seats here={[1]} onAsk={ask} />);
    expect(screen.getByText("Ada (you)").parentElement?.textContent).toContain("2 cards");
    expect(screen.getByText("Bo").parentElement?.textContent).toContain("has the turn");
    expect(screen.getByText("seat 3, free")).toBeTruthy();
    fireEvent.click(screen.getByRole("button", { name: "Ask Bo for a card" }));
    expect(ask).toHaveBeenCalledWith(view.seats[1]);
  });
});

describe("the menu of acts", () => {
  const chosen = { handles: [], place: "weather" };
  it("does an act for as many as were typed, and closes", () => {
    const close = vi.fn();
    const { act } = lay(<CardMenu at={{ x: 10, y: 10 }} count={3} onClose={close} />, { chosen });
    fireEvent.click(screen.getByRole("menuitem", { name: /^Draw 3/ }));
    expect(act).toHaveBeenCalledWith({ do: "draw", from: "weather", count: 3 });
    expect(close).toHaveBeenCalled();
  });

  it("is walked with the arrows and left with Escape or a click elsewhere", () => {
    const close = vi.fn();
    lay(<CardMenu at={{ x: 10, y: 10 }} count={1} onClose={close} />, { chosen });
    const items = screen.getAllByRole("menuitem");
    expect(document.activeElement).toBe(items[0]);
    const key = (key: string) => document.activeElement && fireEvent.keyDown(document.activeElement, { key });
    key("ArrowDown");
    expect(document.activeElement).toBe(items[1]);
    key("ArrowUp");
    expect(document.activeElement).toBe(items[0]);
    key("Escape");
    fireEvent.pointerDown(document.body);
    expect(close).toHaveBeenCalledTimes(2);
  });

  it("is opened by a right click on a card, which it chooses", () => {
    const menu = vi.fn();
    const { choose } = lay(<Hand place={hand} />, { menu });
    fireEvent.contextMenu(screen.getByRole("button", { name: "Fog" }), { clientX: 5, clientY: 6 });
    expect(choose).toHaveBeenCalledWith({ handles: ["h"], place: null });
    expect(menu).toHaveBeenCalledWith({ x: 5, y: 6 });
  });
});

describe("others at the table", () => {
  it("are seen to point, each with their name, and oneself is not", () => {
    lay(<Pointers />, { usePoints: () => ({ 1: { x: 1, y: 1 }, 2: { x: 30, y: 40 }, 9: { x: 1, y: 1 } }) });
    expect(screen.getAllByText(/./).map((e) => e.textContent)).toEqual(["Bo"]);
  });
});

describe("what others drag", () => {
  it("follows their pointer where one sees it, and nothing of a hidden hand does", () => {
    const at = { usePoints: () => ({ 2: { x: 30, y: 40 } }) };
    lay(<Pointers />, { ...at, grips: { 2: ["w"] } });
    expect(document.querySelector(".pointer img")?.getAttribute("src")).toBe(`${location.origin}/pictures/picture-of-w/small`);
    cleanup();
    lay(<Pointers />, { ...at, grips: { 2: ["unknown"] } });
    expect(document.querySelector(".pointer img")).toBeNull();
  });
});

describe("enlarging", () => {
  it("shows the card under the pointer while the key is held, and nothing while one types", () => {
    lay(
      <>
        <Hand place={hand} />
        <Enlarged />
        <input aria-label="box" />
      </>,
    );
    fireEvent.pointerOver(screen.getByRole("button", { name: "Calm" }));
    fireEvent.keyDown(screen.getByLabelText("box"), { key: "z" });
    expect(screen.queryByRole("dialog")).toBeNull();
    fireEvent.keyDown(window, { key: "z" });
    expect(screen.getByRole("dialog", { name: "Calm" })).toBeTruthy();
    fireEvent.keyUp(window, { key: "z" });
    expect(screen.queryByRole("dialog")).toBeNull();
  });
});

describe("a stack of tokens", () => {
  const faces = [{ small: "s", full: "f" }];
  const boat: Piece = { id: "boat", name: "boat", kind: "token", x: 100, y: 100, faces, count: 4 };
  const other: Piece = { ...boat, id: "token/1", name: "boat 2", x: 300, count: 1 };
  const day: Piece = { id: "day", name: "day", kind: "counter", x: 100, y: 300 };
  const laid = { ...view, pieces: [boat, other, day] };
  it("gives one when it is dragged, and all with Shift", () => {
    expect(dropPiece(laid, boat, { x: 50.4, y: 60 }, false).action).toEqual({ do: "move-piece", piece: "boat", x: 50, y: 60, count: 1 });
    expect(dropPiece(laid, boat, { x: 50.4, y: 60 }, true).action).toEqual({ do: "move-piece", piece: "boat", x: 50, y: 60 });
  });
  it("takes in a like token that is dropped on it, and nothing else", () => {
    expect(dropPiece(laid, other, { x: 110, y: 95 }, false)).toEqual({
      action: { do: "stack", piece: "token/1", onto: "boat" },
      hint: "onto boat",
    });
    expect(dropPiece(laid, day, { x: 110, y: 95 }, false).action).toMatchObject({ do: "move-piece", piece: "day" });
    expect(dropPiece({ ...laid, pieces: [{ ...boat, faces: [] }, other] }, other, { x: 100, y: 100 }, false).action).toMatchObject({
      do: "move-piece",
    });
  });
  it("says how many lie in it", () => {
    lay(<PieceOnMat piece={{ id: "boat", name: "boat", kind: "token", x: 1, y: 1, faces: [{ small: "s", full: "f" }], count: 4 }} />);
    expect(screen.getByText("×4")).toBeTruthy();
  });
});

describe("how many", () => {
  it("is asked for a pile, and no more than it has", () => {
    const onCount = vi.fn();
    lay(<ActBar count={2} onCount={onCount} />, { chosen: { handles: [], place: "weather" } });
    fireEvent.change(screen.getByLabelText("how many"), { target: { value: "50" } });
    expect(onCount).toHaveBeenCalledWith(7);
    cleanup();
    lay(<ActBar count={2} onCount={onCount} />, { chosen: { handles: ["h"], place: null } });
    expect(screen.queryByLabelText("how many")).toBeNull();
  });
});

describe("a seat's menu", () => {
  const labels = (you: number, seat: number, host?: number) => {
    const at = { ...view, you, settings: { ...view.settings, host } };
    const of = at.seats[seat - 1];
    return of ? seatItems(at, of, vi.fn(), vi.fn()).map((i) => i.label) : [];
  };
  it("offers the host to free a seat, and nobody else", () => {
    expect(labels(1, 2, 1)).toContain("Free the seat");
    expect(labels(1, 2, 2)).not.toContain("Free the seat");
    expect(labels(1, 1)).toContain("Leave my seat");
    expect(labels(1, 3, 1)).not.toContain("Free the seat"); // nobody sits there
  });
  it("gives the turn and the markers", () => {
    const act = vi.fn();
    const at: View = { ...view, pieces: [{ id: "postmaster", name: "postmaster", kind: "marker", x: 1, y: 1, seat: 1 }] };
    const items = seatItems(at, { number: 2, name: "Bo", colour: "#222222" }, act, vi.fn());
    items.find((i) => i.label === "Give Bo the turn")?.run();
    items.find((i) => i.label === "Hand postmaster to Bo")?.run();
    expect(act.mock.calls).toEqual([[{ do: "pass", to: 2 }], [{ do: "hand", piece: "postmaster", seat: 2 }]]);
  });
  it("is opened at the seat's name", () => {
    const { act } = lay(<Seats here={[1]} onAsk={vi.fn()} />);
    fireEvent.click(screen.getByRole("button", { name: "Bo" }));
    fireEvent.click(screen.getByRole("menuitem", { name: "Bo begins" }));
    expect(act).toHaveBeenCalledWith({ do: "first", seat: 2 });
    expect(screen.queryByRole("menu")).toBeNull();
  });
});

describe("completing a step", () => {
  it("begins with verbs and goes on with names, quoted where they have spaces", () => {
    expect(complete("shu", view)).toEqual(["shuffle"]);
    expect(complete("draw 2 from wea", view)).toEqual(["draw 2 from weather"]);
    const sunny = { ...view, places: [place({ id: "sky", kind: "row", cards: [card("s", "Low sun")] })] };
    expect(complete("move lo", sunny)).toEqual(['move "Low sun"']);
    expect(complete('move "low s', sunny)).toEqual(['move "Low sun"']);
    expect(complete("shuffle ", view)).toEqual([]);
  });
});
