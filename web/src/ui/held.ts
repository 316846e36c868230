import { useRef } from "react";

import { useSettling } from "./settle";

const REST = 450; // ms after the last key before a stepped value is stored

/** What becomes of a value, from what it is by then. */
type Change<T> = (now: T) => T;

/** A value that is changed while it is stepped or dragged, and stored once it comes to rest: always as a change of what it is by then. */
export function useHeld<T>(onLive: (change: Change<T>) => void, onCommit: (change: Change<T>, words: string) => void) {
  const held = useRef<Change<T> | null>(null);
  const settling = useSettling(REST);
  /** All that is under way, with one change more. */
  const grown = (change: Change<T>): Change<T> => {
    const before = held.current;
    return (held.current = before ? (now) => change(before(now)) : change);
  };
  const store = (words: string) => {
    const all = held.current;
    held.current = null;
    if (all) onCommit(all, words);
  };
  return {
    drag: (change: Change<T>) => {
      settling.forget();
      onLive(grown(change));
    },
    step: (change: Change<T>, words: string) => {
      onLive(grown(change));
      settling.later(() => store(words));
    },
    /** Store what is under way. */
    rest: (words: string) => {
      settling.forget();
      store(words);
    },
    /** Store what is under way, with this last change. */
    commit: (change: Change<T>, words: string) => {
      settling.forget();
      grown(change);
      store(words);
    },
    /** Nothing of it is to be stored. */
    drop: () => {
      held.current = null;
      settling.giveUp();
    },
  };
}
