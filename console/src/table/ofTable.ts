// What belongs to one table, and not to the next one that this page shows: a store that
// begins anew with it.
import { create, type StateCreator, type StoreApi, type UseBoundStore } from "zustand";

const all: (() => void)[] = [];

/** A store of the table that is shown. */
export function ofTable<T>(initial: StateCreator<T>): UseBoundStore<StoreApi<T>> {
  const store = create<T>(initial);
  all.push(() => store.setState(store.getInitialState(), true));
  return store;
}

/** Forgets what belonged to the table that was shown. */
export function forgetTable(): void {
  for (const forget of all) forget();
}
