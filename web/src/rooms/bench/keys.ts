import { useEffect } from "react";

import { nextKeyframe } from "../../editor/animate";
import { nextWeak } from "../../editor/curve";
import { step } from "../../editor/edits";
import { removePass, switchPass } from "../../editor/looks";
import { copyChosen, pasteHere } from "../../editor/pins";
import { bench, documentOf, passesOf, setBench, type Bench } from "../../editor/store";
import { zoomed } from "../../editor/timespan";
import { useShortcutSheet } from "../../shell/Shortcuts";
import { fullScreen, go, setEnd, shuttle, stopPlaying, togglePlay } from "./actions";
import { zoomToggle } from "./Picture";
import { useShelf } from "./Shelf";

const toggle = (state: Partial<Bench>, off: Partial<Bench>) => {
  const now = bench();
  const on = Object.entries(state).every(([k, v]) => now[k as keyof Bench] === v);
  setBench(on ? off : state);
};

const chosen = () => passesOf(documentOf(bench())).find((p) => p.id === bench().passId);

function choosePass(by: number) {
  const passes = passesOf(documentOf(bench()));
  const at = passes.findIndex((p) => p.id === bench().passId);
  const next = passes[Math.min(Math.max(at + by, 0), passes.length - 1)];
  if (next) setBench({ passId: next.id });
}

/** To the keyframe before or after the playhead. */
const toKeyframe = (direction: 1 | -1) => {
  const next = nextKeyframe(direction);
  if (next !== null) go(next);
};

/** Time around the playhead, closer or further away. */
function zoomTime(factor: number) {
  const { stretch, view, frame } = bench();
  const last = view!.footage.facts.length - 1;
  setBench({ stretch: zoomed(stretch ?? { from: 0, to: last }, last, frame, factor) });
}

const KEYS: Record<string, (e: KeyboardEvent) => void> = {
  " ": togglePlay,
  j: () => shuttle(-1),
  k: stopPlaying,
  l: () => shuttle(1),
  arrowleft: (e) => go(bench().frame - (e.shiftKey ? 10 : 1)),
  arrowright: (e) => go(bench().frame + (e.shiftKey ? 10 : 1)),
  home: () => go(documentOf(bench())?.first ?? 0),
  end: () => go(documentOf(bench())?.last ?? 0),
  i: () => setEnd("first", bench().frame),
  o: () => setEnd("last", bench().frame),
  "1": () => setBench({ show: "result" }),
  "2": () => setBench({ show: "source" }),
  "3": () => setBench({ show: "matte" }),
  "4": () => setBench({ show: "selected" }),
  "5": () => setBench({ show: "edge" }),
  "6": () => setBench({ show: "hatched" }),
  g: (e) => {
    const next = nextWeak(e.shiftKey ? -1 : 1);
    if (next !== null) go(next);
  },
  escape: () => setBench({ drawing: null, shapeId: null, asks: null, dropper: null }),
  s: () => setBench({ solo: !bench().solo, show: "result" }),
  m: () => useShelf.setState({ open: true }),
  b: (e) => !e.repeat && setBench({ peek: true }),
  w: () => toggle({ compare: "wipe" }, { compare: "off", against: null }),
  d: () => toggle({ compare: "side" }, { compare: "off", against: null }),
  f: fullScreen,
  z: zoomToggle,
  u: () => setBench({ upTo: !bench().upTo }),
  p: () => setBench({ tool: "pick" }),
  a: () => setBench({ tool: "add" }),
  n: () => setBench({ tool: "refuse" }),
  h: () => setBench({ tool: "hand" }),
  ",": () => toKeyframe(-1),
  ".": () => toKeyframe(1),
  "[": () => choosePass(-1),
  "]": () => choosePass(1),
  "+": () => zoomTime(2),
  "=": () => zoomTime(2),
  "-": () => zoomTime(0.5),
  "0": () => setBench({ stretch: null }),
  x: () => chosen() && switchPass(chosen()!),
  delete: () => chosen() && removePass(chosen()!),
  "?": () => useShortcutSheet.setState({ open: true }),
};

/** To the next area of the Bench, or the one before: its first control takes the focus. */
function nextArea(direction: 1 | -1) {
  const areas = [...document.querySelectorAll<HTMLElement>("header, main [aria-label=Stages], main > section")];
  const at = areas.findIndex((a) => a.contains(document.activeElement));
  const next = areas[(at + direction + areas.length) % areas.length];
  next?.querySelector<HTMLElement>("button:not(:disabled), a[href], input:not([type=file]), [tabindex='0']")?.focus();
}

function typing(target: EventTarget | null) {
  return target instanceof HTMLElement && (target.isContentEditable || ["INPUT", "TEXTAREA", "SELECT"].includes(target.tagName));
}

/** The Bench's keyboard, while nothing is being typed and no menu or dialog is open. */
export function useKeys() {
  useEffect(() => {
    const down = (e: KeyboardEvent) => {
      if (e.key === "F6") {
        e.preventDefault();
        return nextArea(e.shiftKey ? -1 : 1);
      }
      if (typing(e.target) || document.querySelector("[role=dialog],[role=menu]")) return;
      const key = e.key.toLowerCase();
      if (e.ctrlKey || e.metaKey) {
        if ((key === "c" && !getSelection()?.toString() && copyChosen()) || (key === "v" && pasteHere())) return e.preventDefault();
        if (key !== "z") return;
        e.preventDefault();
        return void step(e.shiftKey ? "redo" : "undo");
      }
      const run = KEYS[key];
      if (!run || e.altKey) return;
      if (key === " " && e.target instanceof HTMLButtonElement) e.target.blur();
      e.preventDefault();
      run(e);
    };
    const up = (e: KeyboardEvent) => e.key.toLowerCase() === "b" && setBench({ peek: false });
    window.addEventListener("keydown", down);
    window.addEventListener("keyup", up);
    return () => {
      window.removeEventListener("keydown", down);
      window.removeEventListener("keyup", up);
    };
  }, []);
}
