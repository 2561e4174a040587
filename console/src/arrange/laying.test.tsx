import { cleanup, fireEvent, screen } from "@testing-library/react";
import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";
import type { View } from "../api/client";
import { viewOf } from "../testing/samples";
import { serviceThat } from "../testing/service";
import { layParts } from "../testing/table";
import { StepsLaid } from "./StepsLaid";
import { TableFields } from "./TableFields";

const view = viewOf({ settings: { name: "Marsh Post", wide: 900, high: 600, host: 1, setup: "shuffle weather" } });
const lay = (parts: React.ReactNode, change: Partial<View> = {}) => layParts({ ...view, ...change }, parts).act;

beforeEach(() => localStorage.clear());
afterEach(() => {
  cleanup();
  vi.unstubAllGlobals();
});

describe("steps that are laid", () => {
  const check = {
    "POST /api/rooms/r1/check-steps": ({ body }: { body?: Record<string, unknown> }): [number, unknown] => [
      200,
      String(body?.steps).includes("attic") ? { line: 2, column: 9, mistake: 'line 2, column 9: there is no place "attic"' } : {},
    ],
  };

  it("are looked over as they are typed, and marked where a mistake is", async () => {
    const asked = serviceThat(check);
    const onLay = vi.fn();
    lay(<StepsLaid label="setup" value="shuffle weather" onLay={onLay} />);
    expect(await screen.findByText("These steps are understood.")).toBeTruthy();
    fireEvent.change(screen.getByLabelText("setup"), { target: { value: "shuffle weather\nshuffle attic" } });
    expect(await screen.findByText(/there is no place "attic"/)).toBeTruthy();
    expect([...document.querySelectorAll(".steps-laid li")].map((l) => l.className)).toEqual(["", "wrong"]);
    expect(screen.getByLabelText("setup").getAttribute("aria-invalid")).toBe("true");
    expect(onLay).not.toHaveBeenCalled();
    expect(asked.every((a) => a.key === "Bearer SEATKEY")).toBe(true);
  });

  it("are laid when one leaves the box, and left as they were with Escape", () => {
    serviceThat(check);
    const onLay = vi.fn();
    lay(<StepsLaid label="setup" value="shuffle weather" onLay={onLay} />);
    const box = screen.getByLabelText<HTMLTextAreaElement>("setup");
    fireEvent.change(box, { target: { value: "pass" } });
    fireEvent.keyDown(box, { key: "Escape" });
    expect(box.value).toBe("shuffle weather");
    fireEvent.blur(box);
    expect(onLay).not.toHaveBeenCalled();
    fireEvent.change(box, { target: { value: "pass" } });
    fireEvent.blur(box);
    expect(onLay).toHaveBeenCalledWith("pass");
  });
});

describe("the table's own fields", () => {
  it("are laid within the limits of a table", () => {
    serviceThat({});
    const act = lay(<TableFields />);
    const wide = screen.getByLabelText("wide, mm");
    fireEvent.change(wide, { target: { value: "99999" } });
    fireEvent.blur(wide);
    expect(act).toHaveBeenCalledWith({ do: "lay-table", wide: 20000 });
    fireEvent.change(screen.getByLabelText("may arrange"), { target: { value: "everyone" } });
    expect(act).toHaveBeenCalledWith({ do: "lay-table", arrange: "everyone" });
  });

  it("let the host alone say who may arrange", () => {
    serviceThat({});
    lay(<TableFields />, { you: 2 });
    expect(screen.queryByLabelText("may arrange")).toBeNull();
  });

  it("keep the table in the kit with a maker's key, and say which edition it is", async () => {
    const asked = serviceThat({
      "POST /api/rooms/r1/keep-table": () => [
        200,
        { id: "k", name: "Marsh Post", edition: 3, fresh: true, at: 0, decks: [], warnings: [] },
      ],
    });
    lay(<TableFields />);
    const keep = screen.getByRole<HTMLButtonElement>("button", { name: "Keep in the kit" });
    expect(keep.disabled).toBe(true);
    const key = screen.getByLabelText(/maker key/);
    fireEvent.change(key, { target: { value: "MAKER" } });
    fireEvent.blur(key);
    fireEvent.click(keep);
    expect(await screen.findByText("Kept as edition 3 of Marsh Post.")).toBeTruthy();
    expect(asked.find((a) => a.path.endsWith("keep-table"))?.key).toBe("Bearer MAKER");
    expect(localStorage.getItem("damselfly maker key")).toBe("MAKER");
  });

  it("forget a maker's key that is none", async () => {
    localStorage.setItem("damselfly maker key", "OLD");
    serviceThat({ "POST /api/rooms/r1/keep-table": () => [401, { code: "needs-maker-key", detail: "This needs a maker key." }] });
    lay(<TableFields />);
    fireEvent.click(screen.getByRole("button", { name: "Keep in the kit" }));
    expect(await screen.findByText("This needs a maker key.")).toBeTruthy();
    expect(localStorage.getItem("damselfly maker key")).toBeNull();
  });
});
