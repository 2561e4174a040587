// How the table is looked at: zoomed, and moved within its frame. Only what is drawn
// of it changes; where things lie does not.
import { ofTable } from "../parts/ofTable";

export interface Viewport {
  /** 1 shows the whole table. */
  zoom: number;
  /** The table's middle beside the frame's, in pixels. */
  x: number;
  y: number;
}

export interface Sizes {
  frame: [number, number];
  /** The table as it is at zoom 1. */
  table: [number, number];
}

export const whole: Viewport = { zoom: 1, x: 0, y: 0 };
export const most = 5;

export const useViewport = ofTable<Viewport>(() => whole);

/** The viewport zoomed by a factor so that the point under the pointer stays there. The point is beside the frame's middle. */
export function zoomedAt(now: Viewport, factor: number, point: [number, number], sizes: Sizes): Viewport {
  const zoom = Math.min(most, Math.max(1, now.zoom * factor));
  const by = zoom / now.zoom;
  return held({ zoom, x: point[0] - (point[0] - now.x) * by, y: point[1] - (point[1] - now.y) * by }, sizes);
}

/** Keeps the table from being moved out of its frame. */
export function held({ zoom, x, y }: Viewport, { frame, table }: Sizes): Viewport {
  const room = (i: 0 | 1) => Math.max(0, (table[i] * zoom - frame[i]) / 2 + (zoom > 1 ? 60 : 0));
  const within = (v: number, most: number) => Math.min(most, Math.max(-most, v));
  return { zoom, x: within(x, room(0)), y: within(y, room(1)) };
}
