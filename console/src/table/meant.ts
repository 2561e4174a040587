// The place that a line of the log means, while one points at the line.
import { ofTable } from "../parts/ofTable";

export const useMeant = ofTable<{ place: string | null }>(() => ({ place: null }));
