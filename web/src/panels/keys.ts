/** The keyboard of a room, from its table of actions. */
import { useEffect, useRef } from "react";

import { actionOf, type Action } from "../engine/actions";
import { spacePlays } from "../ui/space";
import { busy, historyKey, typing } from "../ui/typing";

type Session = { step(which: "undo" | "redo"): unknown; stage: { set(change: { peek: boolean }): void } };
type More = {
  play: () => void;
  /** What Ctrl and a key does, before undo and redo; whether it did something. */
  control?: (key: string) => boolean;
};

/** Keys that a control which was reached by the keyboard keeps for itself, besides Space. */
function keeps(target: EventTarget | null, key: string) {
  return target instanceof HTMLInputElement && target.type === "range" && (key.startsWith("arrow") || ["home", "end", "pageup", "pagedown"].includes(key));
}

/** Do what keys say, while nothing is being typed and no menu or dialog is open. B shows the source as long as it is held. */
export function useActions<S extends Session, A>(actions: readonly Action<S, A>[], session: S, around: A, more: More) {
  const latest = useRef({ around, more });
  latest.current = { around, more };
  useEffect(() => {
    const space = spacePlays(() => latest.current.more.play());
    const down = (e: KeyboardEvent) => {
      if (e.defaultPrevented || typing(e.target) || busy()) return;
      const key = e.key.toLowerCase();
      const typed = e.getModifierState("AltGraph"); // tells Ctrl and Alt too, on some systems
      if ((e.ctrlKey || e.metaKey) && !typed) {
        if (latest.current.more.control?.(key)) return e.preventDefault();
        const step = historyKey(e);
        if (!step) return;
        e.preventDefault();
        return void session.step(step);
      }
      if (key === "enter" && e.target instanceof HTMLInputElement && e.target.type === "checkbox") return e.target.click();
      const action = actionOf(actions, e);
      if (!action || (e.altKey && !typed) || (space.reached() && keeps(e.target, key))) return;
      e.preventDefault();
      action.run(session, e, latest.current.around);
    };
    const letGo = () => session.stage.set({ peek: false });
    const up = (e: KeyboardEvent) => {
      if (e.key.toLowerCase() === "b") letGo();
    };
    window.addEventListener("keydown", down);
    window.addEventListener("keyup", up);
    window.addEventListener("blur", letGo);
    return () => {
      space.stop();
      window.removeEventListener("keydown", down);
      window.removeEventListener("keyup", up);
      window.removeEventListener("blur", letGo);
    };
  }, [actions, session]);
}
