// The table page with a connection whose socket a test speaks through: what keys do, what
// is sent, and what stands there when the connection or the seat is gone.
import { act as settled, cleanup, fireEvent, screen } from "@testing-library/react";
import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";
import type { Action, LogLine, Message, Place, View } from "../api/client";
import { useArranging } from "../arrange/arranging";
import { RoomConnection } from "../room/live";
import { useMeasuring } from "../table/measuring";
import { useViewport } from "../table/viewport";
import { card, place, toldOf, viewOf } from "../testing/samples";
import { latestSocket, TestSocket } from "../testing/service";
import { renderAsking } from "../testing/table";
import { TablePage } from "./TablePage";

const view = viewOf({
  places: [
    place({ id: "weather", cards: [card("Fog", "Fog")], count: 9 }),
    place({ id: "satchel/1", name: "satchel", kind: "hand", sight: "owner", owner: 1, cards: [card("Calm", "Calm")] }),
  ],
});

/** What the socket says or does, until the page has taken it in. */
const says = (message: Partial<Message>) => settled(() => latestSocket().says(message));
const closes = (code?: number) => settled(() => latestSocket().close(code));

let connection: RoomConnection;
const acts = (): Action[] =>
  latestSocket()
    .sent.filter((m) => m.type === "act")
    .map((m) => m.action as Action);
const key = (name: string) =>
  settled(() => {
    window.dispatchEvent(new KeyboardEvent("keydown", { key: name, bubbles: true }));
  });

function sit(change: Partial<View> = {}, log: LogLine[] = []) {
  connection = new RoomConnection({ key: "k", room: "r", seat: 1, name: "Ada" }, vi.fn(), "ws://here");
  connection.start();
  const onGone = vi.fn();
  renderAsking(<TablePage connection={connection} onGone={onGone} />);
  expect(screen.getByRole("status").textContent).toContain("Coming to the table");
  settled(() => latestSocket().open());
  says({ type: "view", gate: "g", told: 1, view: toldOf({ ...view, ...change }), log });
  return onGone;
}

beforeEach(() => {
  vi.stubGlobal("WebSocket", TestSocket);
  vi.stubGlobal(
    "ResizeObserver",
    class {
      observe() {
        return;
      }
      disconnect() {
        return;
      }
    },
  );
  vi.stubGlobal("matchMedia", () => ({ matches: true, addEventListener: vi.fn(), removeEventListener: vi.fn() }));
});
afterEach(() => {
  cleanup();
  connection.stop();
  vi.unstubAllGlobals();
});

describe("the keys of the table", () => {
  it("act on the pile that is chosen, for as many as were typed, once", () => {
    sit();
    fireEvent.click(screen.getByRole("button", { name: /^weather, 9 cards/ }));
    key("3");
    expect(screen.getByRole("button", { name: /^Draw 3/ })).toBeTruthy();
    key("d");
    key("s");
    expect(acts()).toEqual([
      { do: "draw", from: "weather", count: 3 },
      { do: "shuffle", place: "weather" },
    ]);
    expect(screen.getByRole("button", { name: /^Draw 1/ })).toBeTruthy();
  });

  it("choose nothing with Escape, and do nothing then", () => {
    sit();
    fireEvent.click(screen.getByRole("button", { name: /^weather, 9 cards/ }));
    key("Escape");
    key("d");
    expect(acts()).toEqual([]);
    expect(screen.getByText(/Drag a card, or click one/)).toBeTruthy();
  });

  it("undo, zoom, measure and show themselves", async () => {
    sit();
    key("u");
    expect(acts()).toEqual([{ do: "undo" }]);
    key("+");
    expect(useViewport.getState().zoom).toBeCloseTo(1.4);
    key("0");
    expect(useViewport.getState().zoom).toBe(1);
    key("q");
    expect(useMeasuring.getState().on).toBe(true);
    key("q");
    expect(useMeasuring.getState().on).toBe(false);
    key("?");
    expect(await screen.findByText("show these keys")).toBeTruthy();
    key("d"); // with the page of keys open nothing is done
    expect(acts()).toHaveLength(1);
  });

  it("zoom by scaling what is drawn, which is drawn anew once they rest", async () => {
    sit();
    const mat = () => document.querySelector<HTMLElement>("[data-mat]")?.style as CSSStyleDeclaration;
    const before = parseFloat(mat().getPropertyValue("--mm"));
    key("+");
    expect(Number(mat().scale)).toBeCloseTo(1.4);
    expect(parseFloat(mat().getPropertyValue("--mm"))).toBe(before);
    await vi.waitFor(() => {
      expect(mat().scale).toBe("");
    });
    expect(parseFloat(mat().getPropertyValue("--mm"))).toBeCloseTo(1.4 * before);
  });

  it("are letters where one types", () => {
    sit();
    const box = screen.getByRole("combobox", { name: "Steps" });
    fireEvent.keyDown(box, { key: "u" });
    expect(acts()).toEqual([]);
  });

  it("arrange the table, for whoever may", () => {
    sit({ you: 2 });
    key("a");
    expect(useArranging.getState().on).toBe(false);
    cleanup();
    connection.stop();
    sit();
    key("a");
    expect(useArranging.getState().on).toBe(true);
    key("a");
    expect(useArranging.getState().on).toBe(false);
  });
});

describe("the table page", () => {
  it("passes the turn, and says what undo would take back", () => {
    sit({}, [
      { number: 1, at: 0, seat: 1, who: "Ada", do: "sit", text: "# sits at seat 1" },
      { number: 2, at: 0, seat: 1, who: "Ada", do: "cut", text: "cut weather" },
      { number: 3, at: 0, seat: 1, who: "Ada", do: "undo", text: "undo  # shuffle" },
      { number: 4, at: 0, seat: 2, who: "Bo", do: "flip", text: "flip weather" },
    ]);
    expect(screen.getByRole("button", { name: "Undo" }).title).toBe("takes back: cut weather");
    fireEvent.click(screen.getByRole("button", { name: "Pass the turn" }));
    expect(acts()).toEqual([{ do: "pass" }]);
  });

  it("says that the connection is lost, and lets nobody act meanwhile", () => {
    sit();
    closes();
    expect(screen.getByText(/The connection is lost/)).toBeTruthy();
    expect(screen.getByRole<HTMLButtonElement>("button", { name: "Pass the turn" }).disabled).toBe(true);
  });

  it("says that the service cannot save, and that the game has ended", () => {
    sit();
    says({ type: "notice", code: "not-saving", text: "Not saving; retrying." });
    expect(screen.getByText(/cannot save right now/)).toBeTruthy();
    cleanup();
    connection.stop();
    sit({ settings: { ...view.settings, ended: true } });
    expect(screen.getByText(/The game has ended/)).toBeTruthy();
    expect(screen.getByRole<HTMLButtonElement>("button", { name: "Pass the turn" }).disabled).toBe(true);
  });

  it("leads back to the entrance once the seat is gone", () => {
    const onGone = sit();
    closes(4001);
    expect(screen.getByRole("heading").textContent).toBe("You are not at this table any more");
    fireEvent.click(screen.getByRole("button", { name: "Back to the entrance" }));
    expect(onGone).toHaveBeenCalled();
  });

  it("shows who watches that they need a seat", () => {
    sit({ you: 0, places: [view.places[0] as Place] });
    expect(screen.getByText(/You are watching/)).toBeTruthy();
    expect(screen.getByRole<HTMLInputElement>("combobox", { name: "Steps" }).disabled).toBe(true);
  });

  it("tells refusals until they are put away", async () => {
    sit();
    fireEvent.click(screen.getByRole("button", { name: "Undo" }));
    const { id } = latestSocket().sent.at(-1) as { id: string };
    says({
      type: "answer",
      id,
      problem: { status: 409, code: "nothing-to-undo", title: "Not done", type: "", detail: "There is nothing to undo." },
    });
    fireEvent.click(await screen.findByRole("button", { name: "There is nothing to undo." }));
    expect(screen.queryByText("There is nothing to undo.")).toBeNull();
  });
});
