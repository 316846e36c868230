/** Selected area over time, measured in the background; the old curve stays, hatched, until the new one is there. */
import type { WeakFrame } from "../api/types";
import type { BenchSession } from "./bench";
import { lanesOf } from "./lanes";
import { rested } from "./rested";

const WAIT = 500; // ms of rest before measuring begins

type Line = { kind: "values"; first: number; values: number[] } | { kind: "done"; weak: WeakFrame[] };

/** What the curve depends on: the selection itself, and the passes where it reads one. Empty while something is under way. */
function keyOf(engine: BenchSession): string {
  const { selection, document } = engine;
  if (!selection || document.state.getState().draft.length) return "";
  const lanes = lanesOf(engine.shown).filter((l) => selection.reads || l.target.startsWith(`selections/${selection.id}/`));
  return JSON.stringify([selection.id, selection.keys, selection.shapes, selection.objects, selection.cleaning, selection.reads, selection.reads ? engine.passes : null, lanes]);
}

/** Keep the curve of the chosen selection up to date, until the function that is given back is called. */
export function followCoverage(engine: BenchSession): () => void {
  return rested(engine, WAIT, () => keyOf(engine), (key) => {
    const { curve, selectionId } = engine.now;
    if (!key || curve?.key === key) return null; // the selection has gone, or something is under way
    if (curve) engine.choice.set({ curve: { ...curve, fresh: false } });
    return (signal, stop) => measure(engine, key, selectionId!, signal, stop);
  });
}

/** Where something is known: pairs of the first frame and the one after the last. */
export function stretches(known: readonly boolean[]): [number, number][] {
  const found: [number, number][] = [];
  known.forEach((is, n) => {
    if (is && known[n - 1]) found.at(-1)![1] = n + 1;
    else if (is) found.push([n, n + 1]);
  });
  return found;
}

async function measure(engine: BenchSession, key: string, selection: string, signal: AbortSignal, stop: () => void) {
  const { shot, revision } = engine.view;
  const { length } = engine.timeline;
  const old = engine.now.curve;
  const values = old?.values.length === length ? [...old.values] : Array<number>(length).fill(NaN);
  const known = Array<boolean>(length).fill(false);
  const task = engine.around.background.begin(`Selected area over time, ${shot.name}`, length, stop);
  let done = 0;
  try {
    for await (const line of engine.around.server.overTime<Line>(shot.id, revision, selection, signal)) {
      if (signal.aborted) return;
      if (line.kind === "values") {
        line.values.forEach((v, n) => {
          values[line.first + n] = v;
          known[line.first + n] = true;
        });
        task.at((done += line.values.length), length);
        engine.choice.set({ curve: { key: "", values: [...values], known: stretches(known), weak: [], fresh: false } });
      } else {
        engine.choice.set({ curve: { key, values, known: [[0, length]], weak: line.weak, fresh: true } });
      }
    }
  } catch {
    // Superseded, or offline: the next change measures again.
  } finally {
    task.end();
  }
}

/** The weak frame after (or before) a frame, going round. */
export function nextWeak(weak: WeakFrame[], frame: number, direction: 1 | -1): number | null {
  if (!weak.length) return null;
  const found = direction > 0 ? weak.find((w) => w.frame > frame) : weak.findLast((w) => w.frame < frame);
  return (found ?? (direction > 0 ? weak[0] : weak.at(-1))!).frame;
}
