import { describe, expect, it, vi } from "vitest";

import type { BenchSession } from "./bench";
import { addShape, duplicateShape, placedShapes, removeShape } from "./shapes";
import { engineOn, viewOf } from "./testing";

const BOX = [{ x: 100.04, y: 200 }, { x: 300, y: 400 }];

/** A selection by colour, chosen. */
async function keyed(): Promise<BenchSession> {
  const engine = engineOn(viewOf());
  await engine.document.edit([{ do: "set", target: "look/selections/s/keys", value: [{ id: "k", type: "hue", picks: [], refused: [] }] }], "Key");
  engine.choice.set({ selectionId: "s" });
  return engine;
}

describe("a shape that is drawn", () => {
  it("makes a selection of its own where there is none, which is chosen with it; the pencil is laid down", async () => {
    const engine = engineOn(viewOf({ selections: [] }));
    engine.choice.set({ drawing: "ellipse" });
    addShape(engine, "ellipse", BOX);
    await engine.document.idle();
    const [made] = engine.document.shown.look.selections!;
    const [shape] = made!.shapes!;
    expect([shape!.mode, shape!.kind, shape!.points!.map((p) => p.x)]).toEqual(["keep", "ellipse", [100, 300]]);
    expect([shape!.angle, shape!.feather_in, shape!.feather_out, shape!.on]).toEqual([0, 0, 10, true]);
    expect([engine.now.drawing, engine.now.selectionId, engine.now.shapeId]).toEqual([null, made!.id, shape!.id]);
  });
  it("keeps what lies in it the first time, leaves out the next, says so and offers the other", async () => {
    const engine = await keyed();
    const say = vi.spyOn(engine.around, "say");
    addShape(engine, "rectangle", BOX);
    await engine.document.idle();
    addShape(engine, "path", BOX);
    await engine.document.idle();
    const modes = () => engine.document.shown.look.selections![0]!.shapes!.map((s) => s.mode);
    expect([modes(), engine.now.shapeId]).toEqual([["keep", "leave out"], engine.document.shown.look.selections![0]!.shapes![1]!.id]);
    expect(say.mock.calls[0]![1]!.action!.name).toBe("Leave it out instead");
    say.mock.calls[0]![1]!.action!.run();
    await engine.document.idle();
    expect(modes()).toEqual(["leave out", "leave out"]);
  });
  it("is duplicated beside itself and removed", async () => {
    const engine = await keyed();
    addShape(engine, "ellipse", BOX);
    await engine.document.idle();
    const shapes = () => engine.document.shown.look.selections![0]!.shapes!;
    duplicateShape(engine, placedShapes(engine)[0]!);
    await engine.document.idle();
    expect([shapes().length, shapes()[0]!.name === shapes()[1]!.name, shapes()[0]!.id === shapes()[1]!.id]).toEqual([2, false, false]);
    removeShape(engine, placedShapes(engine)[0]!);
    await engine.document.idle();
    expect(shapes().length).toBe(1);
  });
});
