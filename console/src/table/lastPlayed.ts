// The last card that somebody played: what everyone wants to see at once.
import type { LogLine } from "../api/client";

/** What puts cards somewhere on the table. */
const plays = ["move", "spread"];
/** What takes it away again. */
const clears = ["everything-home", "gather", "collect"];

/** Where the last card was played and by which seat; nothing when it went where only some see it. */
export function lastPlayed(log: LogLine[]): { place: string; seat: number } | null {
  const line = log.findLast((l) => (plays.includes(l.do) && l.seat > 0) || clears.includes(l.do));
  return line?.place && plays.includes(line.do) ? { place: line.place, seat: line.seat } : null;
}
