/** Setting values, whether they stand still or are animated: an animated one gets a keyframe at the frame on screen. */
import type { Lane, Operation, ParamInfo } from "../api/types";
import { say } from "../ui/notices";
import { edit, live } from "./edits";
import { lanesOf, laneOf, pointerOf, putLane, valueAt, withKeyframe } from "./lanes";
import { bench, documentOf, rateOf, useBench, useDocument } from "./store";

export type Written = { target: string; info: ParamInfo; value: unknown };

function operations(values: Written[]): { patch: Operation[]; keyed: boolean } {
  const state = bench();
  const stored = documentOf(state); // with what is still on its way to the server
  if (!stored) return { patch: [], keyed: false };
  const rate = rateOf(state.view);
  let keyed = false;
  const patch = values.flatMap(({ target, info, value }): Operation[] => {
    const lane = laneOf(stored, target);
    if (lane) {
      keyed = true;
      return [putLane(stored, withKeyframe(lane, info, state.frame, value, rate))];
    }
    const path = pointerOf(stored, target);
    return path ? [{ op: "replace", path, value }] : [];
  });
  return { patch, keyed };
}

/** Show values without storing them. */
export const showValues = (values: Written[]) => live(operations(values).patch);

/** Store values as one step of history; where they are animated the words say at which frame. */
export function writeValues(values: Written[], words: string): Promise<void> {
  const { patch, keyed } = operations(values);
  return patch.length ? edit(patch, keyed ? `${words} at frame ${bench().frame}` : words) : Promise.resolve();
}

/** A parameter's value as it is at the frame on screen. */
export function useValue(target: string, info: ParamInfo, plain: unknown): unknown {
  const document = useDocument();
  const lane = laneOf(document, target);
  const frame = useBench((s) => (lane ? s.frame : 0));
  const rate = useBench((s) => rateOf(s.view));
  return lane ? valueAt(lane, info, frame, rate) : plain;
}

/** The parameters of a pass as they are at the frame on screen. */
export function useParams(id: string, infos: ParamInfo[], params: Record<string, unknown>): Record<string, unknown> {
  const document = useDocument();
  const animated = infos.flatMap((info) => {
    const lane = laneOf(document, `passes/${id}/params/${info.key}`);
    return lane ? [{ info, lane }] : [];
  });
  const frame = useBench((s) => (animated.length ? s.frame : 0));
  const rate = useBench((s) => rateOf(s.view));
  if (!animated.length) return params;
  return { ...params, ...Object.fromEntries(animated.map(({ info, lane }) => [info.key, valueAt(lane, info, frame, rate)])) };
}

const name = (info: ParamInfo) => info.name;
let told = false;

/** The pin beside a control: begins an animation, adds a keyframe here, or takes the one here away. */
export function togglePin(target: string, info: ParamInfo, shown: unknown) {
  const { view, frame } = bench();
  const document = view!.document;
  const lane = laneOf(document, target);
  if (!lane) {
    const made: Lane = { target, keyframes: [{ frame, value: shown, how: info.kind === "switch" ? "hold" : "smooth", ease: 100 }], drift: 0, start: frame, way: "as typed" };
    void edit([putLane(document, made)], `${name(info)} animated from frame ${frame}`);
      if (!told) say(`${name(info)} is animated now: setting it at another frame makes a keyframe there.`);
    told = true; // once is enough
    return;
  }
  const here = lane.keyframes.find((k) => k.frame === frame);
  if (!here) return void edit([putLane(document, withKeyframe(lane, info, frame, shown, rateOf(view)))], `${name(info)}: keyframe at frame ${frame}`);
  if (lane.keyframes.length === 1) return stopAnimating(target, info);
  void edit([putLane(document, { ...lane, keyframes: lane.keyframes.filter((k) => k !== here) })], `${name(info)}: keyframe at frame ${frame} removed`);
}

/** Remove the animation and keep the value on screen. */
export function stopAnimating(target: string, info: ParamInfo) {
  const { view, frame } = bench();
  const document = view!.document;
  const at = lanesOf(document).findIndex((l) => l.target === target);
  if (at < 0) return;
  const value = valueAt(lanesOf(document)[at]!, info, frame, rateOf(view));
  const path = pointerOf(document, target);
  const keep: Operation[] = path ? [{ op: "replace", path, value }] : [];
  void edit([{ op: "remove", path: `/look/lanes/${at}` }, ...keep], `${name(info)} is not animated any more`);
}

/** The keyframe before or after the playhead, of any lane; null where there is none. */
export function nextKeyframe(direction: 1 | -1): number | null {
  const frame = bench().frame;
  const frames = lanesOf(documentOf(bench())).flatMap((l) => l.keyframes.map((k) => k.frame)).filter((f) => (f - frame) * direction > 0);
  return frames.length ? (direction > 0 ? Math.min(...frames) : Math.max(...frames)) : null;
}

/** Moves that are made all the time, over the value on screen: keyframes from two or three numbers. */
export function helper(lane: Lane, info: ParamInfo, what: "in" | "out" | "flash" | "step"): Lane {
  const { frame, view } = bench();
  const value = Number(valueAt(lane, info, frame, rateOf(view)));
  const second = Math.round(rateOf(view));
  const key = (at: number, v: unknown, how: "hold" | "linear" | "smooth") => ({ frame: Math.max(0, at), value: v, how, ease: 100 });
  const made = {
    in: [key(frame, info.low, "smooth"), key(frame + second, value, "smooth")],
    out: [key(frame, value, "smooth"), key(frame + second, info.low, "smooth")],
    flash: [key(frame - 4, info.low, "linear"), key(frame, info.high, "linear"), key(frame + 4, info.low, "linear")],
    step: [key(frame - 1, valueAt(lane, info, frame - 1, rateOf(view)), "hold"), key(frame, value, "hold")],
  }[what];
  const frames = new Set(made.map((k) => k.frame));
  return { ...lane, keyframes: [...lane.keyframes.filter((k) => !frames.has(k.frame)), ...made].sort((a, b) => a.frame - b.frame) };
}
