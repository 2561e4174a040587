// The place that a line of the log means, while one points at the line.
import { create } from "zustand";

export const useMeant = create<{ place: string | null }>(() => ({ place: null }));
