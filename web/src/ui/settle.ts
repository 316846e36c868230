/** Values that are typed, stepped or dragged are stored after a moment of rest; what moves on to another frame or place stores them first. */
import { createContext, useContext, useEffect, useRef, useSyncExternalStore } from "react";

export class Settling {
  /** drop: gives up what is shown and not stored. */
  constructor(private drop: () => void) {}

  private waiting = new Set<() => void>();
  private listeners = new Set<() => void>();

  private tell() {
    for (const listener of this.listeners) listener();
  }

  put(store: () => void, on: boolean) {
    if (on === this.waiting.has(store)) return;
    if (on) this.waiting.add(store);
    else this.waiting.delete(store);
    this.tell();
  }

  listen = (listener: () => void): (() => void) => {
    this.listeners.add(listener);
    return () => void this.listeners.delete(listener);
  };

  /** Whether a value waits for rest before it is stored. */
  some = () => this.waiting.size > 0;

  /** Nothing is to be stored of what is shown now. */
  giveUp = () => this.drop();

  /** Store everything that still waits, now. Whether there was anything. */
  now = (): boolean => {
    const all = [...this.waiting];
    for (const store of all) store();
    return all.length > 0;
  };
}

export const SettlingContext = createContext<Settling | null>(null);

const useSettlings = () => {
  const found = useContext(SettlingContext);
  if (!found) throw new Error("There is no Settling around this.");
  return found;
};

/** Whether a value waits for rest before it is stored. */
export function useWaiting() {
  const settling = useSettlings();
  return useSyncExternalStore(settling.listen, settling.some);
}

/** A delayed store: at rest (never, where `rest` is null), when everything is settled, or when the control goes away. */
export function useSettling(rest: number | null) {
  const settling = useSettlings();
  const timer = useRef<number>(undefined);
  const store = useRef<(() => void) | null>(null);
  const now = useRef(() => {
    window.clearTimeout(timer.current);
    settling.put(now.current, false);
    const run = store.current;
    store.current = null;
    run?.();
  });
  useEffect(() => {
    const { current } = now;
    return () => current();
  }, []);
  return {
    /** Store with this, later. It takes the place of what was waiting. */
    later: (run: () => void) => {
      store.current = run;
      settling.put(now.current, true);
      window.clearTimeout(timer.current);
      if (rest !== null) timer.current = window.setTimeout(now.current, rest);
    },
    /** Forget what was waiting: it is stored otherwise. */
    forget: () => {
      store.current = null;
      now.current();
    },
    /** Forget what was waiting, and what is shown of it. */
    giveUp: () => {
      store.current = null;
      now.current();
      settling.giveUp();
    },
  };
}
