/** Selected area over time, measured in the background; the old curve stays, hatched, until the new one is there. */
import { useEffect } from "react";

import type { WeakFrame } from "../api/types";
import { lanesOf } from "./lanes";
import { bench, documentOf, passesOf, selectionsOf, setBench, useBench, type Bench } from "./store";
import { lines } from "./stream";

const WAIT = 500; // ms of rest before measuring begins

type Line = { kind: "values"; first: number; values: number[] } | { kind: "done"; weak: WeakFrame[] };

/** What the curve depends on: the selection itself, and the passes where it reads one. */
function keyOf(state: Bench): string {
  const document = documentOf(state);
  const selection = selectionsOf(document).find((s) => s.id === state.selectionId);
  if (!selection || state.draft.length) return "";
  const lanes = lanesOf(document).filter((l) => selection.reads || l.target.startsWith(`selections/${selection.id}/`));
  return JSON.stringify([selection.id, selection.keys, selection.shapes, selection.cleaning, selection.reads, selection.reads ? passesOf(document) : null, lanes]);
}

export function useCurve() {
  const key = useBench(keyOf);
  useEffect(() => {
    if (!key) return;
    const { view, selectionId, curve } = bench();
    if (!view || !selectionId || curve?.key === key) return;
    if (curve) setBench({ curve: { ...curve, fresh: false } });
    const stop = new AbortController();
    const timer = window.setTimeout(() => void measure(key, view.shot.id, view.revision, selectionId, view.footage.facts.length, stop.signal), WAIT);
    return () => {
      window.clearTimeout(timer);
      stop.abort();
    };
  }, [key]);
}

async function measure(key: string, shot: string, revision: number, selection: string, length: number, signal: AbortSignal) {
  const old = bench().curve;
  const values = old?.values.length === length ? [...old.values] : Array<number>(length).fill(NaN);
  let known = 0;
  try {
    const response = await fetch(`/api/shots/${shot}/over-time/${revision}?selection=${selection}`, { signal });
    for await (const line of lines<Line>(response)) {
      if (line.kind === "values") {
        line.values.forEach((v, n) => (values[line.first + n] = v));
        known = line.first + line.values.length;
        setBench({ curve: { key: "", values: [...values], known, weak: [], fresh: false } });
      } else {
        setBench({ curve: { key, values, known: length, weak: line.weak, fresh: true } });
      }
    }
  } catch {
    // Superseded, or offline: the next change measures again.
  }
}

/** The weak frame after (or before) a frame, going round. */
export function nextWeak(direction: 1 | -1): number | null {
  const weak = bench().curve?.weak ?? [];
  if (!weak.length) return null;
  const { frame } = bench();
  const found = direction > 0 ? weak.find((w) => w.frame > frame) : weak.findLast((w) => w.frame < frame);
  return (found ?? (direction > 0 ? weak[0] : weak.at(-1))!).frame;
}
