/** Where everything of a reel lies, in frames of the reel: reckoned as the server does, also for what is only being dragged. */
import type { ReelDocument, ReelItem, ReelTransition, ReelSpan, StandingShot } from "../../api/types";

/** In place of a shot's id: an item that shows nothing but what is behind. */
export const GAP = "gap";

/** An item where it stands. anchor: the frame of its shot from which its frames are counted, and the frame of the reel that shows it. */
export type Placed = { item: ReelItem; shot: StandingShot | null; first: number; frames: number; rate: [number, number]; anchor: { first: number; at: number } };
export type Overlap = { transition: ReelTransition; cut: number; before: number; behind: number; heldOut: number; heldIn: number };
export type Laid = { span: ReelSpan; first: number; last: number };
export type ReelLayout = { width: number; height: number; fps: string; rate: number; length: number; items: Placed[]; transitions: Overlap[]; spans: Laid[]; lost: ReelSpan[] };

const EMPTY = { width: 1280, height: 720, fps: "24" };
const EARLY = { before: 100, centred: 50, after: 0 };

export const ratio = (rate: string): [number, number] => {
  const [n, d] = rate.split("/").map(Number);
  return [n ?? 24, d ?? 1];
};

/** So many frames at one rate, in frames at another: the nearest whole number, halves up. Whole numbers all the way. */
export const conformed = (frames: number, [fromN, fromD]: [number, number], [toN, toD]: [number, number]) => {
  const [over, under] = [frames * fromD * toN, fromN * toD];
  return Math.floor((2 * over + under) / (2 * under));
};

/** The first frame at which the nearest in time is a frame of another rate, or a later one. */
const firstShown = (frame: number, [fromN, fromD]: [number, number], [toN, toD]: [number, number]) => Math.ceil(((2 * frame - 1) * fromD * toN) / (2 * fromN * toD));

/** The frame of its shot that an item shows, so many frames of the reel after its first: the nearest in time of its own. */
export const shownAt = (placed: Placed, fps: string, into: number) => {
  const frame = placed.anchor.first + conformed(placed.first + into - placed.anchor.at, ratio(fps), placed.rate);
  return Math.min(Math.max(frame, placed.item.first), placed.item.last);
};

/** The first frame of the reel at which an item shows a frame of its shot, or a later one; for a last frame the last at which it shows that, or an earlier one. */
const placeOf = (placed: Placed, fps: string, frame: number, last = false) => {
  if (last && frame >= placed.item.last) return placed.first + placed.frames - 1; // it is held until the item ends
  const inside = frame - placed.anchor.first;
  const at = placed.anchor.at + (last ? firstShown(inside + 1, placed.rate, ratio(fps)) - 1 : firstShown(inside, placed.rate, ratio(fps)));
  return Math.min(Math.max(at, placed.first), placed.first + placed.frames - 1);
};

export function layoutOf(document: ReelDocument, shots: Record<string, StandingShot>): ReelLayout {
  const items = document.items ?? [];
  const lead = items.map((item) => shots[item.shot]).find((shot) => shot);
  const fps = document.fps ?? lead?.fps ?? EMPTY.fps;
  const [width, height] = document.width && document.height ? [document.width, document.height] : [lead?.width ?? EMPTY.width, lead?.height ?? EMPTY.height];
  const to = ratio(fps);
  const ends = items.map((item) => {
    const shot = shots[item.shot] ?? null;
    const last = Math.min(item.last, shot && !shot.still ? shot.length - 1 : Infinity);
    return { ...item, first: Math.min(item.first, last), last };
  });
  const goesOn = (n: number) => n > 0 && n < ends.length && ends[n - 1]!.shot === ends[n]!.shot && ends[n]!.first === ends[n - 1]!.last + 1;
  let at = 0;
  let anchor = { first: 0, at: 0 };
  const placed = ends.map((item, n): Placed => {
    const shot = shots[item.shot] ?? null;
    const rate = ratio(shot?.fps ?? fps);
    if (!goesOn(n)) anchor = { first: item.first, at }; // items that go on in what the one before shows are counted together: a split moves nothing
    const count = item.last + 1 - anchor.first;
    const end = anchor.at + (goesOn(n + 1) ? firstShown(count, rate, to) : Math.max(1, conformed(count, rate, to)));
    const here = { item, shot, first: at, frames: Math.max(end, at + 1) - at, rate, anchor };
    at += here.frames;
    return here;
  });
  const byId = new Map(placed.map((p) => [p.item.id, p]));
  const spans: Laid[] = [];
  const lost: ReelSpan[] = [];
  for (const span of document.spans ?? []) {
    const [start, end] = [byId.get(span.start.item), byId.get(span.end.item)];
    const first = start && placeOf(start, fps, span.start.frame);
    const last = end && placeOf(end, fps, span.end.frame, true);
    if (first !== undefined && last !== undefined && first <= last) spans.push({ span, first, last });
    else lost.push(span);
  }
  return { width, height, fps, rate: to[0] / to[1], length: Math.max(at, 1), items: placed, transitions: overlaps(document, placed, to), spans, lost };
}

function overlaps(document: ReelDocument, placed: Placed[], to: [number, number]): Overlap[] {
  const transitions = new Map((document.transitions ?? []).map((j) => [j.after, j]));
  const found: Overlap[] = [];
  let taken = 0;
  placed.forEach((here, n) => {
    const transition = transitions.get(here.item.id);
    const next = placed[n + 1];
    let behind = 0;
    if (transition && next) {
      const early = Math.floor(((transition.frames ?? 24) * EARLY[transition.at ?? "centred"]) / 100 + 0.5);
      const before = Math.min(early, here.frames - taken);
      behind = Math.min((transition.frames ?? 24) - early, next.frames);
      const ahead = Math.floor((next.anchor.first * next.rate[1] * to[0]) / (next.rate[0] * to[1])) + next.first - next.anchor.at;
      const length = here.shot && !here.shot.still ? here.shot.length : here.item.last + 1;
      const there = Math.max(here.anchor.at + Math.max(1, conformed(length - here.anchor.first, here.rate, to)) - here.first - here.frames, 0);
      if (before + behind) found.push({ transition, cut: next.first, before, behind, heldOut: Math.max(behind - there, 0), heldIn: Math.max(before - ahead, 0) });
    }
    taken = behind;
  });
  return found;
}

/** The item at a frame of the reel. */
export function itemAt(layout: ReelLayout, frame: number): Placed | null {
  let [low, high] = [0, layout.items.length - 1];
  while (low < high) {
    const middle = (low + high + 1) >> 1;
    if (layout.items[middle]!.first <= frame) low = middle;
    else high = middle - 1;
  }
  return layout.items[low] ?? null;
}

/** Spans in rows, so that none lies over another in its row: the top one of the picture in the top row. */
export function rowsOf(spans: Laid[]): Laid[][] {
  const rows: Laid[][] = [];
  for (const laid of spans) {
    const over = rows.findLastIndex((row) => row.some((other) => other.first <= laid.last && laid.first <= other.last)) + 1;
    (rows[over] ??= []).push(laid);
  }
  return rows.reverse();
}
