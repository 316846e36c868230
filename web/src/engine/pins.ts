/** The pins that are chosen in the lanes, and those that were copied. */
import { createStore, type StoreApi } from "zustand/vanilla";

import type { Copied, Pin } from "./lanes";

/** A box being drawn over lanes: from one frame to another. */
export type Box = { from: number; to: number; targets: string[] };

export type PinsState = {
  chosen: Pin[];
  copied: Copied;
  box: Box | null;
  /** The lane whose values are drawn as a graph. */
  open: string | null;
};

export class Pins {
  readonly state: StoreApi<PinsState> = createStore<PinsState>(() => ({ chosen: [], copied: [], box: null, open: null }));

  choose(chosen: Pin[]) {
    this.state.setState({ chosen });
  }
}
