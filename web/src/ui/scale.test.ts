import fc from "fast-check";
import { describe, expect, it } from "vitest";

import { placeOf, valueAt } from "./scale";

const info = (low: number, high: number, step: number, usual: number, unit = "", period: number | null = null) => ({ name: "x", help: "", unit, low, high, step, default: usual, period });

describe("a slider's scale", () => {
  it("tells shares and angles evenly", () => {
    expect(placeOf(info(0, 100, 1, 100, "%"), 25)).toBe(0.25);
    expect(placeOf(info(-360, 360, 1, 0, "°", 360), 180)).toBe(0.75);
    expect(valueAt(info(0, 200, 1, 100, "%"), 0.5)).toBe(100);
  });

  it("is fine where a number is used, and reaches its ends", () => {
    const blur = info(0, 200, 0.5, 8, "px");
    expect([0, 0.2, 0.5, 1].map((p) => valueAt(blur, p))).toEqual([0, 8, 50, 200]);
    const stops = info(-8, 8, 0.1, 0, "EV");
    expect([0, 0.25, 0.5, 0.75, 1].map((p) => valueAt(stops, p))).toEqual([-8, -2, 0, 2, 8]);
    const gamma = info(0.1, 10, 0.05, 1);
    expect([0, 0.5, 0.6, 1].map((p) => valueAt(gamma, p))).toEqual([0.1, 1, 1.35, 10]);
    expect(valueAt(info(2500, 15000, 50, 6500, "K"), 0.5)).toBe(6500);
    expect(valueAt(info(-100, 200, 0.5, 50, "%"), 0.5)).toBe(50); // a place in the picture: its middle
  });

  it("gives every value of the range one place, in order, and back within half a step", () => {
    const numbers = fc.record({ low: fc.integer({ min: -500, max: 100 }), span: fc.integer({ min: 1, max: 2000 }), part: fc.double({ min: 0, max: 1, noNaN: true }), unit: fc.constantFrom("", "%", "px", "°", "K"), steps: fc.integer({ min: 2, max: 3000 }) });
    fc.assert(
      fc.property(numbers, fc.double({ min: 0, max: 1, noNaN: true }), fc.double({ min: 0, max: 1, noNaN: true }), ({ low, span, part, unit, steps }, a, b) => {
        const one = info(low, low + span, span / steps, low + span * part, unit);
        const [v, w] = [low + a * span, low + b * span];
        if (v < w) expect(placeOf(one, v)).toBeLessThanOrEqual(placeOf(one, w));
        expect(placeOf(one, v)).toBeGreaterThanOrEqual(0);
        expect(placeOf(one, v)).toBeLessThanOrEqual(1);
        expect(Math.abs(valueAt(one, placeOf(one, v)) - v)).toBeLessThanOrEqual(one.step / 2 + 1e-5);
      }),
    );
  });
});
