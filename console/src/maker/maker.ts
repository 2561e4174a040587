// Who makes games here: the maker's key, kept in this browser. A link brings it once,
// behind its #.
import createClient from "openapi-fetch";
import { useEffect } from "react";
import { create } from "zustand";
import { service } from "../api/service";
import { askFor } from "../parts/Asking";
import type { paths } from "../../client/src/schema.gen";

const kept = "damselfly maker key";

/** The maker's key; empty for who makes nothing here. */
export const useMaker = create<{ key: string }>(() => ({ key: localStorage.getItem(kept) ?? "" }));

export function comeIn(key: string): void {
  localStorage.setItem(kept, key);
  useMaker.setState({ key });
}

export function goOut(): void {
  localStorage.removeItem(kept);
  useMaker.setState({ key: "" });
}

/** Takes the key that a link brought, asking first where another would be forgotten. */
function takeBroughtKey(): void {
  const fresh = brought();
  const { key: former } = useMaker.getState();
  if (!fresh || fresh === former) return;
  if (!former) {
    comeIn(fresh);
    return;
  }
  askFor(
    {
      question: "Come in as another maker?",
      detail:
        "The link you opened is another maker's. This browser would forget whose shelf it showed until now; to come back there, you need the link by which you came in.",
      yes: "Come in",
    },
    () => comeIn(fresh),
  );
}

/** Lets a maker in by the link that opened the page, also one that is opened while it stands there. */
export function useBroughtKey(): void {
  useEffect(() => {
    takeBroughtKey();
    addEventListener("hashchange", takeBroughtKey);
    return () => removeEventListener("hashchange", takeBroughtKey);
  }, []);
}

/** The key in a link that lets a maker in. */
export const keyIn = (link: string): string | null => {
  const found = /[#&]maker=([^&\s]+)/.exec(link)?.[1];
  return found ? decodeURIComponent(found) : null;
};

/** Takes the key out of the address, so that it does not stand there. */
function brought(): string | null {
  const found = keyIn(location.hash);
  if (found) history.replaceState(history.state, "", location.pathname + location.search);
  return found;
}

/** The REST client as the maker. */
export const asMaker = createClient<paths>({ baseUrl: service, fetch: (request) => fetch(request) });
asMaker.use({
  onRequest({ request }) {
    const { key } = useMaker.getState();
    if (key) request.headers.set("Authorization", `Bearer ${key}`);
    return request;
  },
});

/** What a call gave, or an error with the sentence for the person at the screen. */
export function given<T>({ data, error }: { data?: T; error?: { detail?: string } }): T {
  if (error) throw new Error(error.detail ?? "The service does not answer. Check your connection and try again.");
  return data as T;
}
