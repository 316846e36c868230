/** Where everything of a reel lies, in frames of the reel: reckoned as the server does, also for what is only being dragged. */
import type { ReelDocument, ReelItem, ReelJoin, ReelSpan, StandingShot } from "../../api/types";

export type Placed = { item: ReelItem; shot: StandingShot | null; first: number; frames: number; rate: [number, number] };
export type Overlap = { join: ReelJoin; cut: number; before: number; behind: number; heldOut: number; heldIn: number };
export type Laid = { span: ReelSpan; first: number; last: number };
export type ReelLayout = { width: number; height: number; fps: string; rate: number; length: number; items: Placed[]; joins: Overlap[]; spans: Laid[]; lost: ReelSpan[] };

const EMPTY = { width: 1280, height: 720, fps: "24" };
const EARLY = { before: 100, centred: 50, after: 0 };

export const ratio = (rate: string): [number, number] => {
  const [n, d] = rate.split("/").map(Number);
  return [n ?? 24, d ?? 1];
};

/** So many frames at one rate, in frames at another: the nearest whole number, halves up. Whole numbers all the way. */
const conformed = (frames: number, [fromN, fromD]: [number, number], [toN, toD]: [number, number]) => {
  const [over, under] = [frames * fromD * toN, fromN * toD];
  return Math.floor((2 * over + under) / (2 * under));
};

/** The frame of its shot that an item shows, so many frames of the reel after its first. */
export const shownAt = (placed: Placed, fps: string, into: number) => placed.item.first + conformed(into, ratio(fps), placed.rate);

/** Frames of the reel after an item's first one at which a frame of its shot is shown. */
const placeOf = (placed: Placed, fps: string, frame: number) => {
  const inside = Math.min(Math.max(frame, placed.item.first), placed.item.last) - placed.item.first;
  return placed.first + Math.min(conformed(inside, placed.rate, ratio(fps)), placed.frames - 1);
};

export function layoutOf(document: ReelDocument, shots: Record<string, StandingShot>): ReelLayout {
  const items = document.items ?? [];
  const lead = items.map((item) => shots[item.shot]).find((shot) => shot);
  const fps = document.fps ?? lead?.fps ?? EMPTY.fps;
  const [width, height] = document.width && document.height ? [document.width, document.height] : [lead?.width ?? EMPTY.width, lead?.height ?? EMPTY.height];
  const to = ratio(fps);
  let at = 0;
  const placed = items.map((item): Placed => {
    const shot = shots[item.shot] ?? null;
    const rate = ratio(shot?.fps ?? fps);
    const longest = shot && !shot.still ? shot.length - 1 : Infinity;
    const last = Math.min(item.last, longest);
    const first = Math.min(item.first, last);
    const here = { item: { ...item, first, last }, shot, first: at, frames: Math.max(1, conformed(last - first + 1, rate, to)), rate };
    at += here.frames;
    return here;
  });
  const byId = new Map(placed.map((p) => [p.item.id, p]));
  const spans: Laid[] = [];
  const lost: ReelSpan[] = [];
  for (const span of document.spans ?? []) {
    const [start, end] = [byId.get(span.start.item), byId.get(span.end.item)];
    const first = start && placeOf(start, fps, span.start.frame);
    const last = end && placeOf(end, fps, span.end.frame);
    if (first !== undefined && last !== undefined && first <= last) spans.push({ span, first, last });
    else lost.push(span);
  }
  return { width, height, fps, rate: to[0] / to[1], length: Math.max(at, 1), items: placed, joins: overlaps(document, placed, to), spans, lost };
}

function overlaps(document: ReelDocument, placed: Placed[], to: [number, number]): Overlap[] {
  const joins = new Map((document.joins ?? []).map((j) => [j.after, j]));
  const found: Overlap[] = [];
  let taken = 0;
  placed.forEach((here, n) => {
    const join = joins.get(here.item.id);
    const next = placed[n + 1];
    let behind = 0;
    if (join && next) {
      const early = Math.floor(((join.frames ?? 24) * EARLY[join.at ?? "centred"]) / 100 + 0.5);
      const before = Math.min(early, here.frames - taken);
      behind = Math.min((join.frames ?? 24) - early, next.frames);
      const ahead = (p: Placed) => Math.floor((p.item.first * p.rate[1] * to[0]) / (p.rate[0] * to[1]));
      const length = here.shot && !here.shot.still ? here.shot.length : here.item.last + 1;
      const there = Math.max(1, conformed(length - here.item.first, here.rate, to)) - here.frames;
      if (before + behind) found.push({ join, cut: next.first, before, behind, heldOut: Math.max(behind - there, 0), heldIn: Math.max(before - ahead(next), 0) });
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
