/** Where what is dragged in the reel stops by itself, and what lies on both sides of a cut. */
import { GAP, type Placed, type ReelLayout } from "./layout";

/** The places that edges stop at: cuts, the playhead, the ends and pins of spans, but of the one that is dragged. */
export function edgesOf(layout: ReelLayout, playhead: number, without: string | null): number[] {
  const cuts = layout.items.flatMap((p) => [p.first, p.first + p.frames]);
  const others = layout.spans.filter((s) => s.span.id !== without);
  return [...new Set([...cuts, playhead, ...others.flatMap((s) => [s.first, s.last + 1, ...(s.span.amounts ?? []).map((k) => s.first + k.frame)])])];
}

/** How far something moves, so that it stops at an edge that is near. */
export function snapped(edges: readonly number[], from: number, by: number, near: number): number {
  const best = edges.reduce((found, edge) => (edge !== from && Math.abs(edge - from - by) < Math.abs(found - from - by) ? edge : found), Infinity);
  return Math.abs(best - from - by) <= near ? best - from : by;
}

/** An end of an item: the frame of its shot that is shown there. shot: null where there is no picture of it, in a gap. */
export type Side = { does: "begins" | "ends"; name: string; shot: string | null; revision: number; frame: number };

export const sideOf = ({ item, shot }: Placed, edge: "first" | "last"): Side => ({
  does: edge === "first" ? "begins" : "ends",
  name: shot?.name ?? (item.shot === GAP ? "Gap" : "A shot that is gone"),
  shot: shot && !shot.gone ? item.shot : null,
  revision: shot?.revision ?? 0,
  frame: item[edge],
});

/** The last frame before a cut and the first one after it: the cut at an edge of an item. Null where the reel begins or ends. */
export function sidesOf({ items }: ReelLayout, id: string, edge: "first" | "last"): [Side | null, Side | null] {
  const at = items.findIndex((p) => p.item.id === id) + (edge === "first" ? 0 : 1);
  const [before, after] = [items[at - 1], items[at]];
  return [before ? sideOf(before, "last") : null, after ? sideOf(after, "first") : null];
}
