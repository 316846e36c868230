import { expect, test } from "vitest";

import type { ReelItem, StandingShot } from "../../api/types";
import { lyingOf, movedTo } from "./placing";
import { edgesOf, sidesOf, snapped } from "./snap";
import { layoutOf } from "./layout";

const shot = (width: number, height: number) => ({ name: "A", footage_id: "f", revision: 3, gone: false, fps: "24", length: 100, width, height, still: false, sound: false }) as StandingShot;
const item = (more: Partial<ReelItem> = {}) => ({ id: "i", shot: "a", first: 0, last: 9, ...more }) as ReelItem;
const FRAME = { width: 1920, height: 1080 };

test("an upright shot lies between bars, and fills the frame cropped", () => {
  expect(lyingOf(item(), shot(540, 960), FRAME)).toEqual({ middle: { x: 960, y: 540 }, half: { x: 303.75, y: 540 }, turn: 0 });
  expect(lyingOf(item({ fit: "fill", down: 0 }), shot(540, 960), FRAME).middle.y).toBeCloseTo((1920 * 960) / 540 / 2); // its top at the top
  expect(lyingOf(item({ fit: "own", scale: 50, across: 0 }), shot(1000, 400), { width: 960, height: 540 }).half).toEqual({ x: 500, y: 200 });
});

test("moved there, it lies there", () => {
  for (const one of [item(), item({ fit: "fill" }), item({ fit: "own", scale: 30 })]) {
    const to = { x: 700, y: 480 };
    const there = lyingOf({ ...one, ...movedTo(one, shot(540, 960), FRAME, to) }, shot(540, 960), FRAME).middle;
    const room = lyingOf(one, shot(540, 960), FRAME).half;
    if (Math.abs(room.x - 960) > 1) expect(there.x).toBeCloseTo(to.x, 0);
    if (Math.abs(room.y - 540) > 1) expect(there.y).toBeCloseTo(to.y, 0);
  }
  expect(movedTo(item({ across: 20 }), shot(1920, 1080), FRAME, { x: 0, y: 0 })).toEqual({ across: 20, down: 50 }); // no room to move it in
});

test("what is dragged stops at cuts, the playhead, spans and their pins", () => {
  const span = { id: "s", name: "S", start: { item: "i", frame: 2 }, end: { item: "j", frame: 4 }, amounts: [{ frame: 3, value: 50 }] };
  const layout = layoutOf({ items: [item(), item({ id: "j", first: 5, last: 24 })], spans: [span] } as never, { a: shot(1920, 1080) });
  expect(edgesOf(layout, 17, null).sort((a, b) => a - b)).toEqual([0, 2, 5, 10, 11, 17, 30]);
  expect(edgesOf(layout, 17, "s")).not.toContain(2);
  expect(snapped([10, 17, 30], 10, 6, 2)).toBe(7);
  expect(snapped([10, 17, 30], 10, 1, 2)).toBe(1); // where it lies itself it does not stick
  expect(sidesOf(layout, "i", "last")).toMatchObject([{ frame: 9 }, { frame: 5 }]);
  expect(sidesOf(layout, "i", "first")).toMatchObject([null, { frame: 0 }]);
});
