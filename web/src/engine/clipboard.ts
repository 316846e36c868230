/** Keyframes that were copied, and where they are pasted. */
import type { BenchSession } from "./bench";
import { copyPins, lanesOf, pastePins } from "./lanes";

const counted = (n: number) => (n === 1 ? "Keyframe" : `${n} keyframes`);

/** Copy the chosen pins; whether there were any. */
export function copyChosen(engine: BenchSession): boolean {
  const copied = copyPins(lanesOf(engine.shown), engine.pins.state.getState().chosen);
  if (!copied.length) return false;
  engine.pins.state.setState({ copied });
  engine.around.say(`${counted(copied.length)} copied.`);
  return true;
}

/** Paste what was copied from the playhead on: into the lanes it came from, or into one lane. Whether there was anything. */
export function pasteHere(engine: BenchSession, into?: string): boolean {
  const { frame } = engine.timeline;
  const { copied } = engine.pins.state.getState();
  if (!copied.length) return false;
  const to = pastePins(lanesOf(engine.shown), copied, frame, into);
  if (!to.pins.length) {
    engine.around.say("The lanes of the copied keyframes are gone; paste them into a lane from its menu.", { bad: true });
    return true;
  }
  engine.pins.choose(to.pins);
  void engine.document.edit(engine.target.lanes(to.lanes), `${counted(to.pins.length)} pasted at frame ${frame}`);
  return true;
}
