// The REST client, typed by the service's own description of its API.
import createClient from "openapi-fetch";
import type { components, paths } from "./schema.gen";

type Schemas = components["schemas"];
export type View = Schemas["View"];
export type Place = Schemas["Place"];
export type Card = Schemas["Card"];
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
