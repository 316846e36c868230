/** The keys of the reel's room. */
import { useNavigate } from "react-router";

import { liftItems, removeStretch, roll, slip } from "../../engine/reel/cutting";
import { addSpan, nearestCut, nextTransition, nudgeItem, removeItems, split, toCut, trim } from "../../engine/reel/edits";
import { newReelTake } from "../../engine/reel/takes";
import type { ReelSession } from "../../engine/reel/reel";
import { join as target } from "../../engine/commands";
import { renderThenPlay, shuttle, stopPlaying, togglePlay, zoomTime } from "../../engine/transport";
import type { Action, Told } from "../../engine/actions";
import { useTellActions } from "../../panels/app";
import { useActions } from "../../panels/keys";
import { benchOf, benchOfItem, useReel } from "./context";
import { putAtPlayhead, putInPlace } from "./pieces";

type Go = (to: string) => void;
type Run = Action<ReelSession, Go>["run"];

const compare = (how: "wipe" | "side"): Run => ({ stage }) => stage.compareBy(how);
const edge = (which: "first" | "last"): Run => (reel, e) => trim(reel, reel.items, which, e.shiftKey ? -1 : 1);
const mark = (which: "first" | "last"): Run => (reel, e) => (e.shiftKey ? reel.mark(null) : reel.markEnd(which, reel.timeline.frame));

/** Take out what is chosen; with Shift a gap stays. */
const remove: Run = (reel, e) => {
  const { chosen } = reel.now;
  if (!chosen || chosen.kind === "item") return e.shiftKey ? liftItems(reel, reel.items) : removeItems(reel, reel.items);
  const list = chosen.kind === "transition" ? "transitions" : "spans";
  void reel.edit(chosen.ids.map((id) => ({ do: "remove", target: target(list, id) })), chosen.kind === "transition" ? "A plain cut" : "Span removed");
};

/** What lies from in to out is taken out. */
const takeOut: Run = (reel) => {
  const { marks } = reel.now;
  if (!marks) return reel.around.say("Mark an in (I) and an out (O) first: what lies between them is taken out.");
  removeStretch(reel, reel.ends.first, reel.ends.last);
};

const rollNearest: Run = (reel, e) => {
  const before = nearestCut(reel);
  if (before) roll(reel, before, e.shiftKey ? -1 : 1);
};

/** The shots that are chosen on the left, put in. */
const putShots: Run = (reel, e) => {
  const { shots } = reel.now;
  if (!shots.length) return reel.around.say("Choose a shot on the left first: it is put in at the playhead.");
  return void (e.shiftKey ? putInPlace(reel, shots[0]!) : putAtPlayhead(reel, shots));
};

/** What is chosen, on the Bench. */
const onBench: Run = (reel, _, go) => {
  const { chosen } = reel.now;
  if (chosen?.kind === "span") return go(benchOf(reel, "spans", chosen.ids[0]!));
  if (chosen?.kind === "transition") return reel.shown.transitions?.find((j) => j.id === chosen.ids[0])?.kind === "reveal" ? go(benchOf(reel, "transitions", chosen.ids[0]!)) : reel.around.say("A dissolve has no look of its own: only shots, spans and reveals open on the Bench.");
  const [placed] = reel.items;
  if (placed?.shot && !placed.shot.gone) go(benchOfItem(reel, placed));
};

const action = (id: string, group: string, words: string, keys: string[], run: Run, told?: string): Action<ReelSession, Go> => ({ id, group, words, keys, run, ...(told && { told }) });
const [TIME, CUTTING, PICTURE] = ["Time", "Cutting", "Picture"];

/** What the keys of the reel's room do. */
export const ACTIONS: readonly Action<ReelSession, Go>[] = [
  action("split", CUTTING, "split the item at the playhead", ["s"], split),
  action("cut before", CUTTING, "the cut before", ["arrowup"], (reel) => toCut(reel, -1)),
  action("cut after", CUTTING, "the next cut", ["arrowdown"], (reel) => toCut(reel, 1)),
  action("put in", CUTTING, "the shots chosen on the left go in at the playhead; with Shift in place of what is there", ["p"], putShots),
  action("first", CUTTING, "what is chosen begins a frame later; with Shift earlier", [",", "<", ";"], edge("first"), ","),
  action("last", CUTTING, "what is chosen ends a frame later; with Shift earlier", [".", ">", ":"], edge("last"), "."),
  action("roll", CUTTING, "the nearest cut a frame later, and nothing else moves; with Shift earlier", ["r"], rollNearest),
  action("slip", CUTTING, "what is chosen shows a frame later of its shot, in the same place; with Shift earlier", ["h"], (reel, e) => slip(reel, reel.items, e.shiftKey ? -1 : 1)),
  action("place", CUTTING, "the chosen item one place later; with Shift earlier", ["n"], (reel, e) => nudgeItem(reel, e.shiftKey ? -1 : 1)),
  action("dissolve", CUTTING, "a dissolve at the nearest cut, or a plain cut again", ["x"], nextTransition),
  action("span", CUTTING, "a span over what is chosen", ["u"], (reel) => addSpan(reel, reel.items)),
  action("bench", CUTTING, "what is chosen, on the Bench", ["e"], onBench),
  action("remove", CUTTING, "take out what is chosen: what follows closes up; with Shift a gap stays", ["delete", "backspace"], remove),
  action("stretch", CUTTING, "take out in to out: what follows closes up", ["c"], takeOut),
  action("none", CUTTING, "choose nothing", ["escape"], (reel) => reel.choice.set({ chosen: null, shots: [] })),
  action("take", CUTTING, "new take of the reel", ["t"], (reel) => void newReelTake(reel)),
  action("back", TIME, "play backwards; again is faster", ["j"], (reel) => shuttle(reel, -1)),
  action("stop", TIME, "stop", ["k"], stopPlaying),
  action("on", TIME, "play; again is faster", ["l"], (reel) => shuttle(reel, 1)),
  action("fill", TIME, "render from in to out, then play", ["y"], renderThenPlay),
  action("in", TIME, "in at this frame; with Shift neither in nor out", ["i"], mark("first")),
  action("out", TIME, "out at this frame; with Shift neither in nor out", ["o"], mark("last")),
  action("frame back", TIME, "one frame back; with Shift ten", ["arrowleft"], (reel, e) => reel.go(reel.timeline.frame - (e.shiftKey ? 10 : 1))),
  action("frame on", TIME, "one frame on; with Shift ten", ["arrowright"], (reel, e) => reel.go(reel.timeline.frame + (e.shiftKey ? 10 : 1))),
  action("begin", TIME, "the first frame", ["home"], (reel) => reel.go(0)),
  action("end", TIME, "the last frame", ["end"], (reel) => reel.go(reel.timeline.last)),
  action("closer", TIME, "the ruler closer", ["+", "="], (reel) => zoomTime(reel, 1.5), "+"),
  action("further", TIME, "the ruler further away", ["-", "−"], (reel) => zoomTime(reel, 1 / 1.5), "−"),
  action("all", TIME, "all of the reel on the ruler", ["Digit0"], (reel) => reel.timeline.set({ stretch: null })),
  action("result", PICTURE, "the reel", ["Digit1"], (reel) => reel.choice.set({ without: null })),
  action("without spans", PICTURE, "without spans", ["Digit2"], (reel) => reel.choice.set({ without: "spans" })),
  action("without looks", PICTURE, "without looks", ["Digit3"], (reel) => reel.choice.set({ without: "looks" })),
  action("peek", PICTURE, "before and after: hold to see it without looks", ["b"], (reel) => reel.stage.set({ peek: true })),
  action("wipe", PICTURE, "wipe", ["w"], compare("wipe")),
  action("side", PICTURE, "side by side", ["d"], compare("side")),
  action("zoom", PICTURE, "fit or 100 %", ["z"], (reel) => reel.stage.zoomToggle()),
];

export const MORE: readonly Told[] = [
  { group: "Time", told: "Space", words: "play or pause; presses a control that was reached by Tab" },
  { group: "Time", told: "Wheel", words: "pans the ruler; with Ctrl zooms it at the pointer" },
  { group: "Cutting", told: "Ctrl A", words: "choose all items" },
  { group: "Cutting", told: "Alt drag", words: "an item shows other frames in the same place" },
];

/** The keyboard of the reel's room. */
export function useReelKeys() {
  const reel = useReel();
  const navigate = useNavigate();
  useTellActions(ACTIONS, MORE);
  const chooseAll = () => {
    reel.choose({ kind: "item", ids: reel.layout.items.map((p) => p.item.id) });
    return true;
  };
  useActions(ACTIONS, reel, (to: string) => void navigate(to), { play: () => togglePlay(reel), control: { a: chooseAll } });
}
