/** Points of polygons and smooth paths: the same curves as the server draws. */
import type { Shape } from "../api/types";

export type XY = { x: number; y: number };
export type PathPoint = Shape["points"][number];

const STEPS = 12;

const xy = (v: number[]): XY => ({ x: v[0]!, y: v[1]! });

/** How a closed path arrives at and leaves a point: as fixed, else by its neighbours; not at all at a corner. */
function tangents(points: PathPoint[], i: number): { arrive: XY; leave: XY } {
  const n = points.length;
  const [p, before, after] = [points[i]!, points[(i + n - 1) % n]!, points[(i + 1) % n]!];
  const even = p.corner ? { x: 0, y: 0 } : { x: (after.x - before.x) / 2, y: (after.y - before.y) / 2 };
  return { arrive: p.arrive ? xy(p.arrive) : even, leave: p.leave ? xy(p.leave) : even };
}

/** The piece of curve from a point to the next, at a share t of the way: where it is, and how it goes on. */
function piece(points: PathPoint[], i: number, t: number): { at: XY; going: XY } {
  const k = (i + 1) % points.length;
  const [p, q, m, o] = [points[i]!, points[k]!, tangents(points, i).leave, tangents(points, k).arrive];
  const mix = (a: number, b: number, c: number, d: number) => ({ x: a * p.x + b * m.x + c * q.x + d * o.x, y: a * p.y + b * m.y + c * q.y + d * o.y });
  return {
    at: mix(2 * t ** 3 - 3 * t ** 2 + 1, t ** 3 - 2 * t ** 2 + t, 3 * t ** 2 - 2 * t ** 3, t ** 3 - t ** 2),
    going: mix(6 * t ** 2 - 6 * t, 3 * t ** 2 - 4 * t + 1, 6 * t - 6 * t ** 2, 3 * t ** 2 - 2 * t),
  };
}

/** A smooth closed path, flattened. */
export const curve = (points: PathPoint[]): XY[] => points.flatMap((_, i) => Array.from({ length: STEPS }, (_, s) => piece(points, i, s / STEPS).at));

const round = (v: number) => Math.round(v * 1000) / 1000;
const fixed = (v: XY, by = 1) => [round(v.x * by), round(v.y * by)];

/** The points with one more, half way from a point to the next. The form stays exactly as it was. */
export function withMiddle(points: PathPoint[], after: number, smooth: boolean): PathPoint[] {
  const k = (after + 1) % points.length;
  const [p, q] = [points[after]!, points[k]!];
  const rest = (made: PathPoint[], added: PathPoint) => [...made.slice(0, after + 1), added, ...made.slice(after + 1)];
  if (!smooth) return rest(points, { x: round((p.x + q.x) / 2), y: round((p.y + q.y) / 2), corner: false });
  // A cubic cut in two: both halves go half as fast; what the neighbours do on their other sides is fixed as it is.
  const { at, going } = piece(points, after, 0.5);
  const [a, b] = [tangents(points, after), tangents(points, k)];
  const made = points.map((old, n) => {
    if (n === after) return { ...old, arrive: fixed(a.arrive), leave: fixed(a.leave, 0.5) };
    return n === k ? { ...old, arrive: fixed(b.arrive, 0.5), leave: fixed(b.leave) } : old;
  });
  return rest(made, { x: round(at.x), y: round(at.y), corner: false, arrive: fixed(going, 0.5), leave: fixed(going, 0.5) });
}

export const withoutPoint = (points: PathPoint[], n: number): PathPoint[] => points.filter((_, k) => k !== n);

/** A path on its way to another with as many points. */
export function mixPaths(one: PathPoint[], other: PathPoint[], t: number): PathPoint[] {
  const mix = (a: XY, b: XY): XY => ({ x: a.x + (b.x - a.x) * t, y: a.y + (b.y - a.y) * t });
  const held = [...one, ...other].some((p) => p.arrive || p.leave);
  return one.map((p, n) => {
    const place = { ...p, ...mix(p, other[n]!) };
    if (!held) return place;
    const [a, b] = [tangents(one, n), tangents(other, n)];
    const [arrive, leave] = [mix(a.arrive, b.arrive), mix(a.leave, b.leave)];
    return { ...place, arrive: [arrive.x, arrive.y], leave: [leave.x, leave.y] };
  });
}
