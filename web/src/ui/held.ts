import { useState } from "react";

import { useSettling } from "./settle";

const REST = 450; // ms after the last key before a stepped value is stored

/** A value that is shown while it is stepped or dragged, and stored once it comes to rest. */
export function useHeld<T>(value: T, onLive: (v: T) => void, onCommit: (v: T) => void) {
  const [held, setHeld] = useState<{ value: T } | null>(null);
  const settling = useSettling(REST);
  const commit = (next: T) => {
    settling.forget();
    setHeld(null);
    onCommit(next);
  };
  const show = (next: T) => {
    setHeld({ value: next });
    onLive(next);
  };
  const drag = (next: T) => {
    settling.forget();
    show(next);
  };
  const step = (next: T) => {
    show(next);
    settling.later(() => commit(next));
  };
  /** Nothing of it is to be stored. */
  const drop = () => {
    settling.giveUp();
    setHeld(null);
  };
  return { shown: held ? held.value : value, drag, step, commit, drop };
}
