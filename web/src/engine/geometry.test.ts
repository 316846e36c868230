import { describe, expect, it } from "vitest";

import type { Shape } from "../api/types";
import { about, apply, bent, boxCorners, compose, correctionOf, doubtful, goodAround, IDENTITY, inverse, middleOf, moved, outlineOf, transformOf, unbent, withCorner, withPoint, worstFrame, type Transform, type Placed } from "./geometry";
import { curve, mixPaths, withMiddle, withoutPoint, type XY } from "./paths";

const shape = (kind: Shape["kind"], points: [number, number][], more: Partial<Placed> = {}): Placed => ({
  id: "s",
  name: "S",
  on: true,
  mode: "leave out",
  kind,
  points: points.map(([x, y]) => ({ x, y, corner: false })),
  angle: 0,
  feather_in: 0,
  feather_out: 10,
  track: [],
  tracked: !!more.track?.length,
  corrections: [],
  ...more,
});

const near = (p: XY, q: XY, digits = 6) => {
  expect(p.x).toBeCloseTo(q.x, digits);
  expect(p.y).toBeCloseTo(q.y, digits);
};

describe("similarities", () => {
  const one: Transform = about({ x: 30, y: -4 }, 1.3, 0.4);
  const two: Transform = [0.9, -0.2, 12, 7];
  const p = { x: 17, y: 55 };

  it("compose as functions do", () => near(apply(compose(one, two), p), apply(one, apply(two, p))));
  it("are undone by their inverse", () => near(apply(inverse(one), apply(one, p)), p));
  it("keep the middle they turn about", () => near(apply(one, { x: 30, y: -4 }), { x: 30, y: -4 }));
  it("scale lengths", () => {
    const a = apply(one, { x: 0, y: 0 });
    const b = apply(one, { x: 3, y: 4 });
    expect(Math.hypot(b.x - a.x, b.y - a.y)).toBeCloseTo(6.5);
  });
});

describe("outlines", () => {
  it("of a turned rectangle", () => {
    const corners = boxCorners(shape("rectangle", [[0, 0], [10, 20]], { angle: 90 }));
    near(corners[0]!, { x: 15, y: 5 });
    near(corners[2]!, { x: -5, y: 15 });
  });
  it("of an ellipse lie on it", () => {
    for (const p of outlineOf(shape("ellipse", [[0, 0], [20, 10]]))) expect(((p.x - 10) / 10) ** 2 + ((p.y - 5) / 5) ** 2).toBeCloseTo(1);
  });
  it("of a path run through its points", () => {
    const made = shape("path", [[0, 0], [10, 1], [9, 12], [-2, 8]]);
    for (const p of made.points) expect(Math.min(...outlineOf(made).map((q) => Math.hypot(p.x - q.x, p.y - q.y)))).toBeLessThan(1e-9);
  });
  it("have a middle", () => near(middleOf([{ x: 0, y: 4 }, { x: 10, y: 8 }, { x: 2, y: 0 }]), { x: 5, y: 4 }));
});

describe("tracks and corrections", () => {
  const track = Array.from({ length: 10 }, (_, n) => ({ frame: n, values: [1, 0, 10 * n, 0], confidence: 1, bend: [] as number[][] }));
  const tracked = shape("rectangle", [[0, 0], [10, 10]], { track });

  it("move the shape, and the ends hold", () => {
    near(apply(transformOf(tracked, 4), { x: 0, y: 0 }), { x: 40, y: 0 });
    near(apply(transformOf(tracked, 99), { x: 0, y: 0 }), { x: 90, y: 0 });
  });
  it("without a track nothing moves", () => expect(transformOf(shape("rectangle", [[0, 0], [1, 1]]), 7)).toEqual(IDENTITY));
  it("a correction grows evenly from where the shape was drawn", () => {
    const fixed = { ...tracked, ...moved(tracked, 8, [1, 0, 0, 16]) };
    expect(fixed.corrections!.map((c) => c.frame)).toEqual([0, 8]);
    near(apply(transformOf(fixed, 8), { x: 0, y: 0 }), { x: 80, y: 16 });
    near(apply(transformOf(fixed, 4), { x: 0, y: 0 }), { x: 40, y: 8 });
    near(apply(transformOf(fixed, 9), { x: 0, y: 0 }), { x: 90, y: 16 });
  });
  it("a correction where the shape was lost leaves the frames that were found as they are", () => {
    const lost = shape("rectangle", [[0, 0], [10, 10]], { track: track.slice(0, 6) }); // lost from frame 6 on
    const fixed = { ...lost, ...moved(lost, 9, [1, 0, 0, 16]) };
    expect(fixed.corrections!.map((c) => c.frame)).toEqual([0, 5, 9]);
    for (let n = 0; n < 6; n++) near(apply(transformOf(fixed, n), { x: 0, y: 0 }), { x: 10 * n, y: 0 });
    near(apply(transformOf(fixed, 7), { x: 0, y: 0 }), { x: 50, y: 8 });
    near(apply(transformOf(fixed, 9), { x: 0, y: 0 }), { x: 50, y: 16 });
    const more = { ...fixed, ...moved(fixed, 7, [1, 0, 5, 0]) };
    expect(more.corrections!.map((c) => c.frame)).toEqual([0, 5, 7, 9]);
  });
  it("a correction where the track is doubtful stays between the frames that it is sure of", () => {
    const shaky = shape("rectangle", [[0, 0], [10, 10]], { track: track.map((t) => ({ ...t, confidence: t.frame >= 4 && t.frame <= 7 ? 0.3 : 0.9 })) });
    const fixed = { ...shaky, ...moved(shaky, 5, [1, 0, 0, 20]) };
    expect(fixed.corrections!.map((c) => c.frame)).toEqual([0, 3, 5, 8]);
    for (const n of [1, 3, 8, 9]) near(apply(transformOf(fixed, n), { x: 0, y: 0 }), { x: 10 * n, y: 0 });
    expect(doubtful(shaky.track, 3)).toEqual([[4, 7]]);
    expect(doubtful(shaky.track, 5)).toEqual([]);
    expect(goodAround(shaky, 2)).toEqual([]);
  });
  it("turning corrections go the short way", () => {
    const turned = { ...tracked, corrections: [{ frame: 0, values: about({ x: 0, y: 0 }, 1, 3) }, { frame: 10, values: about({ x: 0, y: 0 }, 1, -3) }] };
    const middle = correctionOf(turned, 5);
    expect(Math.abs(Math.atan2(middle[1], middle[0]))).toBeCloseTo(Math.PI);
  });
});

describe("edits", () => {
  it("move an untracked box, its angle included", () => {
    const change = moved(shape("rectangle", [[0, 0], [10, 20]]), 3, about({ x: 5, y: 10 }, 2, Math.PI / 2));
    expect(change.angle).toBeCloseTo(90);
    near(change.points![0]!, { x: -5, y: -10 });
    near(change.points![1]!, { x: 15, y: 30 });
  });
  it("move the points of an untracked polygon", () => {
    const change = moved(shape("polygon", [[0, 0], [4, 0], [0, 4]]), 3, [1, 0, 5, 6]);
    expect(change.points!.map(({ x, y }) => [x, y])).toEqual([[5, 6], [9, 6], [5, 10]]);
  });
  it("drag a corner while the opposite one stays", () => {
    for (const angle of [0, 30, -75]) {
      const before = shape("rectangle", [[0, 0], [100, 60]], { angle });
      const [fixed, , corner] = boxCorners(before) as [XY, XY, XY];
      const target = { x: corner.x + 0.5 * (corner.x - fixed.x), y: corner.y + 0.4 * (corner.y - fixed.y) };
      const after = { ...before, ...withCorner(before, 2, target) } as Placed;
      near(boxCorners(after)[0]!, fixed, 1);
      near(boxCorners(after)[2]!, target, 1);
    }
  });
  it("move, add and remove points", () => {
    const triangle = shape("polygon", [[0, 0], [4, 0], [0, 4]]);
    expect(withPoint(triangle, 1, { x: 9, y: 9 }).points![1]).toMatchObject({ x: 9, y: 9 });
    const four = withMiddle(triangle.points, 2, false);
    expect(four.map((p) => [p.x, p.y])).toEqual([[0, 0], [4, 0], [0, 4], [0, 2]]);
    expect(withoutPoint(four, 0).map((p) => [p.x, p.y])).toEqual([[4, 0], [0, 4], [0, 2]]);
  });
});

describe("smooth paths", () => {
  const blob = shape("path", [[0, 0], [40, 5], [50, 30], [10, 45]]).points;
  /** Points of the outline at even shares, as many on the cut piece as on two pieces. */
  const distanceTo = (outline: XY[], p: XY) => Math.min(...outline.map((q, n) => {
    const r = outline[(n + 1) % outline.length]!;
    const [ex, ey] = [r.x - q.x, r.y - q.y];
    const t = Math.min(Math.max(((p.x - q.x) * ex + (p.y - q.y) * ey) / (ex * ex + ey * ey + 1e-12), 0), 1);
    return Math.hypot(p.x - q.x - t * ex, p.y - q.y - t * ey);
  }));
  it("keep their form when a point is added, again and again", () => {
    let points = blob;
    for (const after of [1, 0, 3, 4, 2]) points = withMiddle(points, after, true);
    expect(points.length).toBe(9);
    const [before, now] = [curve(blob), curve(points)];
    expect(Math.max(...now.map((p) => distanceTo(before, p)))).toBeLessThan(0.12); // both are flattened to chords
    expect(Math.max(...before.map((p) => distanceTo(now, p)))).toBeLessThan(0.01); // what was on the path still is
    const naive = [...blob.slice(0, 2), { x: points[3]!.x, y: points[3]!.y, corner: false }, ...blob.slice(2)];
    expect(Math.max(...before.map((p) => distanceTo(curve(naive), p)))).toBeGreaterThan(0.3); // without fixed tangents it bulges
  });
  it("go over into each other, whether tangents are fixed or not", () => {
    const other = blob.map((p) => ({ ...p, x: p.x + 20, y: p.y * 2 }));
    expect(mixPaths(blob, other, 0.25).map((p) => [p.x, p.y])).toEqual(blob.map((p) => [p.x + 5, p.y * 1.25]));
    const [a, b] = [withMiddle(blob, 1, true), withMiddle(other, 1, true)];
    const [plain, fixed] = [curve(mixPaths(blob, other, 0.5)), curve(mixPaths(a, b, 0.5))];
    expect(Math.max(...plain.map((p) => distanceTo(fixed, p)))).toBeLessThan(0.01);
  });
});

describe("tracked shapes", () => {
  const bend = [[0, 0, 5, 0], [40, 0, 0, 0], [20, 30, 0, 8]];
  const bends = shape("polygon", [[0, 0], [40, 0], [20, 30]], { track: [{ frame: 0, values: [1, 0, 0, 0], confidence: 1, bend: [] }, { frame: 3, values: [1, 0, 9, 0], confidence: 0.8, bend, lies: 0.4 }, { frame: 4, values: [1, 0, 9, 0], confidence: 0.9, bend, lies: 0.7 }] });
  it("bend as they were followed, between frames too", () => {
    expect(bent(bends, 0)).toEqual(bends.points);
    for (const [n, [x, y]] of ([[5, 0], [40, 0], [20, 38]] as const).entries()) near(bent(bends, 3)[n]!, { x, y }, 2);
    const back = unbent(bends, 3, bent(bends, 3)[0]!);
    expect(Math.hypot(back.x, back.y)).toBeLessThan(2); // as near as what is around it goes alike
  });
  it("tell the frame where they lie worst", () => {
    expect(worstFrame(bends.track)).toEqual({ frame: 3, lies: 0.4 });
    expect(worstFrame([])).toBeNull();
  });
  it("take neighbours along, the less the further off", () => {
    const line = shape("polygon", [[0, 0], [30, 0], [60, 0], [200, 50]]);
    const xs = withPoint(line, 0, { x: 0, y: 10 }, 100).points!.map((p) => p.y);
    expect(xs[0]).toBe(10);
    expect(xs[1]).toBeGreaterThan(xs[2]!);
    expect(xs[2]).toBeGreaterThan(0);
    expect(xs[3]).toBe(50);
    expect(withPoint(line, 0, { x: 0, y: 10 }).points!.map((p) => p.y)).toEqual([10, 0, 0, 50]);
  });
  it("turn fixed tangents with their points", () => {
    const made = { ...shape("path", [[0, 0], [40, 5], [50, 30]]), points: [{ x: 1, y: 2, corner: false, arrive: [3, 0], leave: [0, 2] }, { x: 9, y: 2, corner: false }, { x: 4, y: 8, corner: false }] } as Placed;
    const turned = moved(made, 0, [0, 1, 10, 0]).points![0]!;
    expect([turned.x, turned.y, turned.arrive, turned.leave]).toEqual([8, 1, [0, 3], [-2, 0]]);
  });
});
