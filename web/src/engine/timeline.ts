/** Time: how long, how fast, where the playhead stands, and which stretch is shown. Ruler, lanes and player take only this. */
import { Slice } from "./slice";
import { turnedTo, type Stretch } from "./timespan";

/** Which frames would play without rendering, as stretches; how far the preview copy of large footage is. */
export type Ready = { stretches: [number, number][]; more: boolean; proxy: { state: "none" | "waiting" | "making" | "ready"; done: number } };

export type TimelineState = {
  frame: number;
  playing: boolean;
  speed: number;
  loop: boolean;
  sound: boolean;
  /** Frames a second, lately. */
  reached: number;
  /** Share of its width at which the picture plays, lately. */
  size: number;
  /** Every pixel is wanted while it plays, even where the rate gives way. */
  full: boolean;
  ready: Ready | null;
  /** Frames between in and out that are rendered before it plays; null: nothing waits for that. */
  rendering: { done: number; total: number } | null;
  /** The stretch of time on the ruler; null: all frames. */
  stretch: Stretch | null;
  /** What the ruler shows while something on it is dragged that changes how long time is: it keeps still under the pointer. */
  held: Stretch | null;
};

export const rateOf = (rate: string) => {
  const [n, d] = rate.split("/").map(Number);
  return (n ?? 24) / (d ?? 1);
};

/** What time is made of. ends: the in and the out, which are edited. */
export type Time = { length: () => number; rate: () => number; ends: () => { first: number; last: number } };

export class Timeline extends Slice<TimelineState> {
  constructor(
    private time: Time,
    kept: Partial<TimelineState> = {},
  ) {
    const { first, last } = time.ends();
    super({
      frame: Math.round(first + (last - first) * 0.4),
      playing: false,
      speed: 1,
      loop: true,
      sound: true,
      reached: 0,
      size: 1,
      full: false,
      ready: null,
      rendering: null,
      stretch: null,
      held: null,
      ...kept,
    });
  }

  get length() {
    return this.time.length();
  }
  get rate() {
    return this.time.rate();
  }
  get ends() {
    return this.time.ends();
  }
  get last() {
    return this.length - 1;
  }
  get frame() {
    return this.now.frame;
  }

  /** A frame that there is. */
  within(frame: number) {
    return Math.min(Math.max(Math.round(frame), 0), this.last);
  }

  /** Put the playhead at a frame; a ruler that does not show it turns its page, unless it is held. */
  moveTo(frame: number) {
    const at = this.within(frame);
    const { stretch, held } = this.now;
    this.set({ frame: at, ...(stretch && !held ? { stretch: turnedTo(stretch, this.last, at) } : {}) });
  }
}
