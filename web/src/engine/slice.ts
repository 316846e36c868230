/** A part of what is looked at, by itself: read by selectors, put by changes whose names and types are its own. */
import { createStore, type StoreApi } from "zustand/vanilla";

export class Slice<S extends object> {
  readonly state: StoreApi<S>;

  constructor(first: S) {
    this.state = createStore<S>(() => first);
  }

  get now(): S {
    return this.state.getState();
  }

  /** Change what is named; the rest stays. */
  set(change: Partial<S>) {
    this.state.setState(change);
  }
}
