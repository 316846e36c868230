/** Edits of a curve's points. No two stand at the same place across, so each is named by where it stands. */
import type { Point } from "./monotone";

/** Where the points of a curve may lie: across from 0 to `right`, up from `low` to `high`. */
export type Field = { right: number; low: number; high: number };

export const MOST_POINTS = 32;
export const APART = 0.5; // least distance of two points across

const tidy = (v: number) => Math.round(v * 10) / 10;
const within = (v: number, low: number, high: number) => Math.min(Math.max(v, low), high);

/** Where the point that stands at `from` comes to stand on its way to another place: never past its neighbours. */
export function placeOf(points: Point[], { right, low, high }: Field, from: number, [x, y]: Point): Point {
  const n = points.findIndex((p) => p[0] === from);
  const [left, end] = [n > 0 ? points[n - 1]![0] + APART : 0, n < points.length - 1 ? points[n + 1]![0] - APART : right];
  return [tidy(within(x, left, end)), tidy(within(y, low, high))];
}

/** The points with the one that stands at `from` moved; as they are where none stands there. */
export function movePoint(points: Point[], field: Field, from: number, to: Point): Point[] {
  return points.map((p) => (p[0] === from ? placeOf(points, field, from, to) : p));
}

/** The points with one more; as they are where there is no room for it. */
export function addPoint(points: Point[], { low, high }: Field, [x, y]: Point): Point[] {
  const made: Point = [tidy(x), tidy(within(y, low, high))];
  if (points.length >= MOST_POINTS || points.some((p) => Math.abs(p[0] - made[0]) < APART)) return points;
  return [...points, made].sort((a, b) => a[0] - b[0]);
}

export const removePoint = (points: Point[], at: number): Point[] => (points.length > 1 ? points.filter((p) => p[0] !== at) : points);
