// What belongs to one table, and not to the next one that this page shows: stores that
// are made with it and gone with it.
import { createStore, useStore, type StateCreator, type StoreApi } from "zustand";

/** The stores of the table that is shown, by whoever asked for them. */
let stores = new Map<object, StoreApi<unknown>>();

/** A store of whichever table is shown: a hook, and what reads and sets it elsewhere. */
export interface OfTable<T> {
  (): T;
  <U>(pick: (state: T) => U): U;
  getState: () => T;
  setState: (change: Partial<T> | ((state: T) => Partial<T>)) => void;
  subscribe: StoreApi<T>["subscribe"];
}

/** Says what each table begins with. */
export function ofTable<T>(initial: StateCreator<T>): OfTable<T> {
  const here = (): StoreApi<T> => {
    let store = stores.get(initial) as StoreApi<T> | undefined;
    if (!store) {
      store = createStore<T>(initial);
      stores.set(initial, store as StoreApi<unknown>);
    }
    return store;
  };
  const use = <U>(pick?: (state: T) => U) => useStore(here(), pick ?? ((state: T) => state as unknown as U));
  return Object.assign(use as OfTable<T>, {
    getState: () => here().getState(),
    setState: (change: Partial<T> | ((state: T) => Partial<T>)) => here().setState(change),
    subscribe: (listener: (state: T, before: T) => void) => here().subscribe(listener),
  });
}

/** Another table is shown, or none: what belonged to the last one is gone. */
export function leaveTable(): void {
  stores = new Map();
}
