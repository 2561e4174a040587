// The REST client, typed by the service's own description of its API.
import createClient from "openapi-fetch";
import type { components, paths } from "./schema.gen";

type Schemas = components["schemas"];
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
/** The table as it is drawn. */
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

export const api = createClient<paths>({ baseUrl: location.origin, fetch: (request) => fetch(request) });

/** What went wrong, as a sentence for the person at the screen. */
export function sentence(problem: Problem | undefined): string {
  return problem?.detail ?? "The service does not answer. Check your connection and try again.";
}
