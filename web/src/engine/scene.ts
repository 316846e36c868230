/** The engine as its parts see it: what the stage draws, and what targets write to. */
import type { Background } from "./background";
import type { StoreApi } from "zustand/vanilla";

import type { Bundle, Catalogue, Command, Pass, Selection, Shape, ShotDocument, ShotView, Take, TrackFrame } from "../api/types";
import type { Choice, ChoiceState } from "./choice";
import type { AnyView, Document, DocumentState } from "./document";
import type { Slice } from "./slice";
import type { Pace } from "./stage/pace";
import type { StageState, Want } from "./stage/state";
import type { Timeline, TimelineState } from "./timeline";

/** How something is said to the person at the screen; errors stay until closed, but for one of the picture that is `seen`: it goes with it. */
export type Say = (text: string, options?: { action?: { name: string; run: () => void }; bad?: boolean; seen?: boolean }) => void;

/** What the engine takes from around it. */
export type Around = {
  say: Say;
  catalogue: () => Catalogue | null;
  /** Store what is being typed, stepped or dragged, now. Whether there was anything. */
  settle: () => boolean;
  newId: () => string;
  /** The frames of a track; null until they are there, when all who listen are told. */
  track: (digest: string) => TrackFrame[] | null;
  /** Resolves when the server can be reached. */
  back: () => Promise<void>;
  /** What was copied, for any shot. */
  pocket: { put: (text: string) => void };
  server: Calls;
  background: Background;
  /** How large pictures are while something plays. */
  pace: Pace;
};

/** What is asked of the server; errors that say no have their sentence as message. */
export type Calls = {
  colours(shot: string, frame: number): Promise<{ colour: number[] }[]>;
  snap(shot: string, revision: number, frame: number, selection: string, shape: string): Promise<number[][]>;
  takes(kind: "shots" | "reels", id: string): Promise<Take[]>;
  saveTake(kind: "shots" | "reels", id: string, body: { revision: number; name: string }): Promise<unknown>;
  putOnShelf(body: { shot: string; revision: number; name: string; words: string; only: string | null }): Promise<unknown>;
  overTime<T>(shot: string, revision: number, selection: string, signal: AbortSignal): AsyncIterable<T>;
  checks<T>(shot: string, revision: number, signal: AbortSignal): AsyncIterable<T>;
  carry<T>(shot: string, revision: number, query: URLSearchParams, signal: AbortSignal): AsyncIterable<T>;
  track<T>(shot: string, body: unknown, signal: AbortSignal): AsyncIterable<T>;
  picture(path: string, revision: number, frame: number, query: URLSearchParams): Promise<Blob>;
  coverage(path: string, revision: number, frame: number, selection: string): Promise<number>;
  /** Whether an error means that there was no answer at all. */
  unreachable(error: unknown): boolean;
};

/** What the stage draws: pictures of a document, over time. path: where the server has them; heard: where its sound is, and how many seconds into it the first frame. */
export interface Film {
  readonly document: { state: StoreApi<DocumentState<AnyView>> };
  readonly timeline: Timeline;
  readonly choice: { state: { subscribe(listener: () => void): () => void } };
  readonly around: Around;
  readonly now: TimelineState & StageState;
  readonly path: string;
  readonly size: { width: number; height: number };
  readonly heard: { url: string; from: number } | null;
  readonly stage: Slice<StageState>;
  /** What is to be seen now, at a width. */
  want(width: number): Want;
  /** What that is compared with. */
  before(want: Want): Want;
  /** A selection of the moment whose pixels are hatched. */
  lit(): { command: Command; selection: string } | null;
}

export type Looking = TimelineState & StageState & ChoiceState;

export interface Scene {
  readonly document: Document;
  readonly timeline: Timeline;
  readonly stage: Slice<StageState>;
  readonly choice: Choice;
  readonly around: Around;
  readonly target: { of(...words: (string | number)[]): string };
  /** What is looked at, as it is now. */
  readonly now: Looking;
  readonly view: ShotView;
  readonly shown: ShotDocument;
  readonly passes: Pass[];
}

export const passesOf = (document: ShotDocument | null): Pass[] => document?.look.passes ?? [];
export const bundlesOf = (document: ShotDocument | null): Bundle[] => document?.look.bundles ?? [];
export const selectionsOf = (document: ShotDocument | null): Selection[] => document?.look.selections ?? [];
export const shapesOf = (selection: Selection | null): Shape[] => selection?.shapes ?? [];
