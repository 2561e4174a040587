// What the bench speaks of: the core's own types, as make describe writes them.
import type { PackedSheet } from "./types.gen";

export type * from "./types.gen";

/** A sheet that was packed, with its picture. */
export interface Packed extends PackedSheet {
  png: Uint8Array;
}
