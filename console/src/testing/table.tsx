// Parts of a table as tests render them.
import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { render } from "@testing-library/react";
import type { ReactNode } from "react";
import { vi } from "vitest";
import type { Action, View } from "../api/client";
import { RoomConnection } from "../room/live";
import { nothing } from "../table/chosen";
import { TableProvider, type TableParts } from "../table/TableContext";

/** Renders with what asks the service, and asks it once. */
export function renderAsking(what: ReactNode): void {
  const client = new QueryClient({ defaultOptions: { queries: { retry: false } } });
  render(<QueryClientProvider client={client}>{what}</QueryClientProvider>);
}

/** Renders parts of a table that somebody sees, and returns what they chose and did. */
export function layParts(view: View, parts: ReactNode, change: Partial<TableParts> = {}) {
  const act = vi.fn((action: Action) => Promise.resolve(action.do !== "undo"));
  const choose = vi.fn();
  const table: TableParts = {
    view,
    now: () => view,
    chosen: nothing,
    choose,
    act,
    unsettled: [],
    canAct: true,
    millimetre: 1,
    grip: vi.fn(),
    grips: {},
    point: vi.fn(),
    usePoints: () => ({}),
    menu: vi.fn(),
    middle: () => ({ x: 451, y: 298 }),
    seat: { key: "SEATKEY", room: "r1", seat: 1 },
    source: new RoomConnection({ key: "SEATKEY", room: "r1", seat: 1 }, vi.fn(), "ws://nowhere"), // it is never started
    last: null,
    ...change,
  };
  renderAsking(<TableProvider parts={table}>{parts}</TableProvider>);
  return { act, choose };
}
