/** The stretch of time that the ruler and the lanes show. */

/** From one frame to another, over so many pixels. */
export type Span = { from: number; to: number; width: number };

export const LEAST = 8; // frames across the ruler at the closest

export const xOf = (span: Span, frame: number) => ((frame - span.from) / (span.to - span.from)) * span.width;
export const frameAt = (span: Span, x: number) => span.from + (x / span.width) * (span.to - span.from);
/** Pixels that one frame takes. */
export const perFrame = (span: Span) => span.width / (span.to - span.from);

export type Stretch = { from: number; to: number };

/** A stretch moved into 0-last, keeping its length where it can; null where it covers everything. */
export function kept({ from, to }: Stretch, last: number): Stretch | null {
  const length = Math.max(to - from, Math.min(LEAST, last));
  if (length >= last) return null;
  const start = Math.min(Math.max(from, 0), last - length);
  return { from: start, to: start + length };
}

/** Closer (factor above 1) or further away, the frame `at` staying where it is. */
export function zoomed({ from, to }: Stretch, last: number, at: number, factor: number): Stretch | null {
  const length = Math.min(Math.max((to - from) / factor, Math.min(LEAST, last)), last);
  const share = (at - from) / (to - from);
  return kept({ from: at - share * length, to: at + (1 - share) * length }, last);
}

export const panned = ({ from, to }: Stretch, last: number, frames: number) => kept({ from: from + frames, to: to + frames }, last);

/** The stretch turned like a page so that a frame lies in it; the same one where it does already. */
export function turnedTo(stretch: Stretch, last: number, frame: number): Stretch {
  if (frame >= stretch.from && frame <= stretch.to) return stretch;
  const length = stretch.to - stretch.from;
  const from = frame > stretch.to && frame < stretch.to + length ? stretch.to : frame - length / 2;
  return kept({ from, to: from + length }, last) ?? stretch;
}
