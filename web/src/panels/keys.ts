/** The keyboard of a room, from its table of actions. */
import { useEffect, useRef } from "react";

import { bindingsOf, type Action } from "../engine/actions";
import { listen } from "../ui/listen";
import { spacePlays } from "../ui/space";
import { elsewhere } from "../ui/typing";

type Session = { step(which: "undo" | "redo"): unknown; stage: { set(change: { peek: boolean }): void } };
type More = {
  play: () => void;
  /** What keys with Ctrl do, by their letters; each says whether it did something. */
  control?: Record<string, () => boolean>;
};

/** Keys that a control which was reached by the keyboard keeps for itself, besides Space. */
function keeps(target: EventTarget | null, key: string) {
  return target instanceof HTMLInputElement && target.type === "range" && (key.startsWith("Arrow") || ["Home", "End", "PageUp", "PageDown"].includes(key));
}

/** Do what keys say, while nothing is being typed and no menu or dialog is open. B shows the source as long as it is held. */
export function useActions<S extends Session, A>(actions: readonly Action<S, A>[], session: S, around: A, more: More) {
  const latest = useRef({ around, more });
  latest.current = { around, more };
  useEffect(() => {
    const space = spacePlays(() => latest.current.more.play());
    const step = (which: "undo" | "redo") => (e: KeyboardEvent) => {
      e.preventDefault();
      session.step(which);
    };
    const control = (letter: string) => (e: KeyboardEvent) => {
      if (latest.current.more.control![letter]!()) e.preventDefault();
    };
    const stop = listen(
      {
        ...Object.fromEntries(Object.keys(latest.current.more.control ?? {}).map((letter) => [`$mod+${letter}`, control(letter)])),
        "$mod+z": step("undo"),
        "$mod+Shift+z": step("redo"),
        "$mod+y": step("redo"),
        Enter: (e) => e.target instanceof HTMLInputElement && e.target.type === "checkbox" && e.target.click(),
        ...bindingsOf(actions, (action, e) => {
          if (space.reached() && keeps(e.target, e.key)) return;
          e.preventDefault();
          action.run(session, e, latest.current.around);
        }),
      },
      elsewhere,
    );
    const letGo = () => session.stage.set({ peek: false });
    const up = (e: KeyboardEvent) => e.key.toLowerCase() === "b" && letGo(); // whatever is held by then
    window.addEventListener("keyup", up);
    window.addEventListener("blur", letGo);
    return () => {
      space.stop();
      stop();
      window.removeEventListener("keyup", up);
      window.removeEventListener("blur", letGo);
    };
  }, [actions, session]);
}
