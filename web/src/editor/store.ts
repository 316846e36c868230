/** The state of the Bench: what the server says the shot is, the draft over it, and what is being looked at. */
import { useEffect, useState } from "react";
import { create } from "zustand";

import type { Operation, Pass, Selection, Shape, ShotDocument, ShotView, View, WeakFrame } from "../api/types";
import { withDraft } from "./patch";
import type { Stretch } from "./timespan";

const SETTLE = 160; // ms

export type Compare = "off" | "wipe" | "side";
export type Tool = "pick" | "add" | "refuse" | "hand";

export type Bench = {
  view: ShotView | null;
  /** Operations shown but not stored: a drag under way, or an edit on its way to the server. */
  draft: Operation[];
  saving: boolean;
  /** Changes that the server has not answered yet, of whatever kind. */
  underWay: number;
  frame: number;
  show: View;
  compare: Compare;
  /** The saved state that the picture is compared with, in place of the source. */
  against: { revision: number; name: string } | null;
  wipe: number;
  /** Held to see the source. */
  peek: boolean;
  selectionId: string | null;
  passId: string | null;
  /** Show the picture up to the chosen pass instead of the finished one. */
  upTo: boolean;
  /** Show the chosen pass alone, on the source. */
  solo: boolean;
  /** The next click in the picture gives a colour to this, instead of a pick. */
  dropper: ((hex: string) => void) | null;
  /** What a look from the shelf asks to be picked. */
  asks: string | null;
  scope: { kind: ScopeKind; of: ScopeOf; open: boolean; codes: boolean };
  scopeImage: { kind: ScopeKind; bitmap: ImageBitmap } | null;
  /** Where the pointer is in the picture, 0-1. */
  pointer: { x: number; y: number } | null;
  tool: Tool;
  /** Side of the square that a click samples, in source pixels. */
  patch: number;
  /** Which key of the selection the panel edits. */
  keyNumber: number;
  shapeId: string | null;
  /** The kind of shape being drawn on the picture. */
  drawing: Shape["kind"] | null;
  /** The island pointed at in the list: its outline. */
  island: [number, number][] | null;
  /** A selection of the moment whose pixels are hatched: what lies under the pointer in the census. */
  lit: { id: string } & Record<string, unknown> | null;
  tracking: Tracking | null;
  curve: Curve | null;
  playing: boolean;
  speed: number;
  loop: boolean;
  sound: boolean;
  reached: number;
  ready: Ready | null;
  /** The stretch of time on the ruler; null: all frames. */
  stretch: Stretch | null;
  pixel: PixelReport | null;
  coverage: number | null;
  busySince: number | null;
  /** The final picture is on screen and everything about it is measured. */
  settled: boolean;
  /** The first picture of this shot has arrived; everything less urgent waits for it. */
  begun: boolean;
};

export type Tracking = { shape: string; done: number; total: number; frame: number; stop: () => void };

/** Selected area over time, in percent; `fresh` once it belongs to the newest state of the selection. */
export type Curve = { key: string; values: number[]; known: number; weak: WeakFrame[]; fresh: boolean };

/** Which frames would play without rendering, as stretches; how far the preview copy of large footage is. */
export type Ready = { stretches: [number, number][]; more: boolean; proxy: { state: "none" | "waiting" | "making" | "ready"; done: number } };

export type PixelReport = { hex: string; hue: number; chroma: number; lightness: number; matte: number | null };

export type ScopeKind = "waveform" | "parade" | "vectorscope" | "histogram";
export type ScopeOf = "result" | "source" | "inside" | "outside";

const fresh: Bench = {
  view: null,
  draft: [],
  saving: false,
  underWay: 0,
  frame: 0,
  show: "result",
  compare: "off",
  against: null,
  wipe: 0.5,
  peek: false,
  selectionId: null,
  passId: null,
  upTo: false,
  solo: false,
  dropper: null,
  asks: null,
  scope: { kind: "waveform", of: "result", open: true, codes: false },
  scopeImage: null,
  pointer: null,
  tool: "pick",
  patch: 5,
  keyNumber: 0,
  shapeId: null,
  drawing: null,
  island: null,
  lit: null,
  tracking: null,
  curve: null,
  playing: false,
  speed: 1,
  loop: true,
  sound: true,
  reached: 0,
  ready: null,
  stretch: null,
  pixel: null,
  coverage: null,
  busySince: null,
  settled: false,
  begun: false,
};

export const useBench = create<Bench>(() => fresh);
export const bench = useBench.getState;
export const setBench = useBench.setState;

export function resetBench(view: ShotView) {
  const { loop, sound, patch, scope, underWay } = bench();
  const { first, last, look } = view.document;
  const frame = Math.round(first + (last - first) * 0.4);
  setBench({ ...fresh, loop, sound, patch, scope, underWay, view, frame, selectionId: look.selections?.[0]?.id ?? null, passId: look.passes?.at(-1)?.id ?? null });
}

/** Take over what the server says, keeping what is being looked at where it still exists. */
export function acceptView(view: ShotView) {
  const { passId, selectionId, frame } = bench();
  const { look } = view.document;
  const passes = look.passes ?? [];
  const selections = look.selections ?? [];
  setBench({
    view,
    passId: passes.some((p) => p.id === passId) ? passId : (passes.at(-1)?.id ?? null),
    selectionId: selections.some((s) => s.id === selectionId) ? selectionId : (selections[0]?.id ?? null),
    frame: Math.min(frame, view.footage.facts.length - 1),
  });
}

let memo: { view: ShotView; draft: Operation[]; document: ShotDocument } | null = null;

/** The document with the draft over it. */
export function documentOf(state: Bench): ShotDocument | null {
  if (!state.view) return null;
  if (memo?.view !== state.view || memo.draft !== state.draft)
    memo = { view: state.view, draft: state.draft, document: withDraft(state.view.document, state.draft) };
  return memo.document;
}

export const useDocument = () => useBench(documentOf);

export const passesOf = (document: ShotDocument | null): Pass[] => document?.look.passes ?? [];
export const selectionsOf = (document: ShotDocument | null): Selection[] => document?.look.selections ?? [];

export const usePass = () =>
  useBench((s): Pass | null => passesOf(documentOf(s)).find((p) => p.id === s.passId) ?? null);
export const shapesOf = (selection: Selection | null): Shape[] => selection?.shapes ?? [];

export const useSelection = () =>
  useBench((s): Selection | null => selectionsOf(documentOf(s)).find((p) => p.id === s.selectionId) ?? null);

/** Where a pass or selection lies in the document, for patches. */
export const passPath = (id: string) => `/look/passes/${passesOf(documentOf(bench())).findIndex((p) => p.id === id)}`;
export const selectionPath = (id: string) => `/look/selections/${selectionsOf(documentOf(bench())).findIndex((s) => s.id === id)}`;

/** The frame once it has stopped changing for a moment, for things that need not chase the playhead: never while playing, however slowly. */
export function useSettledFrame() {
  const [frame, setFrame] = useState(() => bench().frame);
  useEffect(() => {
    let timer = 0;
    let waiting = bench().frame;
    let playing = bench().playing;
    const stop = useBench.subscribe((s) => {
      if (s.frame === waiting && s.playing === playing) return;
      waiting = s.frame;
      playing = s.playing;
      window.clearTimeout(timer);
      if (!playing) timer = window.setTimeout(() => setFrame(waiting), SETTLE);
    });
    return () => {
      stop();
      window.clearTimeout(timer);
    };
  }, []);
  return frame;
}

export const chosenSelection = () => selectionsOf(documentOf(bench())).find((s) => s.id === bench().selectionId) ?? null;

export const rateOf = (view: ShotView | null) => {
  const [n, d] = (view?.footage.facts.rate ?? "24").split("/").map(Number);
  return (n ?? 24) / (d ?? 1);
};

export function showScope(kind: ScopeKind, bitmap: ImageBitmap) {
  setBench({ scopeImage: { kind, bitmap } });
  performance.mark("wenditas-scope");
}
