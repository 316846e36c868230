/** The keys of the reel's room. */
import { useNavigate } from "react-router";

import { addSpan, nextTransition, nudgeItem, removeItems, split, toCut, trim } from "../../engine/reel/edits";
import { newReelTake } from "../../engine/reel/takes";
import type { ReelEngine } from "../../engine/reel/reel";
import { join as target } from "../../engine/commands";
import { shuttle, stopPlaying, togglePlay, zoomTime } from "../../engine/transport";
import type { Action, Told } from "../../engine/actions";
import { useTellActions } from "../../panels/app";
import { useActions } from "../../panels/keys";
import { benchOf, useReel } from "./context";

type Go = (to: string) => void;
type Run = Action<ReelEngine, Go>["run"];

const compare = (value: "wipe" | "side"): Run => (reel) => reel.put({ compare: reel.now.compare === value ? "off" : value });
const edge = (which: "first" | "last"): Run => (reel, e) => {
  const [placed] = reel.items;
  if (placed) trim(reel, placed, which, e.shiftKey ? -1 : 1);
};

/** Take out what is chosen. */
const remove: Run = (reel) => {
  const { chosen } = reel.now;
  if (!chosen || chosen.kind === "item") return removeItems(reel, reel.items);
  const list = chosen.kind === "transition" ? "transitions" : "spans";
  void reel.edit(chosen.ids.map((id) => ({ do: "remove", target: target(list, id) })), chosen.kind === "transition" ? "A plain cut" : "Span removed");
};

/** What is chosen, on the Bench. */
const onBench: Run = (reel, _, go) => {
  const { chosen } = reel.now;
  if (chosen?.kind === "span") return go(benchOf(reel, "spans", chosen.ids[0]!));
  if (chosen?.kind === "transition") return reel.shown.transitions?.find((j) => j.id === chosen.ids[0])?.kind === "reveal" ? go(benchOf(reel, "transitions", chosen.ids[0]!)) : reel.around.say("A dissolve has no look of its own: only shots, spans and reveals open on the Bench.");
  const [placed] = reel.items;
  if (placed?.shot && !placed.shot.gone) go(`/projects/${reel.view.project_id}/shots/${placed.item.shot}`);
};

const action = (id: string, group: string, words: string, keys: string[], run: Run, told?: string): Action<ReelEngine, Go> => ({ id, group, words, keys, run, ...(told && { told }) });
const [TIME, CUTTING, PICTURE] = ["Time", "Cutting", "Picture"];

/** What the keys of the reel's room do. */
export const ACTIONS: readonly Action<ReelEngine, Go>[] = [
  action("split", CUTTING, "split the item at the playhead", ["s"], split),
  action("cut before", CUTTING, "the cut before", ["arrowup"], (reel) => toCut(reel, -1)),
  action("cut after", CUTTING, "the next cut", ["arrowdown"], (reel) => toCut(reel, 1)),
  action("first", CUTTING, "the chosen item begins a frame later; with Shift earlier", [",", "<", ";"], edge("first"), ","),
  action("last", CUTTING, "the chosen item ends a frame later; with Shift earlier", [".", ">", ":"], edge("last"), "."),
  action("place", CUTTING, "the chosen item one place later; with Shift earlier", ["n"], (reel, e) => nudgeItem(reel, e.shiftKey ? -1 : 1)),
  action("dissolve", CUTTING, "a dissolve at the nearest cut, or a plain cut again", ["x"], nextTransition),
  action("span", CUTTING, "a span over what is chosen", ["u"], (reel) => addSpan(reel, reel.items, "New span")),
  action("bench", CUTTING, "what is chosen, on the Bench", ["o"], onBench),
  action("remove", CUTTING, "take out what is chosen", ["delete", "backspace"], remove),
  action("none", CUTTING, "choose nothing", ["escape"], (reel) => reel.choose(null)),
  action("take", CUTTING, "new take of the reel", ["t"], (reel) => void newReelTake(reel)),
  action("back", TIME, "play backwards; again is faster", ["j"], (reel) => shuttle(reel, -1)),
  action("stop", TIME, "stop", ["k"], stopPlaying),
  action("on", TIME, "play; again is faster", ["l"], (reel) => shuttle(reel, 1)),
  action("frame back", TIME, "one frame back; with Shift ten", ["arrowleft"], (reel, e) => reel.go(reel.timeline.frame - (e.shiftKey ? 10 : 1))),
  action("frame on", TIME, "one frame on; with Shift ten", ["arrowright"], (reel, e) => reel.go(reel.timeline.frame + (e.shiftKey ? 10 : 1))),
  action("begin", TIME, "the first frame", ["home"], (reel) => reel.go(0)),
  action("end", TIME, "the last frame", ["end"], (reel) => reel.go(reel.timeline.last)),
  action("closer", TIME, "the ruler closer", ["+", "="], (reel) => zoomTime(reel, 1.5), "+"),
  action("further", TIME, "the ruler further away", ["-", "−"], (reel) => zoomTime(reel, 1 / 1.5), "−"),
  action("all", TIME, "all of the reel on the ruler", ["@Digit0"], (reel) => reel.put({ stretch: null })),
  action("result", PICTURE, "the reel", ["@Digit1"], (reel) => reel.put({ without: null })),
  action("without spans", PICTURE, "without spans", ["@Digit2"], (reel) => reel.put({ without: "spans" })),
  action("without looks", PICTURE, "without looks", ["@Digit3"], (reel) => reel.put({ without: "looks" })),
  action("peek", PICTURE, "before and after: hold to see it without looks", ["b"], (reel) => reel.put({ peek: true })),
  action("wipe", PICTURE, "wipe", ["w"], compare("wipe")),
  action("side", PICTURE, "side by side", ["d"], compare("side")),
  action("zoom", PICTURE, "fit or 100 %", ["z"], (reel) => reel.stage.zoomToggle()),
];

export const MORE: readonly Told[] = [{ group: "Time", told: "Space", words: "play or pause; presses a control that was reached by Tab" }];

/** The keyboard of the reel's room. */
export function useReelKeys() {
  const reel = useReel();
  const navigate = useNavigate();
  useTellActions(ACTIONS, MORE);
  useActions(ACTIONS, reel, (to: string) => void navigate(to), { play: () => togglePlay(reel) });
}
