// The key to one's seat in a room. Coming back with it is coming back to the
// seat, so it is kept in this browser until the room lets it go.
import type { Joined } from "../api/client";

const name = (room: string) => `damselfly seat ${room}`;

export function keptSeat(room: string): Joined | null {
  try {
    const text = localStorage.getItem(name(room));
    return text ? (JSON.parse(text) as Joined) : null;
  } catch {
    return null;
  }
}

export function keepSeat(joined: Joined): void {
  localStorage.setItem(name(joined.room), JSON.stringify(joined));
  sessionStorage.removeItem(`damselfly join ${joined.room}`);
}

export function forgetSeat(room: string): void {
  localStorage.removeItem(name(room));
}

/** The id of joining a room, the same until it has worked: asked again, it gives the same seat. */
export function joinId(room: string): string {
  const id = sessionStorage.getItem(`damselfly join ${room}`) ?? crypto.getRandomValues(new Uint32Array(4)).join("-");
  sessionStorage.setItem(`damselfly join ${room}`, id);
  return id;
}

/** The seat that a link brings behind its #, when somebody was handed it. */
export function broughtSeat(room: string): Joined | null {
  const key = /^#seat=([A-Z0-9]+)$/.exec(location.hash)?.[1];
  if (!key) return null;
  history.replaceState(history.state, "", location.pathname);
  return { key, room, seat: 0 }; // which seat it opens, the view tells
}

/** The rooms that this browser has a seat in. */
export function keptRooms(): Joined[] {
  return Object.keys(localStorage).flatMap((name) => {
    const room = /^damselfly seat (.+)$/.exec(name)?.[1];
    const seat = room && keptSeat(room);
    return seat ? [seat] : [];
  });
}
