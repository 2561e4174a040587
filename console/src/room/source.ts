// What a table is sat at through: a room over its socket, or a draft in this browser.
import type { StoreApi, UseBoundStore } from "zustand";
import type { Action, Answer, Joined, Problem } from "../api/client";
import type { components } from "../../client/src/schema.gen";
import type { Live } from "./live";

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
