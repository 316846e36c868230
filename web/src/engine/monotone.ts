/** Curves as the server draws them: monotone cubic (Fritsch and Carlson 1980), open or closed into a ring. Only to draw them on screen. */
export type Point = readonly [number, number];

function slopes(x: number[], y: number[]): number[] {
  const h = x.slice(1).map((v, n) => v - x[n]!);
  const d = y.slice(1).map((v, n) => (v - y[n]!) / h[n]!);
  if (x.length === 2) return [d[0]!, d[0]!];
  const out = x.map((_, n) => {
    if (n === 0) return end(h[0]!, h[1]!, d[0]!, d[1]!);
    if (n === x.length - 1) return end(h.at(-1)!, h.at(-2)!, d.at(-1)!, d.at(-2)!);
    const [left, right] = [d[n - 1]!, d[n]!];
    if (left * right <= 0) return 0;
    const w1 = 2 * h[n]! + h[n - 1]!;
    const w2 = h[n]! + 2 * h[n - 1]!;
    return (w1 + w2) / (w1 / left + w2 / right);
  });
  return out;
}

function end(h0: number, h1: number, d0: number, d1: number): number {
  const slope = ((2 * h0 + h1) * d0 - h0 * d1) / (h0 + h1);
  if (slope * d0 <= 0) return 0;
  return d0 * d1 <= 0 && Math.abs(slope) > 3 * Math.abs(d0) ? 3 * d0 : slope;
}

/** The curve as a function, level beyond its ends. */
export function curveOf(points: readonly Point[]): (at: number) => number {
  const x = points.map((p) => p[0]);
  const y = points.map((p) => p[1]);
  if (points.length === 1) return () => y[0]!;
  const m = slopes(x, y);
  return (at) => {
    let n = 0;
    while (n < x.length - 2 && at >= x[n + 1]!) n++;
    const h = x[n + 1]! - x[n]!;
    const t = Math.min(Math.max((at - x[n]!) / h, 0), 1);
    const s = 1 - t;
    return (1 + 2 * t) * s * s * y[n]! + t * s * s * h * m[n]! + t * t * (3 - 2 * t) * y[n + 1]! - t * t * s * h * m[n + 1]!;
  };
}

/** The closed curve whose ends meet after `turn`. */
export function ringOf(points: readonly Point[], turn = 360): (at: number) => number {
  const byPlace = new Map(points.map(([px, py]) => [((px % turn) + turn) % turn, py]));
  const sorted = [...byPlace].sort((a, b) => a[0] - b[0]);
  if (sorted.length === 1) return () => sorted[0]![1];
  const wide = [-turn, 0, turn].flatMap((by) => sorted.map(([px, py]) => [px + by, py] as Point));
  const open = curveOf(wide);
  return (at) => open(((at % turn) + turn) % turn);
}
