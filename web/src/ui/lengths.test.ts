import { describe, expect, it } from "vitest";

import { numberWords, shareWords, toldIn } from "./lengths";

const CHOKE = { name: "Choke", help: "", unit: "px", low: -50, high: 50, step: 0.25, default: 0 };

describe("lengths", () => {
  it("are told in the picture's own pixels, and stored in those of 1080 lines", () => {
    const told = toldIn(CHOKE, 720);
    expect([told.info.low, told.info.high]).toEqual([-33.3333, 33.3333]);
    expect(told.stored(5)).toBe(7.5);
    expect(told.shown(7.5)).toBe(5);
    expect(told.stored(told.info.high)).toBeCloseTo(50, 3);
    expect(numberWords(CHOKE, 7.5, 720)).toBe("5.0 px");
    expect(numberWords(CHOKE, 7.5, 2160)).toBe("15.0 px");
  });
  it("come back as they were typed, for any height", () => {
    for (const lines of [240, 480, 600, 720, 1080, 1920, 2160]) {
      const told = toldIn({ ...CHOKE, low: 0, high: 200 }, lines);
      for (const typed of [0.25, 1, 3.3, 7, 12.75, 40]) expect(Math.abs(told.shown(told.stored(typed)) - typed)).toBeLessThan(1e-3);
    }
  });
  it("say what share of the height they are; other numbers say nothing", () => {
    expect(shareWords(CHOKE, 7.2, 720)).toContain("1 % of its height");
    expect(shareWords({ ...CHOKE, unit: "%" }, 7.2, 720)).toBe("");
    const percent = toldIn({ ...CHOKE, unit: "%" }, 720);
    expect(percent.stored(5)).toBe(5);
  });
});
