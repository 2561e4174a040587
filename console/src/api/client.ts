// The REST client, typed by the service's own description of its API.
import createClient from "openapi-fetch";
import type { paths } from "../../client/src/schema.gen";
import type { Problem } from "../../client/src/shapes";
import { service } from "./service";

export * from "../../client/src/shapes";

export const api = createClient<paths>({ baseUrl: service, fetch: (request) => fetch(request) });

/** What went wrong, as a sentence for the person at the screen. */
export function sentence(problem: Problem | undefined): string {
  return problem?.detail ?? "The service does not answer. Check your connection and try again.";
}
