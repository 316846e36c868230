/** The keys of the reel's room. */
import { useEffect } from "react";
import { useNavigate } from "react-router";

import { addSpan, nextJoin, nudgeItem, removeItems, split, toCut, trim } from "../../engine/reel/edits";
import { newReelTake } from "../../engine/reel/takes";
import type { ReelEngine } from "../../engine/reel/reel";
import { join as target } from "../../engine/commands";
import { shuttle, stopPlaying, togglePlay, zoomTime } from "../../engine/transport";
import { busy, historyKey, typing } from "../../ui/typing";
import { spacePlays } from "../../ui/space";
import { benchOf, useReel } from "./context";

type Run = (reel: ReelEngine, e: KeyboardEvent, go: (to: string) => void) => void;

const compare = (value: "wipe" | "side"): Run => (reel) => reel.put({ compare: reel.now.compare === value ? "off" : value });
const edge = (which: "first" | "last"): Run => (reel, e) => {
  const [placed] = reel.items;
  if (placed) trim(reel, placed, which, e.shiftKey ? -1 : 1);
};

/** Take out what is chosen. */
const remove: Run = (reel) => {
  const { chosen } = reel.now;
  if (!chosen || chosen.kind === "item") return removeItems(reel, reel.items);
  const list = chosen.kind === "join" ? "joins" : "spans";
  void reel.edit(chosen.ids.map((id) => ({ do: "remove", target: target(list, id) })), chosen.kind === "join" ? "A plain cut" : "Span removed");
};

/** What is chosen, on the Bench. */
const onBench: Run = (reel, _, go) => {
  const { chosen } = reel.now;
  if (chosen?.kind === "span") return go(benchOf(reel, "spans", chosen.ids[0]!));
  if (chosen?.kind === "join") return reel.shown.joins?.find((j) => j.id === chosen.ids[0])?.kind === "reveal" ? go(benchOf(reel, "joins", chosen.ids[0]!)) : reel.around.say("A dissolve has no look of its own: only shots, spans and reveals open on the Bench.");
  const [placed] = reel.items;
  if (placed?.shot && !placed.shot.gone) go(`/projects/${reel.view.project_id}/shots/${placed.item.shot}`);
};

const TYPED: Record<string, Run> = {
  arrowleft: (reel, e) => reel.go(reel.timeline.frame - (e.shiftKey ? 10 : 1)),
  arrowright: (reel, e) => reel.go(reel.timeline.frame + (e.shiftKey ? 10 : 1)),
  arrowup: (reel) => toCut(reel, -1),
  arrowdown: (reel) => toCut(reel, 1),
  home: (reel) => reel.go(0),
  end: (reel) => reel.go(reel.timeline.last),
  k: stopPlaying,
  l: (reel) => shuttle(reel, 1),
  s: split,
  o: onBench,
  t: (reel) => void newReelTake(reel),
  j: (reel) => shuttle(reel, -1),
  x: nextJoin,
  u: (reel) => addSpan(reel, reel.items, "New span"),
  n: (reel, e) => nudgeItem(reel, e.shiftKey ? -1 : 1),
  ",": edge("first"),
  ".": edge("last"),
  "<": edge("first"),
  ";": edge("first"),
  ">": edge("last"),
  ":": edge("last"),
  delete: remove,
  backspace: remove,
  escape: (reel) => reel.choose(null),
  w: compare("wipe"),
  d: compare("side"),
  z: (reel) => reel.stage.zoomToggle(),
  "1": (reel) => reel.put({ without: null }),
  "2": (reel) => reel.put({ without: "spans" }),
  "3": (reel) => reel.put({ without: "looks" }),
  b: (reel) => reel.put({ peek: true }),
  "+": (reel) => zoomTime(reel, 1.5),
  "=": (reel) => zoomTime(reel, 1.5),
  "-": (reel) => zoomTime(reel, 1 / 1.5),
  "0": (reel) => reel.put({ stretch: null }),
};

export function useReelKeys() {
  const reel = useReel();
  const navigate = useNavigate();
  useEffect(() => {
    const space = spacePlays(() => togglePlay(reel));
    const down = (e: KeyboardEvent) => {
      if (e.defaultPrevented || typing(e.target) || busy()) return;
      const key = e.key.toLowerCase();
      if (e.ctrlKey || e.metaKey) {
        const step = historyKey(e);
        if (!step) return;
        e.preventDefault();
        return void reel.step(step);
      }
      const run = TYPED[key];
      if (!run || e.altKey) return;
      e.preventDefault();
      run(reel, e, (to) => void navigate(to));
    };
    const letGo = () => reel.put({ peek: false });
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
  }, [reel, navigate]);
}
