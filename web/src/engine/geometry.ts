/** Shapes on the screen. Coordinates are pixels of a 1080-line picture; transforms are similarities z -> m z + t as [a, b, x, y]. */
import type { Shape, TrackFrame } from "../api/types";
import { curve, type PathPoint, type XY } from "./paths";

/** A shape with the frames of its track (none until they are there), as it is at a frame. */
export type Placed = Omit<Shape, "track"> & { track: TrackFrame[]; tracked: boolean };

export type Transform = [number, number, number, number];

/** Values of a shape that are edited on the picture. */
type Change = Partial<Pick<Shape, "points" | "angle" | "corrections">>;

export const IDENTITY: Transform = [1, 0, 0, 0];

export const apply = ([a, b, x, y]: Transform, p: XY): XY => ({ x: a * p.x - b * p.y + x, y: b * p.x + a * p.y + y });

/** The second transform, then the first. */
export function compose(one: Transform, two: Transform): Transform {
  const t = apply(one, { x: two[2], y: two[3] });
  return [one[0] * two[0] - one[1] * two[1], one[0] * two[1] + one[1] * two[0], t.x, t.y];
}

export function inverse([a, b, x, y]: Transform): Transform {
  const d = a * a + b * b;
  const [ia, ib] = [a / d, -b / d];
  const t = apply([ia, ib, 0, 0], { x, y });
  return [ia, ib, -t.x, -t.y];
}

/** Turn and scale about a middle. */
export function about(middle: XY, scale: number, radians: number): Transform {
  const [a, b] = [scale * Math.cos(radians), scale * Math.sin(radians)];
  const m = apply([a, b, 0, 0], middle);
  return [a, b, middle.x - m.x, middle.y - m.y];
}

type Keyed = { frame: number; values: number[] };

/** The frame of a track that holds at a frame: between two, the earlier one. */
function heldAt<T extends Keyed>(track: T[], frame: number): T | undefined {
  let found = track[0];
  for (const t of track) if (t.frame <= frame) found = t;
  return found;
}

const trackAt = (track: Keyed[], frame: number): Transform => (heldAt(track, frame)?.values as Transform | undefined) ?? IDENTITY;

/** How a track that bends has moved a place of the shape's own at a frame: as the points near it, by the inverse square of their distance. */
function bendAt(shape: Pick<Placed, "track">, frame: number, p: XY): XY {
  const [sum, out] = [{ w: 0 }, { x: 0, y: 0 }];
  for (const [x, y, dx, dy] of (heldAt(shape.track, frame)?.bend ?? []) as [number, number, number, number][]) {
    const w = 1 / ((p.x - x) ** 2 + (p.y - y) ** 2 + 1e-6);
    sum.w += w;
    out.x += w * dx;
    out.y += w * dy;
  }
  return sum.w ? { x: out.x / sum.w, y: out.y / sum.w } : out;
}

/** A shape's points where a track that bends has them at a frame, before it moves them as a whole. */
export function bent(shape: Placed, frame: number): PathPoint[] {
  if (!heldAt(shape.track, frame)?.bend?.length) return shape.points;
  return shape.points.map((p) => {
    const by = bendAt(shape, frame, p);
    return { ...p, x: p.x + by.x, y: p.y + by.y };
  });
}

/** The place that a track which bends brings to `p` at a frame. */
export function unbent(shape: Placed, frame: number, p: XY): XY {
  const by = bendAt(shape, frame, p);
  return { x: p.x - by.x, y: p.y - by.y };
}

/** The frame at which a track's outline lies worst, or is least sure; null where nothing is told of that. */
export function worstFrame(track: Placed["track"]): { frame: number; lies: number } | null {
  const told = track.filter((t) => t.lies !== null && t.lies !== undefined);
  const of = (t: TrackFrame) => Math.min(t.lies!, t.confidence);
  const worst = told.reduce<TrackFrame | null>((w, t) => (w && of(w) <= of(t) ? w : t), null);
  return worst && { frame: worst.frame, lies: of(worst) };
}

/** How well a track's outline lies at a frame, 0-1; null where nothing is told of that. */
export const liesAt = (track: Placed["track"], frame: number): number | null => heldAt(track, frame)?.lies ?? null;

/** Even between corrections: scale and angle along the logarithm, shift straight. */
function correctionAt(list: Keyed[], frame: number): Transform {
  if (!list.length) return IDENTITY;
  const after = list.findIndex((c) => c.frame > frame);
  if (after === 0) return list[0]!.values as Transform;
  if (after < 0) return list.at(-1)!.values as Transform;
  const [low, high] = [list[after - 1]!, list[after]!];
  const share = (frame - low.frame) / (high.frame - low.frame);
  const [l, h] = [low.values as Transform, high.values as Transform];
  const length = (v: Transform) => Math.hypot(v[0], v[1]);
  let turn = Math.atan2(h[1], h[0]) - Math.atan2(l[1], l[0]);
  turn = Math.atan2(Math.sin(turn), Math.cos(turn));
  const size = length(l) * (length(h) / length(l)) ** share;
  const angle = Math.atan2(l[1], l[0]) + turn * share;
  return [size * Math.cos(angle), size * Math.sin(angle), l[2] + (h[2] - l[2]) * share, l[3] + (h[3] - l[3]) * share];
}

export const correctionOf = (shape: Placed, frame: number) => correctionAt(shape.corrections ?? [], frame);

export const transformOf = (shape: Placed, frame: number) => compose(correctionOf(shape, frame), trackAt(shape.track, frame));

export const isBox = (shape: Pick<Shape, "kind">) => shape.kind === "ellipse" || shape.kind === "rectangle";

/** Corners of an ellipse's or rectangle's box in the shape's own place, turned by its angle. */
type Drawn = Pick<Shape, "kind" | "points" | "angle">;

export function boxCorners(shape: Drawn): XY[] {
  const [p, q] = [shape.points[0]!, shape.points[1]!];
  const middle = { x: (p.x + q.x) / 2, y: (p.y + q.y) / 2 };
  const [hx, hy] = [Math.abs(q.x - p.x) / 2, Math.abs(q.y - p.y) / 2];
  const turn = about({ x: 0, y: 0 }, 1, ((shape.angle ?? 0) * Math.PI) / 180);
  return [[-1, -1], [1, -1], [1, 1], [-1, 1]].map(([sx, sy]) => {
    const c = apply(turn, { x: sx! * hx, y: sy! * hy });
    return { x: c.x + middle.x, y: c.y + middle.y };
  });
}

/** The outline in the shape's own place, curves flattened; the same as the server's. */
export function outlineOf(shape: Drawn): XY[] {
  if (shape.kind === "path") return curve(shape.points);
  if (shape.kind !== "ellipse") return isBox(shape) ? boxCorners(shape) : shape.points.map(({ x, y }) => ({ x, y }));
  const [c0, c1, , c3] = boxCorners(shape) as [XY, XY, XY, XY];
  const middle = { x: (c1.x + c3.x) / 2, y: (c1.y + c3.y) / 2 };
  const [u, v] = [{ x: (c1.x - c0.x) / 2, y: (c1.y - c0.y) / 2 }, { x: (c3.x - c0.x) / 2, y: (c3.y - c0.y) / 2 }];
  return Array.from({ length: 64 }, (_, n) => {
    const [c, s] = [Math.cos((n * Math.PI) / 32), Math.sin((n * Math.PI) / 32)];
    return { x: middle.x + c * u.x + s * v.x, y: middle.y + c * u.y + s * v.y };
  });
}

export function middleOf(points: XY[]): XY {
  const xs = points.map((p) => p.x);
  const ys = points.map((p) => p.y);
  return { x: (Math.min(...xs) + Math.max(...xs)) / 2, y: (Math.min(...ys) + Math.max(...ys)) / 2 };
}

const round = (v: number) => Math.round(v * 100) / 100;
const roundTransform = (t: Transform): Transform => t.map((v) => Math.round(v * 1e5) / 1e5) as Transform;

/** How sure a track is below which a frame counts as doubtful. */
export const DOUBTFUL = 0.5;

/** Whether a frame lies from one to another, either way round, the first included. */
const between = (frame: number, from: number, to: number) => (frame - from) * (frame - to) < 0 || frame === from;

/** Where a shape is lost, or doubtful: the nearest frames on either side that its track is sure of. None where it is sure there. */
export function goodAround(shape: Pick<Placed, "track">, frame: number): number[] {
  const sure = shape.track.filter((t) => t.confidence >= DOUBTFUL).map((t) => t.frame);
  if (sure.includes(frame)) return [];
  return [sure.findLast((f) => f < frame), sure.find((f) => f > frame)].filter((f) => f !== undefined);
}

/** Stretches of at least some frames in which a track is doubtful: first and last frame. */
export function doubtful(track: Placed["track"], least = 6): [number, number][] {
  const found: [number, number][] = [];
  for (const t of track) {
    if (t.confidence >= DOUBTFUL) continue;
    const last = found.at(-1);
    if (last && t.frame - last[1] <= 1) last[1] = t.frame;
    else found.push([t.frame, t.frame]);
  }
  return found.filter(([a, b]) => b - a + 1 >= least);
}

/** The fields of a shape after it is moved on screen by `move` at a frame: points where it is not tracked, else a correction. */
export function moved(shape: Placed, frame: number, move: Transform): Change {
  if (shape.tracked) {
    const values = roundTransform(compose(move, correctionOf(shape, frame)));
    const others = (shape.corrections ?? []).filter((c) => c.frame !== frame);
    // The frame where tracking began stays as it was drawn, unless it is the one that is corrected.
    const first = others.length ? [] : [{ frame: anchorOf(shape), values: IDENTITY }].filter((c) => c.frame !== frame);
    const known = [...others, ...first];
    const kept = goodAround(shape, frame).filter((at) => !known.some((c) => between(c.frame, at, frame))).map((at) => ({ frame: at, values: roundTransform(correctionOf(shape, at)) }));
    return { corrections: [...known, ...kept, { frame, values }].sort((a, b) => a.frame - b.frame) };
  }
  if (!isBox(shape)) {
    const turned = (v: number[] | null | undefined) => {
      if (!v) return v;
      const { x, y } = rounded(apply([move[0], move[1], 0, 0], { x: v[0]!, y: v[1]! }));
      return [x, y];
    };
    return { points: shape.points.map((p) => ({ ...p, ...rounded(apply(move, p)), arrive: turned(p.arrive), leave: turned(p.leave) })) };
  }
  const [p, q] = [shape.points[0]!, shape.points[1]!];
  const scale = Math.hypot(move[0], move[1]);
  const turned = (shape.angle ?? 0) + (Math.atan2(move[1], move[0]) * 180) / Math.PI;
  const middle = apply(move, { x: (p.x + q.x) / 2, y: (p.y + q.y) / 2 });
  const [hx, hy] = [(Math.abs(q.x - p.x) / 2) * scale, (Math.abs(q.y - p.y) / 2) * scale];
  return {
    angle: round(((turned + 540) % 360) - 180),
    points: [
      { ...rounded({ x: middle.x - hx, y: middle.y - hy }), corner: false },
      { ...rounded({ x: middle.x + hx, y: middle.y + hy }), corner: false },
    ],
  };
}

const rounded = (p: XY) => ({ x: round(p.x), y: round(p.y) });

/** The frame at which the shape lies exactly where it was drawn. */
function anchorOf(shape: Placed): number {
  const still = shape.track.find((t) => t.values[0] === 1 && t.values[1] === 0 && t.values[2] === 0 && t.values[3] === 0);
  return still?.frame ?? shape.track[0]?.frame ?? 0;
}

/** A box whose corner `n` is dragged to `p` (own place), the opposite corner staying. */
export function withCorner(shape: Drawn, n: number, p: XY): Change {
  const fixed = boxCorners(shape)[(n + 2) % 4]!;
  const middle = { x: (p.x + fixed.x) / 2, y: (p.y + fixed.y) / 2 };
  const back = about({ x: 0, y: 0 }, 1, (-(shape.angle ?? 0) * Math.PI) / 180);
  const half = apply(back, { x: (p.x - fixed.x) / 2, y: (p.y - fixed.y) / 2 });
  const [hx, hy] = [Math.max(4, Math.abs(half.x)), Math.max(4, Math.abs(half.y))];
  return {
    points: [
      { ...rounded({ x: middle.x - hx, y: middle.y - hy }), corner: false },
      { ...rounded({ x: middle.x + hx, y: middle.y + hy }), corner: false },
    ],
  };
}

/** A point dragged to `p`; with `pull` its neighbours within so many pixels come along, the less the further off. */
export function withPoint(shape: Drawn, n: number, p: XY, pull = 0): Change {
  const from = shape.points[n]!;
  const by = { x: p.x - from.x, y: p.y - from.y };
  const share = (q: XY) => {
    const t = pull ? Math.max(0, 1 - Math.hypot(q.x - from.x, q.y - from.y) / pull) : 0;
    return t * t * (3 - 2 * t);
  };
  return {
    points: shape.points.map((old, k) => {
      const w = k === n ? 1 : share(old);
      return w ? { ...old, ...rounded({ x: old.x + w * by.x, y: old.y + w * by.y }) } : old;
    }),
  };
}
