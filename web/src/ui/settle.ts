/** Values that were stepped by keys are stored after a moment of rest; what moves on to another frame or place stores them first. */
import { useEffect, useRef, useSyncExternalStore } from "react";

const waiting = new Set<() => void>();
const listeners = new Set<() => void>();

function wait(store: () => void, on: boolean) {
  if (on) waiting.add(store);
  else waiting.delete(store);
  listeners.forEach((tell) => tell());
}

function listen(tell: () => void) {
  listeners.add(tell);
  return () => void listeners.delete(tell);
}

/** Whether a value waits for rest before it is stored. */
export const useWaiting = () => useSyncExternalStore(listen, () => waiting.size > 0);

/** Store everything that still waits for rest, now. */
export function settleAll() {
  waiting.forEach((store) => store());
}

/** A delayed store: at rest, when everything is settled, or when the control goes away. */
export function useSettling(rest: number) {
  const timer = useRef<number>(undefined);
  const store = useRef<(() => void) | null>(null);
  const now = useRef(() => {
    window.clearTimeout(timer.current);
    wait(now.current, false);
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
      wait(now.current, true);
      window.clearTimeout(timer.current);
      timer.current = window.setTimeout(now.current, rest);
    },
    /** Forget what was waiting: it is stored otherwise. */
    forget: () => {
      store.current = null;
      now.current();
    },
  };
}
