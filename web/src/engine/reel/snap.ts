/** Where what is dragged in the reel stops by itself, and what lies on both sides of a cut. */
import type { ReelLayout } from "./layout";

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

export type Side = { shot: string; name: string; revision: number; frame: number } | null;

/** The last frame before a cut and the first one after it: the cut at an edge of an item. */
export function sidesOf({ items }: ReelLayout, id: string, edge: "first" | "last"): [Side, Side] {
  const at = items.findIndex((p) => p.item.id === id) + (edge === "first" ? 0 : 1);
  const side = (n: number, which: "first" | "last"): Side => {
    const placed = items[n];
    return placed?.shot && !placed.shot.gone ? { shot: placed.item.shot, name: placed.shot.name, revision: placed.shot.revision, frame: placed.item[which] } : null;
  };
  return [side(at - 1, "last"), side(at, "first")];
}
