/** Values that were stepped by keys are stored after a moment of rest; what moves on to another frame or place stores them first. */
import { useEffect, useRef } from "react";

const waiting = new Set<() => void>();

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
    waiting.delete(now.current);
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
      waiting.add(now.current);
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
