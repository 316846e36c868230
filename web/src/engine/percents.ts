/** Pins of percents over a stretch: how much of a span there is, how far a reveal has come. */
import type { How } from "./lanes";

export type PercentPin = { frame: number; value: number; how?: How };

const limited = (value: number, low: number, high: number) => Math.min(Math.max(Math.round(value), low), high);

/** A pin moved to a place and a value. It does not pass the pins beside it. */
export function movedPin(pins: readonly PercentPin[], from: number, to: number, value: number, end: number): PercentPin[] {
  const at = pins.findIndex((p) => p.frame === from);
  const low = at > 0 ? pins[at - 1]!.frame + 1 : 0;
  const high = at < pins.length - 1 ? pins[at + 1]!.frame - 1 : end;
  return pins.map((p, n) => (n === at ? { ...p, frame: limited(to, low, high), value: limited(value, 0, 100) } : p));
}

/** All pins nearer to the first of them, or further away, so that one of them comes to a place; they keep their order. */
export function squeezed(pins: readonly PercentPin[], from: number, to: number, end: number): PercentPin[] {
  const first = pins[0]!.frame;
  const last = pins.at(-1)!.frame;
  if (from <= first || last <= first) return [...pins];
  const factor = Math.min(Math.max((to - first) / (from - first), (pins.length - 1) / (last - first)), (end - first) / (last - first));
  const moved: PercentPin[] = [];
  for (const p of pins) moved.push({ ...p, frame: Math.max(Math.round(first + (p.frame - first) * factor), (moved.at(-1)?.frame ?? -1) + 1) });
  return moved.at(-1)!.frame > end ? [...pins] : moved;
}

/** A pin more, which goes on as the one before it does; in place of the one that is there. */
export function withPin(pins: readonly PercentPin[], place: number, value: number, end: number): PercentPin[] {
  const frame = limited(place, 0, end);
  const before = pins.findLast((p) => p.frame <= frame) ?? pins[0];
  const made: PercentPin = { frame, value: limited(value, 0, 100), ...(before?.how ? { how: before.how } : {}) };
  return [...pins.filter((p) => p.frame !== frame), made].sort((a, b) => a.frame - b.frame);
}

export const withoutPin = (pins: readonly PercentPin[], frame: number): PercentPin[] => pins.filter((p) => p.frame !== frame);

/** Going from one to the next evenly, or slower at both ends. */
export const going = (pins: readonly PercentPin[], how: How): PercentPin[] => pins.map((p) => ({ ...p, how }));
