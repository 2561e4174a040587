// What a table is sat at through: a room over its socket, or a draft in this browser.
import { withGuess, type Guess } from "./guess";
import type { StoreApi, UseBoundStore } from "zustand";
import type { Action, Answer, Joined, Problem } from "../api/client";
import type { TableState } from "../../client/src/fold";
import type { Connection } from "../../client/src/socket";
import type { components } from "../../client/src/schema.gen";

export type StepsChecked = components["schemas"]["StepsChecked"];
export type PicturePut = components["schemas"]["PicturePut"];

export interface TableSource {
  readonly store: UseBoundStore<StoreApi<Live>>;
  readonly joined: Joined;
  /** Whether it is a draft's table, which only who sits here sees. */
  readonly alone: boolean;
  /** Does an action, or Steps. Resolves once it is kept and shown, or with the problem. */
  act(what: { action: Action } | { steps: string }): Promise<Answer | Problem>;
  /** Claims cards while they are dragged; none lets go. */
  grip(cards: string[]): void;
  /** Tells others where one's pointer is; null: it left the table. */
  point(at: { x: number; y: number } | null): void;
  dismiss(notice: number): void;
  /** Reads Steps as one's seat would do them, and does nothing. */
  checkSteps(steps: string): Promise<StepsChecked>;
  /** Brings a picture for a token or a mat. */
  bringPicture(file: File): Promise<PicturePut>;
}

export interface Notice {
  id: number;
  text: string;
  kind: "told" | "refused" | "service";
}

export interface Live extends TableState {
  connection: Connection;
  saving: boolean;
  notices: Notice[];
  /** Why the room let this seat go, once it has. */
  ended: string;
  /** What one's own acts that are not settled yet will most likely do, in their order. */
  guesses: { id: string; guess: Guess }[];
}

/** The view with one's own unsettled acts in it: what is drawn. */
export function shown({ view, guesses }: Pick<Live, "view" | "guesses">): TableState["view"] {
  return view && guesses.reduce((v, g) => withGuess(v, g.guess), view);
}
