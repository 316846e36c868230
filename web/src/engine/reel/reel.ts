/** What the room of the reel works with: its document, its time, the picture of it, and what is chosen. */
import { createStore, type StoreApi } from "zustand/vanilla";

import type { Command, ReelView } from "../../api/types";
import type { Document, Path } from "../document";
import { equal } from "../equal";
import type { Around, Film } from "../scene";
import { Stage } from "../stage/stage";
import { SCOPE, type StageState, type Want } from "../stage/state";
import { Timeline, type TimelineState } from "../timeline";
import type { Stretch } from "../timespan";
import { itemAt, layoutOf, type ReelLayout } from "./layout";
import type { Side } from "./snap";

/** What is chosen: items, or a transition, a span; nothing is the reel itself. */
export type Chosen = { kind: "item" | "transition" | "span"; ids: string[] } | null;
/** From a frame to a frame of the reel, both included: the in and the out. */
export type Marks = { first: number; last: number };
/** shots: those chosen among the shots of the project; marks: null where neither in nor out is set; cut: both sides of the cut that is being trimmed, or both ends of what is slipped; said: what the drag at hand does. */
export type ReelChoice = { chosen: Chosen; shots: string[]; marks: Marks | null; without: "spans" | "looks" | null; cut: [Side | null, Side | null] | null; said: string | null };

/** An in and an out as they are kept: two frames. */
export function readMarks(text: string | null): Marks | null {
  const [first, last] = (text ?? "").split(" ").map(Number);
  return Number.isInteger(first) && Number.isInteger(last) && first! >= 0 && first! <= last! ? { first: first!, last: last! } : null;
}

export class ReelEngine implements Film {
  readonly timeline: Timeline;
  readonly stage: Stage;
  readonly choice: { state: StoreApi<ReelChoice> };
  private laid: { of: unknown; shots: unknown; layout: ReelLayout } | null = null;
  private stop: () => void;

  constructor(
    readonly document: Document<ReelView>,
    readonly around: Around,
    kept: { frame?: number; marks?: Marks | null } = {},
  ) {
    this.timeline = new Timeline({ length: () => this.layout.length, rate: () => this.layout.rate, ends: () => this.ends }, { frame: kept.frame ?? 0 });
    this.stage = new Stage(() => this, { scope: { ...SCOPE, open: false } });
    this.choice = { state: createStore<ReelChoice>(() => ({ chosen: null, shots: [], marks: kept.marks ?? null, without: null, cut: null, said: null })) };
    this.stop = document.state.subscribe((now, then) => {
      if (now.shown === then.shown) return;
      this.follow();
    });
  }

  dispose() {
    this.around.settle();
    this.document.drop();
    this.stop();
  }

  /** What is gone is not chosen any more, and the playhead stays within what there is. */
  private follow() {
    const { chosen } = this.choice.state.getState();
    if (chosen) {
      const there = new Set((chosen.kind === "item" ? this.shown.items : chosen.kind === "transition" ? this.shown.transitions : this.shown.spans)?.map((one) => one.id));
      const ids = chosen.ids.filter((id) => there.has(id));
      if (ids.length < chosen.ids.length) this.choose(ids.length ? { ...chosen, ids } : null);
    }
    if (this.timeline.frame > this.timeline.last) this.timeline.put(this.timeline.last);
    const { stretch, held } = this.timeline.state.getState();
    if (stretch && !held && stretch.to > this.timeline.last) this.timeline.state.setState({ stretch: null });
  }

  /** The in and the out; of all of the reel where they are not set. */
  get ends(): Marks {
    const last = this.layout.length - 1;
    const marks = this.choice?.state.getState().marks;
    return marks && marks.first <= last ? { first: marks.first, last: Math.min(marks.last, last) } : { first: 0, last };
  }

  /** Set the in and the out, or neither. */
  mark(marks: Marks | null) {
    const whole = marks && marks.first <= 0 && marks.last >= this.layout.length - 1;
    this.choice.state.setState({ marks: whole ? null : marks });
  }

  /** Set the in or the out at a frame. The other moves along where it would be passed. */
  markEnd(which: keyof Marks, frame: number) {
    const at = this.timeline.within(frame);
    const { first, last } = this.ends;
    this.mark(which === "first" ? { first: at, last: last < at ? this.layout.length - 1 : last } : { first: first > at ? 0 : first, last: at });
  }

  /** Keep the ruler still while an edge on it is dragged; null: let it go. */
  hold(ruler: Stretch | null) {
    this.timeline.state.setState({ held: ruler });
    if (!ruler) this.follow();
  }

  get view() {
    return this.document.view;
  }
  get shown() {
    return this.document.shown;
  }
  get layout(): ReelLayout {
    const { shots } = this.view;
    if (this.laid?.of !== this.shown || this.laid.shots !== shots) this.laid = { of: this.shown, shots, layout: layoutOf(this.shown, shots) };
    return this.laid.layout;
  }
  get now(): TimelineState & StageState & ReelChoice {
    return { ...this.timeline.state.getState(), ...this.stage.state.getState(), ...this.choice.state.getState() };
  }
  get path() {
    return `/api/reels/${this.view.reel_id}`;
  }
  get size() {
    const { width, height } = this.layout;
    return { width, height };
  }
  get heard() {
    const { shots, revision } = this.view;
    const any = this.shown.track || this.shown.items?.some((item) => item.heard !== false && shots[item.shot]?.sound);
    return any ? { url: `${this.path}/sound/${revision}.webm`, from: 0 } : null;
  }

  put(change: Partial<TimelineState & StageState & ReelChoice>) {
    const choice = this.choice.state.getState();
    for (const [key, value] of Object.entries(change)) {
      const store = key in this.timeline.state.getState() ? this.timeline.state : key in choice ? this.choice.state : this.stage.state;
      (store as StoreApi<Record<string, unknown>>).setState({ [key]: value });
    }
  }

  want(width: number): Want {
    const { frame, peek, without } = this.now;
    // What its shots look like is part of what is wanted: it changes without the reel.
    const stamp = (this.shown.items ?? []).reduce((sum, item) => (sum * 31 + (this.view.shots[item.shot]?.revision ?? 0)) % 1_000_000_007, 7);
    return { revision: this.view.revision, frame, width, view: "result", selection: null, upto: null, alone: null, without: peek ? "looks" : without, stamp };
  }
  before(want: Want): Want {
    return { ...want, without: "looks" };
  }
  lit() {
    return null;
  }

  go(frame: number) {
    this.around.settle();
    if (this.now.playing) this.stage.pause();
    this.timeline.put(frame);
  }

  choose(chosen: Chosen) {
    if (!equal(chosen, this.choice.state.getState().chosen)) this.choice.state.setState({ chosen });
  }

  /** Choose a span or a transition, and go to where it begins. */
  reveal(list: "spans" | "transitions", id: string) {
    this.choose({ kind: list === "spans" ? "span" : "transition", ids: [id] });
    const [span, transition] = [this.layout.spans.find((s) => s.span.id === id), this.layout.transitions.find((j) => j.transition.id === id)];
    const at = list === "spans" ? span?.first : transition && transition.cut - transition.before;
    if (at !== undefined) this.go(at);
  }

  /** The chosen items; where none is, the one under the playhead. */
  get items() {
    const { chosen } = this.choice.state.getState();
    const ids = new Set(chosen?.kind === "item" ? chosen.ids : []);
    const found = this.layout.items.filter((p) => ids.has(p.item.id));
    const here = itemAt(this.layout, this.timeline.frame);
    return found.length || !here ? found : [here];
  }

  /** Store a change as one step of history. */
  edit(commands: Command[], words: string) {
    return this.document.edit(commands, words);
  }

  async step(which: "undo" | "redo") {
    this.around.settle();
    const words = this.document.busy ? null : this.view[which];
    if (words === null && !this.document.busy) return;
    try {
      const answer = await this.document.ask(which as Exclude<Path, "edits">);
      this.around.say(`${which === "undo" ? "Undone" : "Done again"}: ${words ?? (which === "undo" ? answer.view.redo : answer.view.undo)}`);
    } catch (error) {
      this.around.say(error instanceof Error && error.message ? error.message : "That did not work.", { bad: true });
    }
  }
}
