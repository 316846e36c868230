import { useEffect, useRef } from "react";
import { useNavigate, useParams } from "react-router";


import type { App } from "../../app";
import { nextWeak } from "../../engine/coverage";
import type { Engine } from "../../engine/engine";
import { removePass, switchPass } from "../../engine/passes";
import { fullScreen, renderThenPlay, setEnd, shuttle, stopPlaying, togglePlay, toKeyframe, zoomTime } from "../../engine/transport";
import { useApp } from "../../panels/app";
import { useProject } from "../../api/queries";
import { newTake, stepTake } from "../../engine/takes";
import { useEngine } from "../../panels/engine";
import type { Pane } from "../../engine/layout";
import type { Looking } from "../../engine/scene";
import { copyChosen, pasteHere } from "../../engine/clipboard";
import { busy, historyKey, typing } from "../../ui/typing";
import { spacePlays } from "../../ui/space";

type Run = (engine: Engine, e: KeyboardEvent, around: { app: App; shot: (by: 1 | -1) => void }) => void;

const toggle = (on: Partial<Looking>, off: Partial<Looking>): Run => (engine) => {
  const { now } = engine;
  engine.put(Object.entries(on).every(([k, v]) => now[k as keyof Looking] === v) ? off : on);
};
const put = (change: Partial<Looking>): Run => (engine) => engine.put(change);

const choosePass = (by: 1 | -1): Run => (engine) => {
  const { passes } = engine;
  const at = passes.findIndex((p) => p.id === engine.now.passId);
  const next = passes[Math.min(Math.max(at + by, 0), passes.length - 1)];
  if (next) engine.put({ passId: next.id });
};

/** Give up what is under way on the picture; where nothing is, give the window back. */
const giveUp: Run = (engine) => {
  const { drawing, shapeId, asks, dropper } = engine.now;
  engine.put(drawing || shapeId || asks || dropper ? { drawing: null, shapeId: null, asks: null, dropper: null } : { whole: false });
};

const frames = (by: number): Run => (engine, e) => engine.go(engine.timeline.frame + by * (e.shiftKey ? 10 : 1));
const show = (view: Looking["show"]): Run => put({ show: view });

/** The keys that fold the panes. */
export const FOLDS: Record<Pane, string> = { where: "Q", what: "E", when: "R", scope: "C" };
const fold = (pane: Pane): Run => (_, __, { app }) => app.layout.fold(pane);

/** By what a key types. */
const TYPED: Record<string, Run> = {
  y: renderThenPlay,
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
  escape: giveUp,
  s: (engine) => engine.put({ solo: !engine.now.solo, show: "result" }),
  m: (_, __, { app }) => app.sheets.setState({ shelf: true }),
  b: (engine, e) => !e.repeat && engine.put({ peek: true }),
  w: toggle({ compare: "wipe" }, { compare: "off", against: null, instead: null }),
  d: toggle({ compare: "side" }, { compare: "off", against: null, instead: null }),
  f: (engine, e) => (e.shiftKey || document.fullscreenElement ? fullScreen() : engine.put({ whole: !engine.now.whole })),
  q: fold("where"),
  e: fold("what"),
  r: fold("when"),
  c: (engine) => engine.put({ scope: { ...engine.now.scope, open: !engine.now.scope.open } }),
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
  pageup: (...all) => (all[1].shiftKey ? all[2].shot(-1) : choosePass(-1)(...all)),
  pagedown: (...all) => (all[1].shiftKey ? all[2].shot(1) : choosePass(1)(...all)),
  t: (engine) => void newTake(engine),
  "+": (engine) => zoomTime(engine, 2),
  "=": (engine) => zoomTime(engine, 2),
  "-": (engine) => zoomTime(engine, 0.5),
  "−": (engine) => zoomTime(engine, 0.5),
  x: (engine) => engine.pass && switchPass(engine, engine.pass),
  delete: (engine) => engine.pass && removePass(engine, engine.pass),
  backspace: (engine) => engine.pass && removePass(engine, engine.pass),
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
  BracketLeft: (...all) => (all[1].shiftKey ? void stepTake(all[0], -1) : choosePass(-1)(...all)),
  BracketRight: (...all) => (all[1].shiftKey ? void stepTake(all[0], 1) : choosePass(1)(...all)),
};

/** Keys that a control which was reached by the keyboard keeps for itself, besides Space. */
function keeps(target: EventTarget | null, key: string) {
  return target instanceof HTMLInputElement && target.type === "range" && (key.startsWith("arrow") || ["home", "end", "pageup", "pagedown"].includes(key));
}

const doing = (e: KeyboardEvent): Run | undefined => TYPED[e.key.toLowerCase()] ?? PLACED[e.code];

/** To the shot before or after, as the project lists them. */
function useNextShot() {
  const { projectId, shotId } = useParams();
  const navigate = useNavigate();
  const { data } = useProject(projectId);
  return (by: 1 | -1) => {
    const shots = data?.shots ?? [];
    const next = shots[shots.findIndex((s) => s.id === shotId) + by];
    if (next) void navigate(`/projects/${projectId}/shots/${next.id}`);
  };
}

/** The Bench's keyboard, while nothing is being typed and no menu or dialog is open. */
export function useKeys() {
  const engine = useEngine();
  const app = useApp();
  const next = useNextShot();
  const shot = useRef(next);
  shot.current = next;
  useEffect(() => {
    const around = { app, shot: (by: 1 | -1) => shot.current(by) };
    const space = spacePlays(() => togglePlay(engine));
    const down = (e: KeyboardEvent) => {
      if (e.defaultPrevented || typing(e.target) || busy()) return;
      const key = e.key.toLowerCase();
      const typed = e.getModifierState("AltGraph"); // tells Ctrl and Alt too, on some systems
      if ((e.ctrlKey || e.metaKey) && !typed) {
        if ((key === "c" && !getSelection()?.toString() && copyChosen(engine)) || (key === "v" && pasteHere(engine))) return e.preventDefault();
        const step = historyKey(e);
        if (!step) return;
        e.preventDefault();
        return void engine.step(step);
      }
      if (key === "enter" && e.target instanceof HTMLInputElement && e.target.type === "checkbox") return e.target.click();
      const run = doing(e);
      if (!run || (e.altKey && !typed) || (space.reached() && keeps(e.target, key))) return;
      e.preventDefault();
      run(engine, e, around);
    };
    const letGo = () => engine.put({ peek: false });
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
  }, [engine, app]);
}
