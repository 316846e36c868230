import { useEffect } from "react";

import type { App } from "../../app";
import { nextWeak } from "../../engine/coverage";
import type { Engine } from "../../engine/engine";
import { removePass, switchPass } from "../../engine/passes";
import { fullScreen, setEnd, shuttle, stopPlaying, togglePlay, toKeyframe, zoomTime } from "../../engine/transport";
import { useApp } from "../../panels/app";
import { useEngine } from "../../panels/engine";
import type { Looking } from "../../engine/scene";
import { copyChosen, pasteHere } from "../../engine/clipboard";

type Run = (engine: Engine, e: KeyboardEvent, app: App) => void;

const toggle = (on: Partial<Looking>, off: Partial<Looking>): Run => (engine) => {
  const { now } = engine;
  engine.put(Object.entries(on).every(([k, v]) => now[k as keyof Looking] === v) ? off : on);
};
const put = (change: Partial<Looking>): Run => (engine) => engine.put(change);

const choosePass = (by: number): Run => (engine) => {
  const { passes } = engine;
  const at = passes.findIndex((p) => p.id === engine.now.passId);
  const next = passes[Math.min(Math.max(at + by, 0), passes.length - 1)];
  if (next) engine.put({ passId: next.id });
};

const frames = (by: number): Run => (engine, e) => engine.go(engine.timeline.frame + by * (e.shiftKey ? 10 : 1));
const show = (view: Looking["show"]): Run => put({ show: view });

/** By what a key types. */
const TYPED: Record<string, Run> = {
  " ": togglePlay,
  j: (engine) => shuttle(engine, -1),
  k: stopPlaying,
  l: (engine) => shuttle(engine, 1),
  arrowleft: frames(-1),
  arrowright: frames(1),
  home: (engine) => engine.go(engine.timeline.ends.first),
  end: (engine) => engine.go(engine.timeline.ends.last),
  i: (engine) => setEnd(engine, "first", engine.timeline.frame),
  o: (engine) => setEnd(engine, "last", engine.timeline.frame),
  g: (engine, e) => {
    const next = nextWeak(engine.now.curve?.weak ?? [], engine.timeline.frame, e.shiftKey ? -1 : 1);
    if (next !== null) engine.go(next);
  },
  escape: put({ drawing: null, shapeId: null, asks: null, dropper: null }),
  s: (engine) => engine.put({ solo: !engine.now.solo, show: "result" }),
  m: (_, __, app) => app.sheets.setState({ shelf: true }),
  b: (engine, e) => !e.repeat && engine.put({ peek: true }),
  w: toggle({ compare: "wipe" }, { compare: "off", against: null }),
  d: toggle({ compare: "side" }, { compare: "off", against: null }),
  f: fullScreen,
  z: (engine) => engine.stage.zoomToggle(),
  v: (engine) => engine.put({ outlines: !engine.now.outlines }),
  u: (engine) => engine.put({ upTo: !engine.now.upTo }),
  p: put({ tool: "pick" }),
  a: put({ tool: "add" }),
  n: put({ tool: "refuse" }),
  h: put({ tool: "hand" }),
  "[": choosePass(-1),
  "]": choosePass(1),
  ",": (engine) => toKeyframe(engine, -1),
  ".": (engine) => toKeyframe(engine, 1),
  pageup: choosePass(-1),
  pagedown: choosePass(1),
  "+": (engine) => zoomTime(engine, 2),
  "=": (engine) => zoomTime(engine, 2),
  "-": (engine) => zoomTime(engine, 0.5),
  "−": (engine) => zoomTime(engine, 0.5),
  x: (engine) => engine.pass && switchPass(engine, engine.pass),
  delete: (engine) => engine.pass && removePass(engine, engine.pass),
  "?": (_, __, app) => app.sheets.setState({ keyboard: true }),
};

/** By where a key is: what it types there may need Shift or AltGr on other keyboards. */
const PLACED: Record<string, Run> = {
  Digit1: show("result"),
  Digit2: show("source"),
  Digit3: show("matte"),
  Digit4: show("selected"),
  Digit5: show("edge"),
  Digit6: show("hatched"),
  Digit0: put({ stretch: null }),
  BracketLeft: choosePass(-1),
  BracketRight: choosePass(1),
};

/** To the next area of the Bench, or the one before: its first control takes the focus. */
function nextArea(direction: 1 | -1) {
  const areas = [...document.querySelectorAll<HTMLElement>("header, main [aria-label=Stages], main > section")];
  const at = areas.findIndex((a) => a.contains(document.activeElement));
  const next = areas[(at + direction + areas.length) % areas.length];
  next?.querySelector<HTMLElement>("button:not(:disabled), a[href], input:not([type=file]), [tabindex='0']")?.focus();
}

const NOT_TYPED = new Set(["checkbox", "radio", "button", "submit", "range", "color", "file"]);

/** Whether keys go to what has the focus: text, or a list that is open to the keyboard. */
function typing(target: EventTarget | null) {
  if (target instanceof HTMLInputElement) return !NOT_TYPED.has(target.type);
  return target instanceof HTMLElement && (target.isContentEditable || target.tagName === "TEXTAREA" || target.tagName === "SELECT");
}

/** Keys that a control which was reached by the keyboard keeps for itself. */
function keeps(target: EventTarget | null, key: string) {
  if (!(target instanceof HTMLElement)) return false;
  if (target instanceof HTMLInputElement && target.type === "range") return key.startsWith("arrow") || ["home", "end", "pageup", "pagedown"].includes(key);
  const pressed = target instanceof HTMLButtonElement || target instanceof HTMLAnchorElement || target instanceof HTMLInputElement || target.role === "button";
  return pressed && key === " ";
}

const doing = (e: KeyboardEvent): Run | undefined => TYPED[e.key.toLowerCase()] ?? PLACED[e.code];

/** The Bench's keyboard, while nothing is being typed and no menu or dialog is open. */
export function useKeys() {
  const engine = useEngine();
  const app = useApp();
  useEffect(() => {
    // Whether the focus was put where it is by the keyboard. (A style for that is in force with the very key that asks.)
    let [pointed, reached] = [false, false];
    const point = () => (pointed = true);
    const focus = () => (reached = !pointed);
    const down = (e: KeyboardEvent) => {
      pointed = false;
      if (e.key === "F6") {
        e.preventDefault();
        return nextArea(e.shiftKey ? -1 : 1);
      }
      if (e.defaultPrevented || typing(e.target) || document.querySelector("[role=dialog],[role=menu],[role=listbox]")) return;
      const key = e.key.toLowerCase();
      const typed = e.getModifierState("AltGraph"); // tells Ctrl and Alt too, on some systems
      if ((e.ctrlKey || e.metaKey) && !typed) {
        if ((key === "c" && !getSelection()?.toString() && copyChosen(engine)) || (key === "v" && pasteHere(engine))) return e.preventDefault();
        if (key !== "z") return;
        e.preventDefault();
        return void engine.step(e.shiftKey ? "redo" : "undo");
      }
      const run = doing(e);
      if (!run || (e.altKey && !typed) || (reached && keeps(e.target, key))) return;
      if (key === " " && e.target instanceof HTMLButtonElement) e.target.blur();
      e.preventDefault();
      run(engine, e, app);
    };
    const letGo = () => engine.put({ peek: false });
    const up = (e: KeyboardEvent) => e.key.toLowerCase() === "b" && letGo();
    window.addEventListener("keydown", down);
    window.addEventListener("keyup", up);
    window.addEventListener("blur", letGo);
    window.addEventListener("pointerdown", point, true);
    window.addEventListener("focusin", focus, true);
    return () => {
      window.removeEventListener("keydown", down);
      window.removeEventListener("keyup", up);
      window.removeEventListener("blur", letGo);
      window.removeEventListener("pointerdown", point, true);
      window.removeEventListener("focusin", focus, true);
    };
  }, [engine, app]);
}
