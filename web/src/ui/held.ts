import { useEffect, useRef, useState } from "react";

const REST = 450; // ms after the last key before a stepped value is stored

/** A value that is shown while it is stepped or dragged, and stored once it comes to rest. */
export function useHeld<T>(value: T, onLive: (v: T) => void, onCommit: (v: T) => void) {
  const [held, setHeld] = useState<{ value: T } | null>(null);
  const timer = useRef<number>(undefined);
  useEffect(() => () => window.clearTimeout(timer.current), []);
  const commit = (next: T) => {
    window.clearTimeout(timer.current);
    setHeld(null);
    onCommit(next);
  };
  const drag = (next: T) => {
    window.clearTimeout(timer.current);
    setHeld({ value: next });
    onLive(next);
  };
  const step = (next: T) => {
    drag(next);
    timer.current = window.setTimeout(() => commit(next), REST);
  };
  const drop = () => {
    window.clearTimeout(timer.current);
    setHeld(null);
  };
  return { shown: held ? held.value : value, drag, step, commit, drop };
}
