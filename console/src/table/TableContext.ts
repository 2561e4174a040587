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
