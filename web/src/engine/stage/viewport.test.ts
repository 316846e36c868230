import { beforeEach, describe, expect, it, vi } from "vitest";

import { Viewport } from "./viewport";

const canvas = () => ({ width: 800, height: 400, dataset: {} as Record<string, string> }) as unknown as HTMLCanvasElement;

describe("the viewport", () => {
  let view: Viewport;
  beforeEach(() => {
    vi.stubGlobal("window", { devicePixelRatio: 1 });
    vi.stubGlobal("requestAnimationFrame", () => 0);
    view = new Viewport(canvas());
    view.size = { width: 1600, height: 900 };
  });

  it("fits the picture into the canvas, in the middle", () => {
    const { scale, x, y } = view.geometry;
    expect(scale).toBeCloseTo(400 / 900);
    expect(y).toBeCloseTo(0);
    expect(x).toBe(Math.round((800 - 1600 * scale) / 2));
  });
  it("maps the pointer to the picture, and nothing outside it", () => {
    expect(view.toPicture(400, 200)!.x).toBeCloseTo(0.5, 2);
    expect(view.toPicture(400, 200)!.y).toBeCloseTo(0.5);
    expect(view.toPicture(2, 200)).toBeNull();
  });
  it("zooms around the pointer", () => {
    const before = view.toPicture(300, 120)!;
    view.zoomAt(300, 120, 3);
    const after = view.toPicture(300, 120)!;
    expect(after.x).toBeCloseTo(before.x);
    expect(after.y).toBeCloseTo(before.y);
    expect(view.geometry.scale).toBeCloseTo((400 / 900) * 3);
  });
  it("goes to 100 % and back to fit", () => {
    view.zoomTo(100);
    expect(view.geometry.scale).toBeCloseTo(1);
    expect(view.toPicture(400, 200)!.x).toBeCloseTo(0.5);
    view.fit();
    expect(view.geometry.scale).toBeCloseTo(400 / 900);
  });
  it("shows 100 % pixel for pixel, in an area of any size and on a screen of any density", () => {
    for (const [width, height, devicePixelRatio] of [[801, 399, 1], [800, 401, 1], [1203, 755, 1.5], [1602, 801, 2]]) {
      vi.stubGlobal("window", { devicePixelRatio });
      const drawn: unknown[][] = [];
      const context = { save() {}, restore() {}, beginPath() {}, rect() {}, clip() {}, fillRect() {}, drawImage: (...args: unknown[]) => drawn.push(args) };
      const odd = new Viewport({ width, height, dataset: {}, getContext: () => context } as unknown as HTMLCanvasElement);
      vi.stubGlobal("getComputedStyle", () => ({ getPropertyValue: () => "#000" }));
      vi.stubGlobal("requestAnimationFrame", (paint: () => void) => (paint(), 0));
      odd.size = { width: 1919, height: 1079 };
      odd.setAfter({ width: 1919, height: 1079, close() {} } as unknown as ImageBitmap);
      odd.zoomTo(100);
      expect(odd.geometry.scale).toBeCloseTo(1);
      const [, x, y, ...size] = drawn.at(-1) as number[];
      expect([x! % 1, y! % 1]).toEqual([x! < 0 ? -0 : 0, y! < 0 ? -0 : 0]);
      expect(size).toEqual([]); // not scaled at all
    }
  });
  it("does not zoom beyond its limits", () => {
    for (let n = 0; n < 50; n++) view.zoomAt(10, 10, 4);
    expect(view.geometry.scale).toBe(16);
    for (let n = 0; n < 50; n++) view.zoomAt(10, 10, 0.1);
    expect(view.geometry.scale).toBeCloseTo((400 / 900) * 0.5);
  });
  it("pans by the pointer's way", () => {
    const before = view.toPicture(400, 200)!;
    view.pan(40, 0);
    expect(view.toPicture(440, 200)!.x).toBeCloseTo(before.x);
  });
  it("has its wipe where the picture is, and knows the side before it", () => {
    view.layout = "wipe";
    view.wipe = 0.25;
    const { scale, x } = view.geometry;
    expect(view.wipeX).toBeCloseTo(x + 0.25 * 1600 * scale);
    expect(view.wipeAt(view.wipeX)).toBeCloseTo(0.25);
    expect(view.wipeAt(-500)).toBe(0);
    expect(view.isBefore(view.wipeX - 1)).toBe(true);
    expect(view.isBefore(view.wipeX + 1)).toBe(false);
  });
  it("shows the same place in both panes side by side", () => {
    view.layout = "side";
    const left = view.toPicture(150, 200)!;
    const right = view.toPicture(150 + (800 - 4) / 2 + 4, 200)!;
    expect(right.x).toBeCloseTo(left.x);
    expect(view.isBefore(150)).toBe(true);
  });
});
