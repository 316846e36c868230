import { describe, expect, it } from "vitest";

import { CHROMA, chromaOf, levelY, lumaOf, valueAt } from "./scopes";

const AREA = { x: 28, y: 0, w: 300, h: 118 };

describe("what a scope tells of a place", () => {
  it("is the level there, in percent or codes of BT.709: 16 is black, 235 white", () => {
    expect(valueAt("waveform", AREA, 28 + 150, levelY(AREA, 1), false)).toBe("100.0 % at 50.0 % of the width");
    expect(valueAt("waveform", AREA, 28, levelY(AREA, 0), true)).toBe("code 16 at 0.0 % of the width");
    expect(valueAt("parade", AREA, 28 + 299, levelY(AREA, 1), true)).toBe("blue code 235");
    expect(valueAt("histogram", AREA, 28 + 75, 3, false)).toBe("25.0 % of the range");
  });

  it("is an angle and how much colour on a vectorscope: red of 75 % bars, by the constants of BT.709: C'b −0.0859, C'r 0.375", () => {
    const [cb, cr] = chromaOf([0.75, 0, 0]);
    const square = { x: 0, y: 0, w: 200, h: 200 };
    const told = valueAt("vectorscope", square, 100 + (cb / CHROMA) * 100, 100 - (cr / CHROMA) * 100, false);
    expect(told).toBe("103°, 38.5 %");
    expect(lumaOf([1, 1, 1])).toBeCloseTo(1);
  });

  it("is nothing beside it", () => expect(valueAt("waveform", AREA, 5, 5, false)).toBeNull());
});
