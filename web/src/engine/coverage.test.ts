import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";

import { followCoverage } from "./coverage";
import { engineOn } from "./testing";

describe("the selected area over time", () => {
  const asked: string[] = [];
  beforeEach(() => {
    asked.length = 0;
    vi.useFakeTimers();
    vi.stubGlobal("window", globalThis);
    vi.stubGlobal("fetch", (url: string) => (asked.push(url), Promise.resolve(new Response(""))));
  });
  afterEach(() => {
    vi.useRealTimers();
    vi.unstubAllGlobals();
  });
  it("is measured after a rest", () => {
    const stop = followCoverage(engineOn());
    vi.advanceTimersByTime(400);
    expect(asked).toEqual([]);
    vi.advanceTimersByTime(200);
    expect(asked).toEqual([expect.stringContaining("selection=s")]);
    stop();
  });
  it("is measured anew when an object is stroked", async () => {
    const engine = engineOn();
    const stop = followCoverage(engine);
    vi.advanceTimersByTime(600);
    await engine.document.edit([{ do: "add", target: "look/selections/s/objects", value: { id: "o", name: "O", strokes: [{ id: "m", frame: 0, kind: "this", radius: 9, points: [[1, 1]] }] } }], "stroked");
    vi.advanceTimersByTime(600);
    expect(asked.length).toBe(2);
    stop();
  });
  it("is not asked for once the selection has gone", () => {
    const engine = engineOn();
    const stop = followCoverage(engine);
    vi.advanceTimersByTime(400);
    void engine.document.edit([{ do: "remove", target: "look/selections/s" }], "gone");
    vi.advanceTimersByTime(2000);
    expect(asked).toEqual([]);
    stop();
  });
  it("is measured when what was begun is left again", () => {
    const engine = engineOn();
    const stop = followCoverage(engine);
    engine.document.show([{ do: "set", target: "look/passes/a/amount", value: 3 }]);
    vi.advanceTimersByTime(2000);
    expect(asked).toEqual([]);
    engine.document.show([]);
    vi.advanceTimersByTime(600);
    expect(asked).toHaveLength(1);
    stop();
  });
});
