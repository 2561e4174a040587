// What the shelf is asked for.
import { useQuery, useQueryClient } from "@tanstack/react-query";
import type { components } from "../../client/src/schema.gen";
import { asMaker, given, useMaker } from "../maker/maker";

export type Kit = components["schemas"]["Kit"];
export type KitPage = components["schemas"]["KitPage"];
export type RoomRow = components["schemas"]["RoomRow"];
export type Bookmark = components["schemas"]["Bookmark"];

export function useKits(removed = false) {
  const { key } = useMaker();
  return useQuery({
    queryKey: ["kits", key, removed],
    enabled: key !== "",
    queryFn: async () => given(await asMaker.GET("/api/kits", { params: { query: { removed } } })).kits,
  });
}

/** The kits that are there for everybody. */
export function useListedKits() {
  const { key } = useMaker();
  return useQuery({ queryKey: ["listed", key], queryFn: async () => given(await asMaker.GET("/api/shelf")).kits });
}

export function useKit(kit: string) {
  const { key } = useMaker();
  return useQuery({
    queryKey: ["kit", key, kit],
    queryFn: async () => given(await asMaker.GET("/api/kits/{kit}", { params: { path: { kit } } })),
  });
}

/** Who is there changes by itself, so rooms are asked for again every few seconds. */
export function useRooms(removed = false) {
  const { key } = useMaker();
  return useQuery({
    queryKey: ["rooms", key, removed],
    enabled: key !== "",
    refetchInterval: 10_000,
    queryFn: async () => given(await asMaker.GET("/api/rooms", { params: { query: { removed } } })).rooms,
  });
}

export function useBookmarks() {
  const { key } = useMaker();
  return useQuery({
    queryKey: ["bookmarks", key],
    enabled: key !== "",
    queryFn: async () => given(await asMaker.GET("/api/bookmarks")).bookmarks,
  });
}

/** Has all of the shelf asked for anew, after something of it changed. */
export function useShelfChanged(): () => Promise<void> {
  const queries = useQueryClient();
  return async () => {
    await Promise.all(["kits", "listed", "kit", "rooms", "bookmarks"].map((key) => queries.invalidateQueries({ queryKey: [key] })));
  };
}

/** Does something to the shelf, has it asked for anew, and says what went wrong. */
export function useDoing(onWrong: (text: string) => void): (what: () => Promise<unknown>) => Promise<void> {
  const changed = useShelfChanged();
  return async (what) => {
    try {
      await what();
      await changed();
    } catch (wrong) {
      onWrong(wrong instanceof Error ? wrong.message : String(wrong));
    }
  };
}

const steps: [number, Intl.RelativeTimeFormatUnit][] = [
  [60, "second"],
  [60, "minute"],
  [24, "hour"],
  [30, "day"],
  [12, "month"],
  [Infinity, "year"],
];

/** How long ago a moment was: "3 minutes ago". */
export function ago(at: number, now = Date.now()): string {
  let n = Math.max(0, (now - at) / 1000);
  if (n < 45) return "just now";
  for (const [most, unit] of steps) {
    if (n < most) return new Intl.RelativeTimeFormat("en").format(-Math.round(n), unit);
    n /= most;
  }
  return "";
}
