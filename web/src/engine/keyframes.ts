/** Beginning and ending animations, and moves that are made all the time. */
import type { Command, Keyframe, Lane, ParamInfo } from "../api/types";
import type { BenchSession } from "./bench";
import { laneOf, lanesOf, valueAt, withKeyframe } from "./lanes";

/** The pin beside a control: begins an animation, adds a keyframe here, or takes the one here away. */
export function togglePin(engine: BenchSession, target: string, info: ParamInfo, shown: unknown) {
  engine.around.settle();
  const { frame, rate } = engine.timeline;
  const lane = laneOf(engine.shown, target);
  const put = (next: Lane, words: string) => void engine.document.edit(engine.target.lanes([next]), words);
  if (!lane) {
    if (!lanesOf(engine.shown).length) engine.around.say(`${info.name} is animated now: setting it at another frame makes a keyframe there.`);
    const made: Keyframe = { frame, value: shown, how: info.kind === "switch" ? "hold" : "smooth", ease: 100 };
    return put({ target, keyframes: [made], drift: 0, start: frame, way: "as typed" }, `${info.name} animated from frame ${frame}`);
  }
  const here = lane.keyframes.find((k) => k.frame === frame);
  if (!here) return put(withKeyframe(lane, info, frame, shown, rate), `${info.name}: keyframe at frame ${frame}`);
  if (lane.keyframes.length === 1) return stopAnimating(engine, target, info);
  put({ ...lane, keyframes: lane.keyframes.filter((k) => k !== here) }, `${info.name}: keyframe at frame ${frame} removed`);
}

/** Remove the animation and keep the value on screen. */
export function stopAnimating(engine: BenchSession, target: string, info: ParamInfo) {
  const { frame, rate } = engine.timeline;
  const lane = laneOf(engine.shown, target);
  if (!lane) return;
  const commands: Command[] = [{ do: "remove", target: engine.target.of("lanes", target) }, engine.target.set(target, valueAt(lane, info, frame, rate))];
  void engine.document.edit(commands, `${info.name} is not animated any more`);
}

/** The keyframe before or after the playhead, of any lane; null where there is none. */
export function nextKeyframe(engine: BenchSession, direction: 1 | -1): number | null {
  const { frame } = engine.timeline;
  const frames = lanesOf(engine.shown).flatMap((l) => l.keyframes.map((k) => k.frame)).filter((f) => (f - frame) * direction > 0);
  return frames.length ? (direction > 0 ? Math.min(...frames) : Math.max(...frames)) : null;
}

const FLASH = 4; // frames that a flash takes to rise, and to fall

type Made = Pick<Keyframe, "frame" | "value" | "how">;

/** Moves over the value on screen. What the value is before and after them stays as it was. */
export function helper(lane: Lane, info: ParamInfo, what: "in" | "out" | "flash" | "step", frame: number, rate: number): Lane {
  const at = (n: number) => Number(valueAt(lane, info, n, rate));
  const second = Math.round(rate);
  // A drift goes on under what is set: a keyframe holds what is left when it is taken off.
  const stored = (n: number, value: number) => value - ((lane.drift ?? 0) * (n - (lane.start ?? 0))) / rate;
  const peak = at(frame) < info.high ? info.high : info.low;
  const after = (n: number) => lane.keyframes.findLast((k) => k.frame <= n)?.how ?? "smooth";
  const made: Record<typeof what, Made[]> = {
    in: [{ frame, value: info.low, how: "smooth" }, { frame: frame + second, value: at(frame + second), how: after(frame + second) }],
    out: [{ frame, value: at(frame), how: "smooth" }, { frame: frame + second, value: info.low, how: "smooth" }],
    flash: [
      { frame: frame - FLASH, value: at(frame - FLASH), how: "linear" },
      { frame, value: peak, how: "linear" },
      { frame: frame + FLASH, value: at(frame + FLASH), how: after(frame + FLASH) },
    ],
    step: [
      { frame: frame - 1, value: at(frame - 1), how: "hold" },
      { frame, value: at(frame), how: "hold" },
    ],
  };
  const put = made[what].filter((k) => k.frame >= 0).map((k): Keyframe => ({ ...k, value: stored(k.frame, Number(k.value)), ease: 100 }));
  const [first, last] = [put[0]!.frame, put.at(-1)!.frame];
  const clears = what === "in" || what === "out" || what === "flash"; // what lay in between gives way
  const kept = lane.keyframes.filter((k) => !put.some((p) => p.frame === k.frame) && !(clears && k.frame > first && k.frame < last));
  return { ...lane, keyframes: [...kept, ...put].sort((a, b) => a.frame - b.frame) };
}
