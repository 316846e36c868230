/** Space plays, whatever was clicked before; a control that was reached by the keyboard is pressed by it. */
import { busy, typing } from "./typing";

const PRESSED = "button, a, input, [role=radio], [role=slider]";

/** Listen until `stop`. reached: whether the focus was put where it is by the keyboard. (A style for that is in force with the very key that asks.) */
export function spacePlays(play: () => void): { reached: () => boolean; stop: () => void } {
  let [pointed, reached, played] = [false, false, false];
  const listeners: [string, (e: Event) => void, boolean][] = [
    ["pointerdown", () => (pointed = true), true],
    ["focusin", () => (reached = !pointed), true],
    ["keydown", (event) => {
      pointed = false;
      const e = event as KeyboardEvent;
      if (e.key !== " " || typing(e.target) || busy() || e.ctrlKey || e.metaKey || e.altKey) return;
      if (reached && e.target instanceof HTMLElement && e.target.closest(PRESSED)) return;
      played = true;
      e.preventDefault();
      e.stopPropagation();
      if (!e.repeat) play();
    }, true],
    ["keyup", (event) => {
      const e = event as KeyboardEvent;
      if (e.key !== " " || !played) return;
      played = false;
      e.preventDefault(); // a button that was clicked is not pressed by it
    }, false],
  ];
  for (const [name, listener, early] of listeners) window.addEventListener(name, listener, early);
  return {
    reached: () => reached,
    stop: () => {
      for (const [name, listener, early] of listeners) window.removeEventListener(name, listener, early);
    },
  };
}
