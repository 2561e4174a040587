// What every part of the table needs: the view, what is chosen, and how to act. A
// part that asks for a slice of it is drawn again only when that slice changes.
import { createContext, useContext, useLayoutEffect, useState, type ReactNode } from "react";
import { createStore, useStore, type StoreApi } from "zustand";
import type { Action, Joined, View } from "../api/client";
import type { TableSource } from "../room/source";
import type { Chosen } from "./chosen";

export interface Spot {
  x: number;
  y: number;
}

export interface TableParts {
  view: View;
  /** The view as it is at this moment, for after an action. */
  now: () => View;
  chosen: Chosen;
  choose: (chosen: Chosen) => void;
  /** Resolves to whether it was done; a refusal has been shown already. */
  act: (action: Action) => Promise<boolean>;
  /** Handles of cards on which an act of one's own is not settled yet. */
  unsettled: string[];
  /** Claims cards while they are dragged; none lets go. */
  grip: (cards: string[]) => void;
  /** What others are dragging, by their seat. */
  grips: Record<number, string[]>;
  /** Tells others where one's pointer is; null: it left the table. */
  point: (at: Spot | null) => void;
  /** Where others' pointers are, by their seat; a hook, because they move all the time. */
  usePoints: () => Record<number, Spot>;
  /** Opens the menu of acts for what is chosen. */
  menu: (at: Spot) => void;
  /** Whether acting is possible now: one has a seat and the connection lives. */
  canAct: boolean;
  /** Pixels of a millimetre of the table. */
  millimetre: number;
  /** The middle of what is seen of the table, in millimetres. */
  middle: () => Spot;
  /** One's own seat and its key. */
  seat: Joined;
  /** What the table is sat at through. */
  source: TableSource;
  /** Where the last card was played, and by which seat. */
  last: { place: string; seat: number } | null;
}

const Shared = createContext<StoreApi<TableParts> | null>(null);

export function TableProvider({ parts, children }: { parts: TableParts; children: ReactNode }) {
  const [store] = useState(() => createStore<TableParts>(() => parts));
  useLayoutEffect(() => store.setState(parts), [store, parts]);
  return <Shared value={store}>{children}</Shared>;
}

function useShared(): StoreApi<TableParts> {
  const store = useContext(Shared);
  if (!store) throw new Error("outside of a table");
  return store;
}

/** All of it: for small parts that are drawn once. */
export const useTable = (): TableParts => useStore(useShared());

/** A slice of it: for parts of which there are many. */
export const useTablePart = <T,>(slice: (parts: TableParts) => T): T => useStore(useShared(), slice);

/** All of it at the moment of an event, without being drawn again when it changes. */
export const useTableNow = (): (() => TableParts) => useShared().getState;
