import { cleanup, fireEvent, render, screen } from "@testing-library/react";
import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";
import type { LogLine, View } from "../api/client";
import { place, viewOf } from "../testing/samples";
import { layParts } from "../testing/table";
import { askFor, Asking } from "../parts/Asking";
import { beginDrag, useDragging } from "./dragging";
import { Keys } from "./Keys";
import { LogPanel } from "./LogPanel";
import { toggleMeasuring, useMeasuring } from "./measuring";
import { useMeant } from "./meant";
import { leaveTable } from "../parts/ofTable";
import { tableItems, TableMenu } from "./TableMenu";
import { useViewport } from "./viewport";

const view = viewOf({ places: [place({ id: "weather", count: 3 })] });
const line = (number: number, change: Partial<LogLine>): LogLine => ({
  number,
  at: 0,
  seat: 1,
  who: "Ada",
  do: "shuffle",
  text: "shuffle weather",
  ...change,
});

beforeEach(() => {
  vi.stubGlobal("matchMedia", () => ({ matches: true, addEventListener: vi.fn(), removeEventListener: vi.fn() }));
});
afterEach(() => {
  cleanup();
  leaveTable();
  vi.unstubAllGlobals();
});

describe("a question", () => {
  it("goes on when it is answered yes, and not when it is answered no", () => {
    const then = vi.fn();
    render(<Asking />);
    askFor({ question: "End the game?", detail: "It cannot be undone.", yes: "End it" }, then);
    return screen.findByText("It cannot be undone.").then(async () => {
      fireEvent.click(screen.getByRole("button", { name: "No" }));
      expect(then).not.toHaveBeenCalled();
      askFor({ question: "End it then?", yes: "End it" }, then);
      fireEvent.click(await screen.findByRole("button", { name: "End it" }));
      expect(then).toHaveBeenCalledWith("");
    });
  });

  it("takes a line that is not empty, trimmed", async () => {
    const then = vi.fn();
    render(<Asking />);
    askFor({ question: "Your name", line: "Ada", yes: "Change it" }, then);
    const input = await screen.findByRole("textbox");
    fireEvent.change(input, { target: { value: "   " } });
    expect(screen.getByRole<HTMLButtonElement>("button", { name: "Change it" }).disabled).toBe(true);
    fireEvent.change(input, { target: { value: "  Adele " } });
    fireEvent.click(screen.getByRole("button", { name: "Change it" }));
    expect(then).toHaveBeenCalledWith("Adele");
  });
});

describe("the menu of the table", () => {
  const labels = (change: Partial<View>, canAct = true) => tableItems({ ...view, ...change }, canAct, null, vi.fn()).map((i) => i.label);

  it("has arranging for who may", () => {
    expect(labels({})).not.toContain("Arrange the table");
    const toggle = vi.fn();
    const of = (on: boolean) => tableItems(view, true, { on, toggle }, vi.fn()).find((i) => /arrang/i.test(i.label));
    expect([of(false)?.label, of(true)?.label]).toEqual(["Arrange the table", "Stop arranging"]);
    of(true)?.run?.();
    expect(toggle).toHaveBeenCalled();
  });

  it("has the host's acts for the host alone", () => {
    expect(labels({})).toContain("End the game");
    expect(labels({ you: 2 })).not.toContain("End the game");
    expect(labels({ you: 2 })).not.toContain("Lock the room: nobody new comes in");
    expect(labels({ you: 0 }, false)).toEqual(["Copy the link to this room"]);
  });

  it("offers what the settings are not", () => {
    expect(labels({ settings: { ...view.settings, locked: true, spectators: "no" } })).toEqual(
      expect.arrayContaining(["Unlock the room", "Let people watch"]),
    );
    expect(labels({ settings: { ...view.settings, setup: "shuffle weather" } })).toContain("Set the game up");
  });

  it("brings everything home after it has asked", async () => {
    const { act } = layParts(
      view,
      <>
        <TableMenu arranging={null} />
        <Asking />
      </>,
    );
    fireEvent.click(screen.getByRole("button", { name: "Table" }));
    fireEvent.click(screen.getByRole("menuitem", { name: "Everything home" }));
    await screen.findByText(/Undo takes it back/);
    expect(act).not.toHaveBeenCalled();
    fireEvent.click(screen.getByRole("button", { name: "Everything home" }));
    expect(act).toHaveBeenCalledWith({ do: "everything-home" });
  });
});

describe("the log", () => {
  const lines = [
    line(1, { text: "# sits at seat 1", do: "sit" }),
    line(2, { text: "draw 1 from weather to my hand  # Fog", do: "draw", place: "weather" }),
    line(3, { seat: 2, who: "Bo", text: "shuffle weather" }),
  ];

  it("says what was done, and behind it what one saw", () => {
    render(<LogPanel lines={lines} view={view} canAct onSteps={vi.fn()} />);
    const items = screen.getAllByRole("listitem").map((i) => i.textContent);
    expect(items).toEqual(["Ada sits at seat 1", "Ada draw 1 from weather to my hand Fog", "Bo shuffle weather"]);
    expect(screen.getByText("Fog").tagName).toBe("EM");
  });

  it("can be that of one seat", () => {
    render(<LogPanel lines={lines} view={view} canAct onSteps={vi.fn()} />);
    fireEvent.change(screen.getByLabelText("Whose lines"), { target: { value: "2" } });
    expect(screen.getAllByRole("listitem").map((i) => i.textContent)).toEqual(["Bo shuffle weather"]);
  });

  it("shows where something happened while one points at it", () => {
    render(<LogPanel lines={lines} view={view} canAct onSteps={vi.fn()} />);
    const item = screen.getAllByRole("listitem")[1];
    if (!item) throw new Error("no line");
    fireEvent.pointerEnter(item);
    expect(useMeant.getState().place).toBe("weather");
    fireEvent.pointerLeave(item);
    expect(useMeant.getState().place).toBeNull();
  });

  it("keeps the steps that were refused, and lets go of those that were done", async () => {
    const onSteps = vi.fn(() => Promise.resolve(false));
    const shown = render(<LogPanel lines={lines} view={view} canAct onSteps={onSteps} />);
    const box = screen.getByRole<HTMLInputElement>("combobox", { name: "Steps" });
    fireEvent.change(box, { target: { value: "draw 9 from weather" } });
    fireEvent.click(screen.getByRole("button", { name: "Do" }));
    await vi.waitFor(() => expect(onSteps).toHaveBeenCalledWith("draw 9 from weather"));
    expect(box.value).toBe("draw 9 from weather");
    onSteps.mockResolvedValue(true);
    fireEvent.click(screen.getByRole("button", { name: "Do" }));
    await vi.waitFor(() => expect(box.value).toBe(""));
    shown.rerender(<LogPanel lines={lines} view={view} canAct={false} onSteps={onSteps} />);
    expect(box.disabled).toBe(true);
  });

  it("offers how a step may go on", () => {
    render(<LogPanel lines={lines} view={view} canAct onSteps={vi.fn()} />);
    fireEvent.change(screen.getByRole("combobox", { name: "Steps" }), { target: { value: "everything".slice(0, 4) } });
    expect([...document.querySelectorAll("datalist option")].map((o) => (o as HTMLOptionElement).value)).toContain("everything");
  });
});

describe("the page of keys", () => {
  it("shows every key, and closes", async () => {
    const onHide = vi.fn();
    render(<Keys show onHide={onHide} />);
    expect((await screen.findAllByRole("term")).length).toBeGreaterThan(30);
    fireEvent.click(screen.getByRole("button", { name: "Close" }));
    expect(onHide).toHaveBeenCalled();
  });
});

describe("what belongs to a table", () => {
  it("is not there at the next one", () => {
    useViewport.setState({ zoom: 3, x: 4, y: 5 });
    toggleMeasuring();
    beginDrag({ handles: ["h"], from: "weather", card: null, deck: undefined, x: 1, y: 1, startX: 1, startY: 1 });
    useMeant.setState({ place: "sky" });
    leaveTable();
    expect(useViewport.getState()).toEqual({ zoom: 1, x: 0, y: 0 });
    expect(useMeasuring.getState().on).toBe(false);
    expect(useDragging.getState().dragging).toBeNull();
    expect(useMeant.getState().place).toBeNull();
  });
});
