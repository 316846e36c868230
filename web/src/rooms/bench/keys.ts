import { useNavigate, useParams } from "react-router";


import type { App } from "../../app";
import { nextWeak } from "../../engine/coverage";
import type { BenchSession } from "../../engine/bench";
import { addObject, chosenObject, nextAsking, sizeBrush, takeBrush } from "../../engine/objects";
import { removePass, switchPass } from "../../engine/passes";
import { fullScreen, renderThenPlay, setEnd, shuttle, stopPlaying, togglePlay, toKeyframe, zoomTime } from "../../engine/transport";
import { useApp, useTellActions } from "../../panels/app";
import { useProject } from "../../api/queries";
import { newTake, stepTake } from "../../engine/takes";
import { useEngine } from "../../panels/engine";
import type { Pane } from "../../engine/layout";
import type { Tool } from "../../engine/choice";
import type { View } from "../../api/types";
import { copyChosen, pasteHere } from "../../engine/clipboard";
import type { Action, Told } from "../../engine/actions";
import { useActions } from "../../panels/keys";

type Around = { app: App; shot: (by: 1 | -1) => void };
type Run = Action<BenchSession, Around>["run"];

const compare = (how: "wipe" | "side"): Run => ({ stage }) => stage.compareBy(how);
const tool = (tool: Tool): Run => (engine) => engine.choice.set({ tool });

const choosePass = (by: 1 | -1): Run => (engine) => {
  const { passes } = engine;
  const at = passes.findIndex((p) => p.id === engine.now.passId);
  const next = passes[Math.min(Math.max(at + by, 0), passes.length - 1)];
  if (next) engine.choosePass(next.id);
};

/** Give up what is under way on the picture; where nothing is, give the window back. */
const giveUp: Run = (engine) => {
  const { drawing, shapeId, asks, dropper, brush } = engine.now;
  if (drawing || shapeId || asks || dropper || brush) engine.choice.set({ drawing: null, shapeId: null, asks: null, dropper: null, brush: null });
  else engine.stage.set({ whole: false });
};

const strokeObject = (engine: BenchSession, kind: "this" | "not this") => (chosenObject(engine) ? takeBrush(engine, kind) : addObject(engine));

const frames = (by: number): Run => (engine, e) => engine.go(engine.timeline.frame + by * (e.shiftKey ? 10 : 1));
const show = (view: View): Run => (engine) => engine.stage.set({ show: view });

/** The keys that fold the panes. */
export const FOLDS: Record<"where" | "what" | "when" | "scope", string> = { where: "Q", what: "E", when: "R", scope: "C" };
const fold = (pane: Pane): Run => (_, __, { app }) => app.layout.fold(pane);

const action = (id: string, group: string, words: string, keys: string[], run: Run, told?: string): Action<BenchSession, Around> => ({ id, group, words, keys, run, ...(told && { told }) });
const [TIME, PICTURE, PICKING, PASSES, TAKES, PANES_] = ["Time", "Picture", "Picking", "Passes", "Shots and takes", "Panes"];

/** What the Bench's keys do. */
export const ACTIONS: readonly Action<BenchSession, Around>[] = [
  action("fill", TIME, "render from in to out, then play", ["y"], renderThenPlay),
  action("back", TIME, "play backwards; again is faster", ["j"], (engine) => shuttle(engine, -1)),
  action("stop", TIME, "stop", ["k"], stopPlaying),
  action("on", TIME, "play; again is faster", ["l"], (engine) => shuttle(engine, 1)),
  action("frame back", TIME, "one frame back; with Shift ten", ["arrowleft"], frames(-1)),
  action("frame on", TIME, "one frame on; with Shift ten", ["arrowright"], frames(1)),
  action("first", TIME, "first frame of the shot", ["home"], (engine) => engine.go(engine.timeline.ends.first)),
  action("last", TIME, "last frame of the shot", ["end"], (engine) => engine.go(engine.timeline.ends.last)),
  action("in", TIME, "set the in here", ["i"], (engine) => setEnd(engine, "first", engine.timeline.frame)),
  action("out", TIME, "set the out here", ["o"], (engine) => setEnd(engine, "last", engine.timeline.frame)),
  action("keyframe before", TIME, "the keyframe before", [","], (engine) => toKeyframe(engine, -1)),
  action("keyframe after", TIME, "the keyframe after", ["."], (engine) => toKeyframe(engine, 1)),
  action("closer", TIME, "the ruler closer", ["+", "="], (engine) => zoomTime(engine, 2), "+"),
  action("further", TIME, "the ruler further away", ["-", "−"], (engine) => zoomTime(engine, 0.5), "−"),
  action("all", TIME, "all of the shot on the ruler", ["Digit0"], (engine) => engine.timeline.set({ stretch: null })),
  action("weak", TIME, "next weak frame of the selection, or where its chosen object asks for a stroke; with Shift the one before", ["g"], (engine, e) => {
    const [by, frame] = [e.shiftKey ? -1 : 1, engine.timeline.frame] as const;
    const next = nextAsking(engine.now.sure?.values ?? [], frame, by) ?? nextWeak(engine.now.curve?.weak ?? [], frame, by);
    if (next !== null) engine.go(next);
  }),
  action("result", PICTURE, "result", ["Digit1"], show("result")),
  action("source", PICTURE, "source", ["Digit2"], show("source")),
  action("matte", PICTURE, "matte", ["Digit3"], show("matte")),
  action("selected", PICTURE, "selected colour only", ["Digit4"], show("selected")),
  action("edge", PICTURE, "edge", ["Digit5"], show("edge")),
  action("hatched", PICTURE, "hatched", ["Digit6"], show("hatched")),
  action("peek", PICTURE, "before and after: hold to see the source", ["b"], (engine, e) => !e.repeat && engine.stage.set({ peek: true })),
  action("outlines", PICTURE, "outlines and handles on the picture, or not", ["v"], (engine) => engine.stage.set({ outlines: !engine.now.outlines })),
  action("wipe", PICTURE, "wipe", ["w"], compare("wipe")),
  action("side", PICTURE, "side by side", ["d"], compare("side")),
  action("whole", PICTURE, "the picture takes the window, or gives it back; with Shift the whole screen", ["f"], (engine, e) =>
    e.shiftKey || document.fullscreenElement ? fullScreen() : engine.stage.set({ whole: !engine.now.whole })),
  action("zoom", PICTURE, "fit or 100 %", ["z"], (engine) => engine.stage.zoomToggle()),
  action("up to", PICTURE, "up to the chosen pass, or finished", ["u"], (engine) => engine.stage.set({ upTo: !engine.now.upTo })),
  action("alone", PICTURE, "the chosen pass alone", ["s"], (engine) => engine.stage.set({ solo: !engine.now.solo, show: "result" })),
  action("pick", PICKING, "new pick; with Shift stroke an object", ["p"], (engine, e) => (e.shiftKey ? strokeObject(engine, "this") : engine.choice.set({ tool: "pick" }))),
  action("add pick", PICKING, "add pick", ["a"], tool("add")),
  action("not this", PICKING, "not this; with Shift stroke what an object is not", ["n"], (engine, e) => (e.shiftKey ? strokeObject(engine, "not this") : engine.choice.set({ tool: "refuse" }))),
  action("hand", PICKING, "hand: move the picture (or hold the middle button)", ["h"], tool("hand")),
  action("smaller brush", PICKING, "a smaller brush", ["<"], (engine) => sizeBrush(engine, 0.8)),
  action("larger brush", PICKING, "a larger brush", [">"], (engine) => sizeBrush(engine, 1.25)),
  action("give up", PICKING, "give up what is being drawn or asked for", ["escape"], giveUp),
  action("pass before", PASSES, "choose the pass before; with Shift the take before", ["[", "BracketLeft"], (...all) => (all[1].shiftKey ? void stepTake(all[0], -1) : choosePass(-1)(...all)), "["),
  action("pass after", PASSES, "choose the pass after; with Shift the next take", ["]", "BracketRight"], (...all) => (all[1].shiftKey ? void stepTake(all[0], 1) : choosePass(1)(...all)), "]"),
  action("shelf", PASSES, "the shelf: finished and saved looks", ["m"], (_, __, { app }) => app.dialogs.setState({ shelf: true })),
  action("bypass", PASSES, "bypass the chosen pass", ["x"], (engine) => engine.pass && switchPass(engine, engine.pass)),
  action("remove", PASSES, "remove the chosen pass", ["delete", "backspace"], (engine) => engine.pass && removePass(engine, engine.pass)),
  action("shot before", TAKES, "the pass before; with Shift the shot before", ["pageup"], (...all) => (all[1].shiftKey ? all[2].shot(-1) : choosePass(-1)(...all))),
  action("shot after", TAKES, "the pass after; with Shift the next shot", ["pagedown"], (...all) => (all[1].shiftKey ? all[2].shot(1) : choosePass(1)(...all))),
  action("take", TAKES, "new take of this state", ["t"], (engine) => void newTake(engine)),
  action("where", PANES_, "fold or unfold where", ["q"], fold("where")),
  action("what", PANES_, "fold or unfold what", ["e"], fold("what")),
  action("when", PANES_, "fold or unfold when", ["r"], fold("when")),
  action("scope", PANES_, "show or hide the scope", ["c"], (engine) => engine.stage.set({ scope: { ...engine.now.scope, open: !engine.now.scope.open } })),
];

/** What other keys do here: on the picture, on lanes, on panes. */
export const MORE: readonly Told[] = [
  { group: "Time", told: "Space", words: "play or pause; presses a control that was reached by Tab" },
  { group: "Shapes", told: "arrows", words: "on a chosen shape: nudge; Shift ×10, Alt turns, Ctrl scales" },
  { group: "Shapes", told: "Delete", words: "remove the shape or its point" },
  { group: "Shapes", told: "Enter  Esc", words: "close or give up what is being drawn" },
  { group: "Keyframes", told: "← →", words: "on a chosen pin: move it; with Shift ten" },
  { group: "Keyframes", told: "Ctrl C  Ctrl V", words: "copy the chosen pins, or the pass; paste them here" },
  { group: "Keyframes", told: "Delete", words: "remove the chosen pins" },
  { group: "Keyframes", told: "Enter", words: "go to the pin" },
  { group: "Panes", told: "arrows", words: "on the edge of a pane: more or less room" },
];

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

/** The Bench's keyboard. */
export function useKeys() {
  const engine = useEngine();
  const app = useApp();
  const shot = useNextShot();
  useTellActions(ACTIONS, MORE);
  useActions(ACTIONS, engine, { app, shot }, {
    play: () => togglePlay(engine),
    control: { c: () => !getSelection()?.toString() && copyChosen(engine), v: () => pasteHere(engine) },
  });
}
