import { describe, expect, it } from "vitest";

import { curveOf, ringOf } from "./monotone";
import { colourOf, hexOf, hueOf, lchOf } from "../colour/oklch";
import { addStop, background, colourAt, evenly, moveStop, parseColour, removeStop, reversed } from "../colour/stops";

describe("curves", () => {
  // Values of SciPy's PchipInterpolator through the same points.
  const points = [[0, 0], [20, 35], [40, 38], [70, 90], [100, 80]] as const;
  it("equal SciPy's monotone cubic", () => {
    const curve = curveOf(points);
    expect(curve(10)).toBeCloseTo(23.18421, 4);
    expect(curve(55)).toBeCloseTo(64.98045, 4);
    expect(curve(85)).toBeCloseTo(88.75, 4);
    expect(curve(-5)).toBe(0);
    expect(curve(120)).toBe(80);
  });
  it("close into a ring", () => {
    const ring = ringOf([[10, 0], [100, 50], [200, -20], [300, 10]]);
    expect(ring(370)).toBeCloseTo(0, 6);
    expect(ring(-60)).toBeCloseTo(10, 6);
    expect(ring(0)).toBeCloseTo(ring(360), 9);
    expect(ringOf([[50, 7]])(200)).toBe(7);
  });
  it("never overshoot between points", () => {
    const curve = curveOf([[0, 0], [30, 10], [70, 90], [100, 100]]);
    for (let x = 0; x < 100; x++) expect(curve(x + 1)).toBeGreaterThanOrEqual(curve(x));
  });
});

describe("stops", () => {
  const stops = [
    { position: 0, colour: "#000000" },
    { position: 50, colour: "#ff0000" },
    { position: 100, colour: "#ffffff" },
  ];
  it("have colours between them", () => {
    expect(colourAt(stops, 25)).toBe("#800000");
    expect(colourAt(stops, 75)).toBe("#ff8080");
    expect(colourAt(stops, 0)).toBe("#000000");
  });
  it("are added where they belong", () => {
    const { stops: next, at } = addStop(stops, 25);
    expect(at).toBe(1);
    expect(next[1]).toEqual({ position: 25, colour: "#800000" });
  });
  it("pass each other when moved", () => {
    const { stops: next, at } = moveStop(stops, 0, 80);
    expect(at).toBe(1);
    expect(next.map((s) => s.position)).toEqual([50, 80, 100]);
    expect(moveStop(stops, 2, 140).stops.at(-1)!.position).toBe(100);
  });
  it("are never all removed", () => {
    expect(removeStop(stops, 1)).toHaveLength(2);
    expect(removeStop([stops[0]!], 0)).toHaveLength(1);
  });
  it("are reversed and spread", () => {
    expect(reversed([{ position: 10, colour: "#000000" }, { position: 100, colour: "#ffffff" }])).toEqual([{ position: 0, colour: "#ffffff" }, { position: 90, colour: "#000000" }]);
    expect(evenly([...stops, { position: 100, colour: "#00ff00" }]).map((s) => s.position)).toEqual([0, 33.33, 66.67, 100]);
  });
  it("are painted as CSS", () => {
    expect(background(stops)).toBe("linear-gradient(to right , #000000 0%, #ff0000 50%, #ffffff 100%)");
    expect(background(stops, { mixing: "stepped" })).toContain("#000000 0% 50%");
    expect(background([stops[0]!])).toContain("#000000 0%, #000000 0%");
  });
  it("take colours as people type them", () => {
    expect(parseColour("F80")).toBe("#ff8800");
    expect(parseColour(" #12C4a0 ")).toBe("#12c4a0");
    expect(parseColour("#12345")).toBeNull();
    expect(parseColour("nonsense")).toBeNull();
  });
});

describe("OkLCh", () => {
  // Ottosson's published value for red: L 0.628, C 0.258, h 29.23.
  it("of red, and back", () => {
    const [l, c, h] = lchOf("#ff0000");
    expect(l).toBeCloseTo(0.628, 3);
    expect(c).toBeCloseTo(0.2577, 3);
    expect(h).toBeCloseTo(29.23, 1);
    expect(hexOf(l, c, h)).toBe("#ff0000");
  });
});

describe("hues", () => {
  it("of sRGB red, green and blue are those of CSS Color 4", () => {
    expect(hueOf([1, 0, 0])).toBeCloseTo(29.23, 1);
    expect(hueOf([0, 1, 0])).toBeCloseTo(142.5, 1);
    expect(hueOf([0, 0, 1])).toBeCloseTo(264.05, 1);
  });
  it("come back from a colour made of them", () => {
    for (let h = 0; h < 360; h += 15) expect(Math.abs(((hueOf(colourOf(0.6, 0.08, h)) - h + 540) % 360) - 180)).toBeLessThan(0.5);
  });
});
