import { describe, expect, it } from "vitest";

import { frameAt, kept, LEAST, panned, perFrame, turnedTo, xOf, zoomed } from "./timespan";

describe("the time on the ruler", () => {
  const span = { from: 20, to: 70, width: 500 };
  it("goes from frames to pixels and back", () => {
    expect([xOf(span, 20), xOf(span, 45), perFrame(span)]).toEqual([0, 250, 10]);
    for (const frame of [0, 20, 33.5, 99]) expect(frameAt(span, xOf(span, frame))).toBeCloseTo(frame, 9);
  });
  it("zooms about a frame, which stays where it is", () => {
    const closer = zoomed({ from: 20, to: 70 }, 100, 30, 2)!;
    expect(closer).toEqual({ from: 25, to: 50 });
    expect(zoomed(closer, 100, 30, 0.5)).toEqual({ from: 20, to: 70 });
    expect(zoomed({ from: 20, to: 70 }, 100, 45, 0.1)).toBeNull(); // all of it
    expect(zoomed({ from: 20, to: 70 }, 100, 45, 1000)!.to - zoomed({ from: 20, to: 70 }, 100, 45, 1000)!.from).toBe(LEAST);
  });
  it("stays within the footage", () => {
    expect(panned({ from: 20, to: 70 }, 100, 90)).toEqual({ from: 50, to: 100 });
    expect(panned({ from: 20, to: 70 }, 100, -90)).toEqual({ from: 0, to: 50 });
    expect(kept({ from: -5, to: 120 }, 100)).toBeNull();
    expect(kept({ from: 2, to: 3 }, 5)).toBeNull(); // a very short shot is always shown whole
  });
  it("turns like a page to the playhead", () => {
    const page = { from: 20, to: 40 };
    expect(turnedTo(page, 100, 33)).toBe(page);
    expect(turnedTo(page, 100, 41)).toEqual({ from: 40, to: 60 });
    expect(turnedTo(page, 100, 5)).toEqual({ from: 0, to: 20 });
    expect(turnedTo(page, 100, 97)).toEqual({ from: 80, to: 100 });
  });
});
