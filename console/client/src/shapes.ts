// What the service and who talks to it say to each other, as the service describes it.
import type { components } from "./schema.gen.js";

export type Schemas = components["schemas"];
/** What the service tells of a table: cards name what they show by a word. */
export type ToldView = Schemas["View"];
export type ToldPlace = Schemas["Place"];
export type ToldCard = Schemas["Card"];
export type PlaceChange = Schemas["PlaceChange"];
export type Face = Schemas["Face"];
export type Faces = Record<string, Face>;

/** A card with what it shows. */
export interface Card extends Omit<ToldCard, "face"> {
  face: Face;
}
/** What shows of cards that cannot be told apart. */
export interface Veil {
  face: Face;
  count: number;
}
export interface Place extends Omit<ToldPlace, "cards" | "veils"> {
  cards?: Card[];
  veils?: Veil[];
}
/** A table as somebody sees it. */
export interface View extends Omit<ToldView, "places" | "faces"> {
  places: Place[];
}
export type Deck = Schemas["Deck"];
export type Seat = Schemas["Seat"];
export type Piece = Schemas["Piece"];
export type Picture = Schemas["Picture"];
export type Ask = Schemas["Ask"];
export type LogLine = Schemas["LogLine"];
export type Room = Schemas["Room"];
export type Joined = Schemas["Joined"];
export type Message = Schemas["Message"];
export type Answer = Schemas["Answer"];
export type Problem = Schemas["Problem"];
export type Action = Schemas["Action"];

/** What is asked for: an action, or Steps. */
export type Asked = { action: Action } | { steps: string };

/** Whether what came back is a problem: what was asked for was not done. */
export function isProblem(result: Answer | Problem): result is Problem {
  return "code" in result;
}
