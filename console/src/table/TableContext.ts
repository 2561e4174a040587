// What every part of the table needs: the view, what is chosen, and how to act.
import { createContext, useContext } from "react";
import type { Action, View } from "../api/client";
import type { Chosen } from "./chosen";

export interface TableParts {
  view: View;
  chosen: Chosen;
  choose: (chosen: Chosen) => void;
  /** Resolves to whether it was done; a refusal has been shown already. */
  act: (action: Action) => Promise<boolean>;
  /** Claims cards while they are dragged; none lets go. */
  grip: (cards: string[]) => void;
  /** What others are dragging, by their seat. */
  grips: Record<number, string[]>;
  /** Tells others where one's pointer is; null: it left the table. */
  point: (at: { x: number; y: number } | null) => void;
  /** Where others' pointers are, by their seat. */
  points: Record<number, { x: number; y: number }>;
  /** Opens the menu of acts for what is chosen. */
  menu: (at: { x: number; y: number }) => void;
  /** Whether acting is possible now: one has a seat and the connection lives. */
  canAct: boolean;
  /** Pixels of a millimetre of the table. */
  millimetre: number;
}

export const TableContext = createContext<TableParts | null>(null);

export function useTable(): TableParts {
  const parts = useContext(TableContext);
  if (!parts) throw new Error("outside of a table");
  return parts;
}
