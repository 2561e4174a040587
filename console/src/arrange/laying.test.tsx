import { cleanup, fireEvent, screen } from "@testing-library/react";
import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";
import type { View } from "../api/client";
import { useMaker } from "../maker/maker";
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

  it("keep the table in the kit for its maker alone, and say which edition it is", async () => {
    const asked = serviceThat({
      "POST /api/rooms/r1/keep-table": () => [
        200,
        { id: "k", name: "Marsh Post", edition: 3, fresh: true, at: 0, decks: [], warnings: [] },
      ],
    });
    useMaker.setState({ key: "" });
    lay(<TableFields />);
    expect(screen.queryByRole("button", { name: "Keep in the kit" })).toBeNull();
    cleanup();
    useMaker.setState({ key: "MAKER" });
    lay(<TableFields />);
    fireEvent.click(screen.getByRole("button", { name: "Keep in the kit" }));
    expect(await screen.findByText("Kept as edition 3 of Marsh Post.")).toBeTruthy();
    expect(asked.find((a) => a.path.endsWith("keep-table"))?.key).toBe("Bearer MAKER");
  });

  it("say that another maker's room is kept by them", async () => {
    useMaker.setState({ key: "OTHER" });
    serviceThat({ "POST /api/rooms/r1/keep-table": () => [404, { code: "no-such-room", detail: "There is no such room." }] });
    lay(<TableFields />);
    fireEvent.click(screen.getByRole("button", { name: "Keep in the kit" }));
    expect(await screen.findByText("Only who opened this room keeps its table.")).toBeTruthy();
  });
});
