// The last card that somebody played: what everyone wants to see at once.
import type { LogLine } from "../api/client";

/** Steps that put cards somewhere on the table. */
const plays = /^(move|turn|discard|give|take|spread) /;

/** Where the last card was played and by which seat; nothing when it went where only some see it. */
export function lastPlayed(log: LogLine[]): { place: string; seat: number } | null {
  const line = log.findLast((l) => plays.test(l.text) && l.seat > 0);
  return line?.place ? { place: line.place, seat: line.seat } : null;
}
