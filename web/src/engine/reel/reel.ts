/** What the room of the reel works with: a session on a reel. */
import type { ReelView } from "../../api/types";
import type { Document } from "../document";
import { equal } from "../equal";
import type { Around } from "../scene";
import { Session } from "../session";
import { Slice } from "../slice";
import { SCOPE, type Want } from "../stage/state";
import { Timeline } from "../timeline";
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

export class ReelSession extends Session<ReelView, ReelChoice> {
  readonly timeline: Timeline;
  readonly choice: Slice<ReelChoice>;
  private laid: { of: unknown; shots: unknown; layout: ReelLayout } | null = null;

  constructor(document: Document<ReelView>, around: Around, kept: { frame?: number; marks?: Marks | null } = {}) {
    super(document, around, { scope: { ...SCOPE, open: false } });
    this.timeline = new Timeline({ length: () => this.layout.length, rate: () => this.layout.rate, ends: () => this.ends }, { frame: kept.frame ?? 0 });
    this.choice = new Slice<ReelChoice>({ chosen: null, shots: [], marks: kept.marks ?? null, without: null, cut: null, said: null });
  }

  /** What is gone is not chosen any more, and the playhead stays within what there is. */
  protected follow() {
    const { chosen } = this.choice.now;
    if (chosen) {
      const there = new Set((chosen.kind === "item" ? this.shown.items : chosen.kind === "transition" ? this.shown.transitions : this.shown.spans)?.map((one) => one.id));
      const ids = chosen.ids.filter((id) => there.has(id));
      if (ids.length < chosen.ids.length) this.choose(ids.length ? { ...chosen, ids } : null);
    }
    if (this.timeline.frame > this.timeline.last) this.timeline.moveTo(this.timeline.last);
    const { stretch, held } = this.timeline.now;
    if (stretch && !held && stretch.to > this.timeline.last) this.timeline.set({ stretch: null });
  }

  /** The in and the out; of all of the reel where they are not set. */
  get ends(): Marks {
    const last = this.layout.length - 1;
    const marks = this.choice?.now.marks;
    return marks && marks.first <= last ? { first: marks.first, last: Math.min(marks.last, last) } : { first: 0, last };
  }

  /** Set the in and the out, or neither. */
  mark(marks: Marks | null) {
    const whole = marks && marks.first <= 0 && marks.last >= this.layout.length - 1;
    this.choice.set({ marks: whole ? null : marks });
  }

  /** Set the in or the out at a frame. The other moves along where it would be passed. */
  markEnd(which: keyof Marks, frame: number) {
    const at = this.timeline.within(frame);
    const { first, last } = this.ends;
    this.mark(which === "first" ? { first: at, last: last < at ? this.layout.length - 1 : last } : { first: first > at ? 0 : first, last: at });
  }

  /** Keep the ruler still while an edge on it is dragged; null: let it go. */
  hold(ruler: Stretch | null) {
    this.timeline.set({ held: ruler });
    if (!ruler) this.follow();
  }

  get layout(): ReelLayout {
    const { shots } = this.view;
    if (this.laid?.of !== this.shown || this.laid.shots !== shots) this.laid = { of: this.shown, shots, layout: layoutOf(this.shown, shots) };
    return this.laid.layout;
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
    return any ? { url: `${this.path}/sound/${revision}.wav`, from: 0 } : null;
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

  choose(chosen: Chosen) {
    if (!equal(chosen, this.choice.now.chosen)) this.choice.set({ chosen });
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
    const { chosen } = this.choice.now;
    const ids = new Set(chosen?.kind === "item" ? chosen.ids : []);
    const found = this.layout.items.filter((p) => ids.has(p.item.id));
    const here = itemAt(this.layout, this.timeline.frame);
    return found.length || !here ? found : [here];
  }
}
