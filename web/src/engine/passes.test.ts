import { describe, expect, it } from "vitest";

import { calls } from "../api/calls";
import type { Treatment } from "../api/types";
import { addPass, duplicatePass, movePass, removePass, setSide, shiftPass } from "./passes";
import { engineOn, viewOf } from "./testing";

const GREY = { id: "monochrome", name: "Monochrome", begins: "outside", params: [{ key: "red", kind: "number", default: 21 }] } as unknown as Treatment;
const order = (engine: ReturnType<typeof engineOn>) => engine.passes.map((p) => p.id);

describe("a pass", () => {
  it("comes in behind the chosen one, is chosen then, and begins on the side that most looks want", async () => {
    const engine = engineOn(viewOf({ passes: ["a", "b"] }));
    engine.choice.set({ passId: "a", selectionId: "s" });
    engine.stage.set({ upTo: true });
    await addPass(engine, GREY);
    await engine.document.idle();
    const made = engine.passes[1]!;
    expect([order(engine), engine.now.passId, engine.now.upTo]).toEqual([["a", made.id, "b"], made.id, false]);
    expect([made.side, made.selection, made.params]).toEqual(["outside", "s", { red: 21 }]);
    await addPass(engine, GREY, "everywhere");
    await engine.document.idle();
    expect([engine.passes[2]!.side, engine.passes[2]!.selection]).toEqual(["everywhere", null]);
  });
  it("of bands begins with a band at each of the frame's main colours, in the order of their hues", async () => {
    const asked: number[] = [];
    const colours = (_: string, frame: number) => (asked.push(frame), Promise.resolve([{ colour: [0, 0, 1] }, { colour: [1, 0, 0] }] as never));
    const engine = engineOn(viewOf({ passes: [], selections: [] }), { server: { ...calls, colours } });
    const bands = { ...GREY, id: "hue-bands", params: [{ key: "bands", kind: "bands", default: [], fields: [{ key: "hue", default: 0 }, { key: "saturation", default: 100 }] }] } as unknown as Treatment;
    await addPass(engine, bands);
    await engine.document.idle();
    expect((engine.passes[0]!.params!["bands"] as { hue: number; saturation: number }[]).map((b) => [b.hue, b.saturation])).toEqual([[29, 100], [264, 100]]); // sRGB's red and blue in OkLCh (Ottosson 2020)
    expect(asked).toEqual([engine.timeline.frame]);
  });
  it("is duplicated with what moves it, and the copy is chosen", async () => {
    const engine = engineOn(viewOf({ passes: ["a", "b"], lanes: [{ id: "l", target: "passes/a/amount", keyframes: [{ frame: 3, value: 50 }] }] }));
    duplicatePass(engine, engine.passes[0]!);
    await engine.document.idle();
    const copy = order(engine)[1]!;
    expect([order(engine), engine.now.passId]).toEqual([["a", copy, "b"], copy]);
    expect(engine.document.shown.look.lanes!.map((l) => l.target)).toEqual(["passes/a/amount", `passes/${copy}/amount`]);
  });
  it("moves by one place, not beyond the ends, and before another", async () => {
    const engine = engineOn(viewOf({ passes: ["a", "b", "c"] }));
    const pass = (id: string) => engine.passes.find((p) => p.id === id)!;
    for (const [move, after] of [
      [() => shiftPass(engine, pass("a"), -1), "abc"],
      [() => shiftPass(engine, pass("a"), 1), "bac"],
      [() => shiftPass(engine, pass("c"), 1), "bac"],
      [() => shiftPass(engine, pass("c"), -1), "bca"],
      [() => movePass(engine, pass("a"), "b"), "abc"],
      [() => movePass(engine, pass("a"), null), "bca"],
    ] as const) {
      move();
      await engine.document.idle();
      expect(order(engine).join("")).toBe(after);
    }
  });
  it("joins a bundle where it is put between two of it, and not where it is put beside it", async () => {
    const engine = engineOn(viewOf({ passes: ["a", "b", "c", "d"] }));
    const set = (id: string) => ({ do: "set" as const, target: `look/passes/${id}/bundle`, value: "u" });
    await engine.document.edit([{ do: "set", target: "look/bundles", value: [{ id: "u", name: "U", on: true }] }, set("b"), set("c")], "Bundled");
    const bundles = () => engine.passes.map((p) => `${p.id}${p.bundle ?? ""}`).join(" ");
    movePass(engine, engine.passes.find((p) => p.id === "d")!, "b");
    await engine.document.idle();
    expect(bundles()).toBe("a d bu cu");
    movePass(engine, engine.passes.find((p) => p.id === "d")!, "c");
    await engine.document.idle();
    expect(bundles()).toBe("a bu du cu");
  });
  it("applies to the selection in work where it had none, and to none everywhere", async () => {
    const engine = engineOn(viewOf({ passes: ["a"] }));
    engine.choice.set({ selectionId: "s" });
    setSide(engine, engine.passes[0]!, "inside", null);
    await engine.document.idle();
    expect([engine.passes[0]!.side, engine.passes[0]!.selection]).toEqual(["inside", "s"]);
    setSide(engine, engine.passes[0]!, "everywhere", null);
    await engine.document.idle();
    expect([engine.passes[0]!.side, engine.passes[0]!.selection]).toEqual(["everywhere", null]);
    removePass(engine, engine.passes[0]!);
    await engine.document.idle();
    expect(order(engine)).toEqual([]);
  });
});
