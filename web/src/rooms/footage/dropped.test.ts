import { describe, expect, it } from "vitest";

import { runsOf } from "./dropped";

const files = (...names: string[]) => names.map((name) => new File(["x"], name));

describe("what was dropped", () => {
  it("tells numbered pictures that belong together from files apart", () => {
    const { apart, together } = runsOf(files("a10.png", "a9.png", "b.mp4", "a11.png", "x1.exr", "x2.exr", "c3.jpg", ".hidden"));
    expect(together.map((r) => r.names)).toEqual([["a9.png", "a10.png", "a11.png"]]);
    expect(apart.map((f) => f.name).sort()).toEqual(["b.mp4", "c3.jpg", "x1.exr", "x2.exr"]);
  });
  it("keeps kinds and stems apart", () => {
    expect(runsOf(files("a1.png", "a2.png", "a3.png", "a1.exr", "a2.exr", "a3.exr", "b1.png", "b2.png", "b3.png")).together).toHaveLength(3);
  });
});
