import fc from "fast-check";
import { describe, expect, it } from "vitest";

import { returning } from "./bands";

describe("bands that return one by one", () => {
  it("begin at the playhead and are all back by the out frame, one after another", () => {
    expect(returning(4, 10, 50)).toEqual([[10, 20], [20, 30], [30, 40], [40, 50]]);
    fc.assert(
      fc.property(fc.integer({ min: 1, max: 12 }), fc.integer({ min: 0, max: 1000 }), fc.integer({ min: 12, max: 5000 }), (count, from, more) => {
        const times = returning(count, from, from + more);
        expect(times[0]![0]).toBe(from);
        expect(times.at(-1)![1]).toBe(from + more);
        times.forEach(([begin, end], n) => {
          expect(end).toBeGreaterThan(begin);
          if (n) expect(begin).toBe(times[n - 1]![1]);
        });
      }),
    );
  });
});
