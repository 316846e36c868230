import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";

import type { ObjectPart, Selection, Stroke } from "../api/types";
import type { BenchSession } from "./bench";
import { addObject, asking, carriedWords, chosenObject, followObject, nextAsking, objectsOf, sizeBrush, stroked, sureness, takeBrush, thinned, touchedBy } from "./objects";
import { engineOn, viewOf } from "./testing";

const line = (n: number) => Array.from({ length: n }, (_, k) => ({ x: 100 + 3 * k, y: 200 }));
const stroke = (id: string, frame: number, x: number): Stroke => ({ id, frame, kind: "this", radius: 10, points: [[x, 200]] });

async function begun(): Promise<BenchSession> {
  const engine = engineOn(viewOf({ selections: [] }));
  engine.timeline.set({ frame: 5 });
  addObject(engine);
  await engine.document.idle();
  return engine;
}

describe("strokes", () => {
  it("make a selection with an object where there is none, and go into it", async () => {
    const engine = await begun();
    expect(engine.now.brush).toEqual({ kind: "this", radius: 12 });
    stroked(engine, line(4), "this");
    stroked(engine, line(4), "not this");
    await engine.document.idle();
    const part = chosenObject(engine)!;
    expect([objectsOf(engine.selection).length, part.name, part.mode]).toEqual([1, "Object", "keep"]);
    expect(part.strokes!.map((s) => [s.kind, s.frame, s.points.length])).toEqual([["this", 5, 4], ["not this", 5, 4]]);
  });
  it("are taken back by undo, and rubbed out on their own frame alone", async () => {
    const engine = await begun();
    stroked(engine, line(4), "this");
    await engine.document.idle();
    engine.timeline.set({ frame: 9 });
    stroked(engine, line(4), "rub out");
    await engine.document.idle();
    expect(chosenObject(engine)!.strokes!.length).toBe(1); // it lies on another frame
    engine.timeline.set({ frame: 5 });
    stroked(engine, [{ x: 104, y: 205 }], "rub out");
    await engine.document.idle();
    expect(chosenObject(engine)!.strokes!.length).toBe(0);
  });
  it("keep the points that make a difference, and not too many", () => {
    expect(thinned([{ x: 1, y: 1 }, { x: 1.2, y: 1.1 }, { x: 3.04, y: 1 }])).toEqual([[1, 1], [3, 1]]);
    expect(thinned([{ x: 1, y: 1 }, { x: 2.5, y: 1 }])).toEqual([[1, 1], [2.5, 1]]);
    expect(thinned(line(5000)).length).toBeLessThanOrEqual(1000);
    expect(thinned([{ x: 1, y: 1 }]).length).toBe(1);
  });
  it("are touched by a brush that comes near", () => {
    const strokes = [stroke("a", 1, 100), stroke("b", 1, 160), stroke("c", 2, 100)];
    expect(touchedBy(strokes, 1, [{ x: 115, y: 200 }], 10).map((s) => s.id)).toEqual(["a"]);
  });
});

describe("the brush", () => {
  it("is laid down where it is taken again, and has a least and a greatest size", async () => {
    const engine = await begun();
    takeBrush(engine, "this");
    expect(engine.now.brush).toBeNull();
    takeBrush(engine, "rub out");
    for (let n = 0; n < 40; n++) sizeBrush(engine, 1.25);
    expect(engine.now.brush).toEqual({ kind: "rub out", radius: 400 });
    for (let n = 0; n < 60; n++) sizeBrush(engine, 0.8);
    expect(engine.now.brush!.radius).toBeGreaterThanOrEqual(1);
  });
});

describe("where a stroke is asked for", () => {
  it("is told as stretches; what is lost or not carried yet asks for nothing", () => {
    const values = [1, 0.9, 0.7, 0.6, 0.9, 0.7, 0.9, ...Array<number>(10).fill(0.95), 0.5, NaN, 0, -1];
    expect(asking(values)).toEqual([[2, 5], [17, 17]]);
    expect([nextAsking(values, 0, 1), nextAsking(values, 2, 1), nextAsking(values, 17, 1), nextAsking(values, 0, -1)]).toEqual([2, 17, 2, 17]);
    expect(nextAsking([1, 1], 0, 1)).toBeNull();
  });
});

describe("how sure it is", () => {
  it("is told in runs of frames", () => {
    expect(sureness([1, 0.9, 0.5, NaN, 0.5, 0, -1])).toEqual([
      { first: 0, last: 1, how: "sure" },
      { first: 2, last: 2, how: "unsure" },
      { first: 4, last: 4, how: "unsure" },
      { first: 5, last: 6, how: "lost" },
    ]);
  });
});

describe("how far it is carried", () => {
  it("is told in words: where it is unsure, out of sight, or stopped by a cut", () => {
    expect(carriedWords({ values: [1, 1, 1], done: 3, over: true }, 3)).toBe("3 of 3 frames, sure throughout");
    expect(carriedWords({ values: [1, NaN, NaN], done: 1, over: false }, 3)).toBe("1 of 3 frames");
    expect(carriedWords({ values: [1, 0.5, 0, 0, 1, -1, -1], done: 7, over: true }, 7)).toBe("7 of 7 frames, unsure in 1 place, out of sight in 2, stopped by a cut at frame 5");
  });
});

describe("an object that is carried", () => {
  beforeEach(() => void vi.stubGlobal("window", globalThis));
  afterEach(() => void vi.unstubAllGlobals());
  it("tells how sure it is as it becomes known, and begins anew with a stroke", async () => {
    const engine = await begun();
    const asked: string[] = [];
    engine.around.server.carry = async function* <T>(_: string, __: number, query: URLSearchParams, signal: AbortSignal) {
      asked.push(query.get("frame")!);
      for (let n = 5; n < 8 && !signal.aborted; n++) yield { kind: "sure", frame: n, sure: 0.9 } as T;
      yield { kind: "done" } as T;
    };
    const stop = followObject(engine);
    expect([asked, engine.now.sure]).toEqual([[], null]); // nothing is stroked
    stroked(engine, line(3), "this");
    await vi.waitFor(() => expect(engine.now.sure?.over).toBe(true));
    expect([asked, engine.now.sure!.done, engine.now.sure!.values[6]]).toEqual([["5"], 3, 0.9]);
    stroked(engine, line(3), "not this");
    await vi.waitFor(() => expect(asked.length).toBe(2));
    stop();
  });
  it("is gone with what it was part of", async () => {
    const engine = await begun();
    const selection = engine.selection as Selection & { objects: ObjectPart[] };
    await engine.document.edit([{ do: "remove", target: engine.target.of("selections", selection.id) }], "gone");
    expect([engine.now.objectId, engine.now.brush]).toEqual([null, null]);
  });
});
