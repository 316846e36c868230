/** Playing, going about in time, and its ends. */
import type { BenchSession } from "./bench";
import { nextKeyframe } from "./keyframes";
import type { StageState } from "./stage/state";
import type { TimelineState } from "./timeline";
import { zoomed } from "./timespan";

const FASTEST = 4;

/** Whatever plays: a shot, or the reel. */
type Playable = Pick<BenchSession, "timeline" | "stage" | "around"> & { now: TimelineState & StageState };

export function togglePlay(engine: Playable) {
  engine.around.settle();
  if (engine.now.playing) engine.stage.pause();
  else engine.stage.play(1);
}

/** Render what is missing between in and out, then play it; again it is given up. */
export function renderThenPlay(engine: Playable) {
  engine.around.settle();
  if (engine.now.rendering) engine.stage.stopFilling();
  else engine.stage.fill();
}

/** Play backwards or forwards; again doubles the speed. */
export function shuttle(engine: Playable, direction: 1 | -1) {
  engine.around.settle();
  const { playing, speed } = engine.now;
  const same = playing && Math.sign(speed) === direction;
  engine.stage.play(same ? Math.min(Math.abs(speed) * 2, FASTEST) * direction : direction);
}

export function stopPlaying(engine: Playable) {
  if (engine.now.playing) engine.stage.pause();
}

/** What sets the in or out of the shot. The other end moves along where it would be passed. */
export function endCommands(engine: BenchSession, which: "first" | "last", frame: number) {
  const { ends } = engine.timeline;
  const other = which === "first" ? "last" : "first";
  const passed = which === "first" ? frame > ends.last : frame < ends.first;
  const set = (target: string) => ({ do: "set" as const, target, value: frame });
  return passed ? [set(which), set(other)] : [set(which)];
}

/** Set the in or out of the shot. What is part of a reel lies where it lies there. */
export const setEnd = (engine: BenchSession, which: "first" | "last", frame: number) =>
  engine.view.part ? engine.around.say("Where this begins and ends is set in the reel.") : void engine.document.edit(endCommands(engine, which, frame), `${which === "first" ? "In" : "Out"} at frame ${frame}`);

/** To the keyframe before or after the playhead. */
export function toKeyframe(engine: BenchSession, direction: 1 | -1) {
  const next = nextKeyframe(engine, direction);
  if (next !== null) engine.go(next);
}

/** Time around the playhead, closer or further away. */
export function zoomTime(engine: Playable, factor: number) {
  const { stretch, frame } = engine.now;
  const { last } = engine.timeline;
  engine.timeline.set({ stretch: zoomed(stretch ?? { from: 0, to: last }, last, frame, factor) });
}

/** The picture takes the whole screen, with the transport and the chosen pass; or gives it back. */
export function fullScreen() {
  if (document.fullscreenElement) void document.exitFullscreen();
  else void document.documentElement.requestFullscreen();
}
