import { useContext, useEffect, useRef, type PointerEvent } from "react";

import { SettlingContext } from "./settle";

type Moves<T> = {
  /** The pointer has moved: what the drag is now, from what it was. */
  move: (held: T, e: PointerEvent) => T;
  /** It was let go. */
  end: (held: T) => void;
  /** It was given up, by Escape or because the pointer was taken away: nothing is to be stored. */
  giveUp?: () => void;
};

/** A drag with the pointer. What is typed elsewhere is stored first; what is dragged is held here from the press to the end; Escape gives it up. */
export function useDrag<T>(moves: Moves<T>) {
  const settling = useContext(SettlingContext);
  const held = useRef<{ value: T } | null>(null);
  const newest = useRef(moves);
  newest.current = moves;
  const escape = useRef((e: KeyboardEvent) => {
    if (e.key !== "Escape" || !held.current) return;
    e.preventDefault();
    e.stopPropagation();
    over();
    newest.current.giveUp?.();
  });
  const over = () => {
    held.current = null;
    window.removeEventListener("keydown", escape.current, true);
  };
  useEffect(() => {
    const { current } = escape;
    return () => {
      window.removeEventListener("keydown", current, true);
      if (!held.current) return;
      held.current = null; // what was dragged is gone: nothing is to be stored of it
      newest.current.giveUp?.();
    };
  }, []);
  return {
    /** value: what is dragged, or what says it once everything is stored; null: nothing is. */
    begin: (e: PointerEvent, value: T | (() => T | null), element: Element = e.currentTarget) => {
      settling?.now();
      const first = typeof value === "function" ? (value as () => T | null)() : value;
      if (typeof value === "function" && first === null) return;
      element.setPointerCapture(e.pointerId);
      held.current = { value: first as T };
      window.addEventListener("keydown", escape.current, true);
    },
    dragging: () => held.current !== null,
    handlers: {
      onPointerMove: (e: PointerEvent) => {
        if (!held.current) return;
        e.stopPropagation();
        held.current = { value: newest.current.move(held.current.value, e) };
      },
      onPointerUp: (e: PointerEvent) => {
        if (!held.current) return;
        e.stopPropagation();
        const { value } = held.current;
        over();
        newest.current.end(value);
      },
      onPointerCancel: () => {
        if (!held.current) return;
        over();
        newest.current.giveUp?.();
      },
    },
  };
}
