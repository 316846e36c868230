import fc from "fast-check";
import { expect, test } from "vitest";

import { movedPin, squeezed, withoutPin, withPin, type PercentPin } from "./percents";

const PINS: PercentPin[] = [
  { frame: 10, value: 0, how: "linear" },
  { frame: 20, value: 100 },
  { frame: 50, value: 40 },
];

test("a pin stops before the ones beside it, and at the ends", () => {
  expect(movedPin(PINS, 20, 90, 120, 100)[1]).toEqual({ frame: 49, value: 100 });
  expect(movedPin(PINS, 20, 3, -4, 100)[1]).toEqual({ frame: 11, value: 0 });
  expect(movedPin(PINS, 50, 300, 40, 100)[2]!.frame).toBe(100);
});

test("squeezed to half the time", () => {
  expect(squeezed(PINS, 50, 30, 100).map((p) => p.frame)).toEqual([10, 15, 30]);
  expect(squeezed(PINS, 10, 30, 100)).toEqual(PINS); // the first stays where it is
});

test("a pin goes on as the one before it", () => {
  expect(withPin(PINS, 14.6, 33.3, 100)[1]).toEqual({ frame: 15, value: 33, how: "linear" });
  expect(withPin(PINS, 20, 5, 100)).toHaveLength(3);
  expect(withoutPin(PINS, 20).map((p) => p.frame)).toEqual([10, 50]);
});

test("whatever is done, pins stay in order and within", () => {
  const pins = fc.uniqueArray(fc.integer({ min: 0, max: 1000 }), { minLength: 1, maxLength: 8 }).map((at) => at.sort((a, b) => a - b).map((frame) => ({ frame, value: 50 })));
  fc.assert(
    fc.property(pins, fc.nat(7), fc.integer({ min: -500, max: 2000 }), (from, n, to) => {
      const { frame } = from[n % from.length]!;
      for (const after of [movedPin(from, frame, to, to, 1000), squeezed(from, frame, to, 1000), withPin(from, to, to, 1000)])
        after.forEach((p, k) => {
          expect(p.frame).toBeGreaterThanOrEqual(k ? after[k - 1]!.frame + 1 : 0);
          expect(p.frame).toBeLessThanOrEqual(1000);
        });
    }),
  );
});

test("pins that would meet when squeezed stay a frame apart, each behind the one before it", () => {
  const near = [0, 1, 2, 100].map((frame) => ({ frame, value: 50 }));
  expect(squeezed(near, 100, 4, 200).map((p) => p.frame)).toEqual([0, 1, 2, 4]);
});
