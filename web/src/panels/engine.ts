/** How panels come by the engine: from around them. */
import { createContext, useContext, useEffect, useRef, useState, useSyncExternalStore } from "react";
import { useStore } from "zustand";
import { useShallow } from "zustand/react/shallow";

import type { Bundle, ParamInfo, Pass, Selection, ShotDocument } from "../api/types";
import type { Tracks } from "../api/queries";
import type { ChoiceState } from "../engine/choice";
import type { DocumentState } from "../engine/document";
import { type BenchSession } from "../engine/bench";
import { whenAtRest } from "../engine/beside";
import { valueIn } from "../engine/commands";
import { laneOf, lanesOf, valueAt } from "../engine/lanes";
import { placedShapes } from "../engine/shapes";
import type { PinsState } from "../engine/pins";
import type { TimelineState } from "../engine/timeline";
import { bundlesOf, passesOf, selectionsOf } from "../engine/scene";
import type { Placed } from "../engine/geometry";
import type { StageState } from "../engine/stage/state";

const BESIDE = 160; // ms for which the picture rests before what lies beside it is asked for

export const EngineContext = createContext<BenchSession | null>(null);
/** Whatever has time and a picture: a shot on the Bench, or the reel. */
export type Timed = Pick<BenchSession, "timeline" | "stage" | "around"> & { go(frame: number): void; now: TimelineState & StageState };
export const TimedContext = createContext<Timed | null>(null);
export const TracksContext = createContext<Tracks | null>(null);

/** The engine of the shot on the Bench. */
export function useEngine(): BenchSession {
  const engine = useContext(EngineContext);
  if (!engine) throw new Error("No shot is on the Bench.");
  return engine;
}

/** What has time and a picture around a panel: the reel in its room, else the shot on the Bench. */
export function useTimed(): Timed {
  const [timed, engine] = [useContext(TimedContext), useContext(EngineContext)];
  if (!timed && !engine) throw new Error("Nothing that has time is open.");
  return (timed ?? engine)!;
}

export const useDoc = <T>(pick: (s: DocumentState) => T): T => useStore(useEngine().document.state, pick);
export const useTime = <T>(pick: (s: TimelineState) => T): T => useStore(useTimed().timeline.state, pick);
export const useStage = <T>(pick: (s: StageState) => T): T => useStore(useTimed().stage.state, pick);
export const useChoice = <T>(pick: (s: ChoiceState) => T): T => useStore(useEngine().choice.state, pick);
export const usePins = <T>(pick: (s: PinsState) => T): T => useStore(useEngine().pins.state, pick);

/** The document as it is on screen: all of it. */
export const useDocument = (): ShotDocument => useDoc((s) => s.shown);
/** A part of the document as it is on screen: what does not change keeps its identity, so that a drag renders what shows it and nothing else. */
export const useShown = <T>(pick: (document: ShotDocument) => T): T => useDoc((s) => pick(s.shown));
/** The same for a list or record that is made of parts. */
export const useShownParts = <T>(pick: (document: ShotDocument) => T): T => useDoc(useShallow((s) => pick(s.shown)));
/** A part of the document without the gesture under way: for what a drag does not change, such as which rows a panel has. */
export const useStored = <T>(pick: (document: ShotDocument) => T): T => useDoc((s) => pick(s.stored));
export const useView = () => useDoc((s) => s.view);
export const useFacts = () => useDoc((s) => s.view.footage.facts);

export function usePass(): Pass | null {
  const id = useChoice((s) => s.passId);
  return useShown((d) => passesOf(d).find((p) => p.id === id) ?? null);
}

/** The bundle that is chosen instead of a pass. */
export function useBundle(): Bundle | null {
  const id = useChoice((s) => s.bundleId);
  return useShown((d) => bundlesOf(d).find((b) => b.id === id) ?? null);
}

/** The chosen selection as it is stored. What shows a value of it that may be dragged takes that by itself. */
export function useSelection(): Selection | null {
  const id = useChoice((s) => s.selectionId);
  return useStored((d) => selectionsOf(d).find((s) => s.id === id) ?? null);
}

/** A part of the chosen selection as it is on screen. */
export function useOfSelection<T>(pick: (selection: Selection | null) => T): T {
  const id = useChoice((s) => s.selectionId);
  return useShown((d) => pick(selectionsOf(d).find((s) => s.id === id) ?? null));
}

/** The shapes of the chosen selection as they are at the frame on screen. */
export function useShapes(): Placed[] {
  const engine = useEngine();
  const tracks = useContext(TracksContext)!;
  useSyncExternalStore(tracks.listen, tracks.snapshot);
  const moves = useOfSelection((s) => s?.shapes?.length !== 0);
  useOfSelection((s) => s?.shapes);
  useShown(lanesOf);
  useTime((s) => (moves ? s.frame : 0));
  return placedShapes(engine);
}

/** A value of the look as it is on screen, where nothing animates it. target: within the look. */
export const usePlain = (target: string, info: ParamInfo): unknown => useShown((d) => valueIn(d.look, target)) ?? info.default;

/** A parameter's value as it is at the frame on screen. */
export function useValue(target: string, info: ParamInfo, plain: unknown): unknown {
  const { rate } = useEngine().timeline;
  const lane = useShown((d) => laneOf(d, target));
  const frame = useTime((s) => (lane ? s.frame : 0));
  return lane ? valueAt(lane, info, frame, rate) : plain;
}

/** The parameters of a pass as they are at the frame on screen. */
export function useParamValues(id: string, infos: ParamInfo[], params: Record<string, unknown>): Record<string, unknown> {
  const { rate } = useEngine().timeline;
  const lanes = useShownParts((d) => infos.map((info) => laneOf(d, `passes/${id}/params/${info.key}`)));
  const animated = infos.flatMap((info, n) => (lanes[n] ? [{ info, lane: lanes[n] }] : []));
  const frame = useTime((s) => (animated.length ? s.frame : 0));
  if (!animated.length) return params;
  return { ...params, ...Object.fromEntries(animated.map(({ info, lane }) => [info.key, valueAt(lane, info, frame, rate)])) };
}

/**
 * The frame and revision that are looked at, as they were once the picture itself was there and rested for a moment: for what lies beside it.
 * of: what of the document that is about, by its ids; where that is another one since, the revision is the newest.
 */
export function useAtRest(of = ""): { frame: number; revision: number } {
  const engine = useEngine();
  const revision = useDoc((s) => s.view.revision);
  const asked = useRef(of);
  asked.current = of;
  const [rest, setRest] = useState(() => ({ frame: engine.timeline.frame, revision, of }));
  useEffect(() => whenAtRest(engine, BESIDE, () => setRest({ frame: engine.timeline.frame, revision: engine.view.revision, of: asked.current })), [engine]);
  return rest.of === of ? rest : { frame: rest.frame, revision };
}

/** The frame, for things that need not chase the playhead: never while playing, however slowly. */
export const useSettledFrame = (): number => useAtRest().frame;
