/** Keyframes as the page shows and edits them. The server works out the picture; this only draws values and pins. */
import type { Command, Keyframe, Lane, ParamInfo, ShotDocument } from "../api/types";
import { join } from "./commands";
import { equal } from "./equal";
import { curveOf, ringOf, type Point } from "./monotone";
import { hexOf, lchOf } from "../colour/oklch";
import { mixPaths, type PathPoint } from "./paths";
import { colourAt, type Loose, type Stop } from "../colour/stops";

const declared = (key: string, name: string, kind: ParamInfo["kind"], value: unknown): ParamInfo => ({
  key, name, kind, help: "", unit: "", low: 0, high: 1, step: 1, default: value, animatable: true, choices: [], fields: [],
});

/** Switches and paths have no declaration of their own in the catalogue. */
export const SWITCH = declared("on", "On", "switch", true);
export const AMOUNT = declared("amount", "Amount", "number", 100);
export const PATH = declared("points", "Path", "points", []);

export type How = NonNullable<Keyframe["how"]>;

export const lanesOf = (document: ShotDocument | null): Lane[] => document?.look.lanes ?? [];
export const laneOf = (document: ShotDocument | null, target: string): Lane | null => lanesOf(document).find((l) => l.target === target) ?? null;

/** How far a value has gone at a share of the way to the next keyframe. */
export function passage(keyframe: Pick<Keyframe, "how" | "ease">, t: number): number {
  if (keyframe.how === "hold") return 0;
  if (keyframe.how === "linear") return t;
  return t + ((keyframe.ease ?? 100) / 100) * (t * t * (3 - 2 * t) - t);
}

export function mixColours(one: string, other: string, t: number): string {
  const lab = (hex: string) => {
    const [l, c, h] = lchOf(hex);
    return [l, c * Math.cos((h * Math.PI) / 180), c * Math.sin((h * Math.PI) / 180)] as const;
  };
  const [a, b] = [lab(one), lab(other)];
  const [l, x, y] = a.map((v, n) => v + (b[n]! - v) * t) as [number, number, number];
  return hexOf(l, Math.hypot(x, y), ((Math.atan2(y, x) * 180) / Math.PI + 360) % 360);
}

function turn(one: number, other: number, t: number, way: Lane["way"], period: number): number {
  if (way !== "short" && way !== "long") return one + (other - one) * t;
  const short = ((((other - one + period / 2) % period) + period) % period) - period / 2;
  return one + (way === "short" ? short : short > 0 ? short - period : short + period) * t;
}

function mixCurves(one: Point[], other: Point[], t: number, overHue: boolean): Point[] {
  let [a, b] = [one, other];
  if (a.length !== b.length) {
    const places = [...new Set([...a, ...b].map((p) => p[0]))].sort((x, y) => x - y);
    const drawn = (c: Point[]) => (overHue ? ringOf(c) : curveOf(c));
    [a, b] = [one, other].map((c) => places.map((x): Point => [x, drawn(c)(x)])) as [Point[], Point[]];
  }
  return a.map((p, n): Point => [p[0] + (b[n]![0] - p[0]) * t, p[1] + (b[n]![1] - p[1]) * t]);
}

function mixStops(one: Stop[], other: Stop[], t: number): Loose[] {
  let [a, b]: [Loose[], Loose[]] = [one, other];
  if (a.length !== b.length) {
    const places = [...new Set([...a, ...b].map((s) => s.position))].sort((x, y) => x - y);
    [a, b] = [one, other].map((g) => places.map((position) => ({ position, colour: colourAt(g, position) }))) as [Loose[], Loose[]];
  }
  return a.map((s, n) => ({ ...s, position: s.position + (b[n]!.position - s.position) * t, colour: mixColours(s.colour, b[n]!.colour, t) }));
}

type Info = Pick<ParamInfo, "kind" | "unit" | "low" | "high" | "axis" | "period">;

function between(info: Info, one: unknown, other: unknown, t: number, way: Lane["way"]): unknown {
  if (t <= 0) return one;
  if (info.kind === "number") return info.period ? turn(Number(one), Number(other), t, way, info.period) : Number(one) + (Number(other) - Number(one)) * t;
  if (info.kind === "colour") return mixColours(String(one), String(other), t);
  if (info.kind === "colours") {
    const [a, b] = [one, other] as [string[], string[]];
    return a.length === b.length ? a.map((c, n) => mixColours(c, b[n]!, t)) : a;
  }
  if (info.kind === "curve") return mixCurves(one as Point[], other as Point[], t, info.axis === "hue");
  if (info.kind === "gradient") return mixStops(one as Stop[], other as Stop[], t);
  if (info.kind === "points") return mixPaths(one as PathPoint[], other as PathPoint[], t);
  return one;
}

function within(info: Info, value: number): number {
  if (value >= info.low && value <= info.high) return value;
  const { period } = info;
  if (period && info.high - info.low >= period) return ((((value - info.low) % period) + period) % period) + info.low;
  return Math.min(Math.max(value, info.low), info.high);
}

/** The value of a lane at a frame. */
export function valueAt(lane: Lane, info: Info, frame: number, rate: number): unknown {
  const list = lane.keyframes;
  let [n, after] = [-1, list.length]; // the last keyframe not after the frame, by halving
  while (after - n > 1) {
    const middle = (n + after) >> 1;
    if (list[middle]!.frame <= frame) n = middle;
    else after = middle;
  }
  let value: unknown;
  if (n < 0) value = list[0]!.value;
  else if (n === list.length - 1) value = list[n]!.value;
  else {
    const [one, other] = [list[n]!, list[n + 1]!];
    value = between(info, one.value, other.value, passage(one, (frame - one.frame) / (other.frame - one.frame)), lane.way);
  }
  if (info.kind !== "number") return value;
  return within(info, Number(value) + ((lane.drift ?? 0) * (frame - (lane.start ?? 0))) / rate);
}

const sorted = (keyframes: Keyframe[]) => [...keyframes].sort((a, b) => a.frame - b.frame);

/** The lane with a keyframe of this value at this frame: a new one, or the one that is there. The drift is taken off, so that the value shown is the one set. */
export function withKeyframe(lane: Lane, info: Info, frame: number, value: unknown, rate: number): Lane {
  const drifted = info.kind === "number" ? ((lane.drift ?? 0) * (frame - (lane.start ?? 0))) / rate : 0;
  const stored = info.kind === "number" ? within(info, Number(value) - drifted) : value;
  const at = lane.keyframes.findIndex((k) => k.frame === frame);
  if (at >= 0) return { ...lane, keyframes: lane.keyframes.map((k, n) => (n === at ? { ...k, value: stored } : k)) };
  const before = lane.keyframes.findLast((k) => k.frame < frame) ?? lane.keyframes[0]!;
  return { ...lane, keyframes: sorted([...lane.keyframes, { frame, value: stored, how: before.how, ease: before.ease }]) };
}

/** What makes a lane of the one that is there (null: none): each keyframe that differs, so that keyframes of other frames stay as they are meanwhile. */
export function laneCommands(root: string, before: Lane | null, after: Lane): Command[] {
  const target = `${root}/${join("lanes", after.target)}`;
  if (!before) return [{ do: "set", target, value: after }];
  const [old, left] = [new Map(before.keyframes.map((k) => [k.frame, k])), new Set(after.keyframes.map((k) => k.frame))];
  const gone = before.keyframes.filter((k) => !left.has(k.frame)).map((k): Command => ({ do: "remove", target: `${target}/keyframes/${k.frame}` }));
  const put = after.keyframes.filter((k) => !equal(old.get(k.frame), k)).map((k): Command => ({ do: "set", target: `${target}/keyframes/${k.frame}`, value: k }));
  const rest = (["drift", "start", "way"] as const).filter((key) => after[key] !== before[key]).map((key): Command => ({ do: "set", target: `${target}/${key}`, value: after[key] }));
  return [...put, ...gone, ...rest];
}

export type Pin = { target: string; frame: number };
export const pinKey = (pin: Pin) => `${pin.target}@${pin.frame}`;

/** The lanes after the chosen pins were moved by some frames, or stretched about a frame, and given other values. A pin that lands on another takes its place. */
export function movePins(lanes: Lane[], pins: Pin[], place: (frame: number) => number, lift: ((value: unknown) => unknown) | null = null): { lanes: Lane[]; pins: Pin[] } {
  const chosen = new Set(pins.map(pinKey));
  const changed: Lane[] = [];
  const moved: Pin[] = [];
  for (const lane of lanes) {
    const mine = lane.keyframes.filter((k) => chosen.has(pinKey({ target: lane.target, frame: k.frame })));
    if (!mine.length) continue;
    const landed = new Map<number, Keyframe>();
    for (const k of mine) landed.set(Math.max(0, Math.round(place(k.frame))), lift ? { ...k, value: lift(k.value) } : k);
    const rest = lane.keyframes.filter((k) => !mine.includes(k) && !landed.has(k.frame));
    changed.push({ ...lane, keyframes: sorted([...rest, ...[...landed].map(([frame, k]) => ({ ...k, frame }))]) });
    moved.push(...[...landed.keys()].map((frame) => ({ target: lane.target, frame })));
  }
  return { lanes: changed, pins: moved };
}

/** The nearest of some places within reach, or the frame itself. */
export function snapTo(frame: number, places: number[], reach: number): number {
  const near = places.reduce((best, p) => (Math.abs(p - frame) < Math.abs(best - frame) ? p : best), Infinity);
  return Math.abs(near - frame) <= reach ? near : Math.round(frame);
}

/** Keyframes on their way to another place: which lane each was in, and how long after the first of them it stood. */
export type Copied = { target: string; after: number; keyframe: Keyframe }[];

export function copyPins(lanes: Lane[], pins: Pin[]): Copied {
  const first = Math.min(...pins.map((p) => p.frame));
  return pins.flatMap(({ target, frame }) => {
    const keyframe = lanes.find((l) => l.target === target)?.keyframes.find((k) => k.frame === frame);
    return keyframe ? [{ target, after: frame - first, keyframe }] : [];
  });
}

/** The lanes with copied keyframes from a frame on: each in its own lane, or all in one. One that lands on another takes its place. */
export function pastePins(lanes: Lane[], copied: Copied, frame: number, into?: string): { lanes: Lane[]; pins: Pin[] } {
  const pins: Pin[] = [];
  const changed = lanes.flatMap((lane) => {
    const landed = new Map(copied.filter((c) => (into ? lane.target === into : c.target === lane.target)).map((c) => [frame + c.after, c.keyframe]));
    if (!landed.size) return [];
    pins.push(...[...landed.keys()].map((f) => ({ target: lane.target, frame: f })));
    return [{ ...lane, keyframes: sorted([...lane.keyframes.filter((k) => !landed.has(k.frame)), ...[...landed].map(([f, k]) => ({ ...k, frame: f }))]) }];
  });
  return { lanes: changed, pins };
}
