import { describe, expect, it } from "vitest";

import { curveOf, ringOf } from "./monotone";
import { colourOf, hexOf, hueOf, lchOf } from "../colour/oklch";
import { addStop, background, changeStop, colourAt, evenly, named, parseColour, removeStop, reversed } from "../colour/stops";

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
  const stops = named([
    { position: 0, colour: "#000000" },
    { position: 50, colour: "#ff0000" },
    { position: 100, colour: "#ffffff" },
  ]);
  it("have colours between them", () => {
    expect(colourAt(stops, 25)).toBe("#800000");
    expect(colourAt(stops, 75)).toBe("#ff8080");
    expect(colourAt(stops, 0)).toBe("#000000");
  });
  it("are named as the server names them", () => {
    const list = [{ position: 60, colour: "#111111", id: "s1" }, { position: 20, colour: "#222222" }, { position: 60, colour: "#333333" }];
    expect(named(list).map((s) => s.id)).toEqual(["s2", "s1", "s3"]);
  });
  it("are added where they belong, once", () => {
    const next = addStop(stops, "new", 25);
    expect(next[1]).toEqual({ id: "new", position: 25, colour: "#800000" });
    expect(addStop(next, "new", 80)).toBe(next);
  });
  it("pass each other when moved", () => {
    expect(changeStop(stops, "s1", { position: 80 }).map((s) => s.id)).toEqual(["s2", "s1", "s3"]);
    expect(changeStop(stops, "s3", { position: 140 }).at(-1)!.position).toBe(100);
  });
  it("are never all removed", () => {
    expect(removeStop(stops, "s2")).toHaveLength(2);
    expect(removeStop([stops[0]!], "s1")).toHaveLength(1);
  });
  it("are reversed and spread", () => {
    const two = named([{ position: 10, colour: "#000000" }, { position: 100, colour: "#ffffff" }]);
    expect(reversed(two)).toEqual([{ id: "s2", position: 0, colour: "#ffffff" }, { id: "s1", position: 90, colour: "#000000" }]);
    expect(evenly([...stops, { id: "z", position: 100, colour: "#00ff00" }]).map((s) => s.position)).toEqual([0, 33.33, 66.67, 100]);
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

it("bends towards the last point as it does towards the first: values by SciPy's PchipInterpolator", () => {
  const curve = curveOf([[0, 0], [1, 0.2], [3, 0.9], [7, 1.7]]);
  for (const [at, value] of [[0.5, 0.087868], [2, 0.54614], [4, 1.153906], [5, 1.38125], [6.5, 1.641699]] as const) expect(curve(at)).toBeCloseTo(value, 5);
});
