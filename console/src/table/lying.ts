import type { Place } from "../api/client";

/** Where a place lies, for the style sheets. */
export const lying = (place: Place) => ({
  "--x": place.x,
  "--y": place.y,
  "--place-wide": place.wide,
  "--place-high": place.high,
  rotate: place.turn ? `${place.turn}deg` : undefined,
});
