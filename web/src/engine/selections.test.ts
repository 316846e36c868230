import { describe, expect, it } from "vitest";

import type { KeyInfo } from "../api/types";
import { addKey, duplicateSelection, keyOf, removeSelection, setOfKey, shiftKey } from "./selections";
import { engineOn, viewOf } from "./testing";

const HUE = { id: "hue", name: "By hue", params: [{ key: "tolerance", kind: "number", default: 9 }, { key: "soft", kind: "switch", default: 1 }] } as unknown as KeyInfo;
const LIGHT = { id: "lightness", name: "By lightness", params: [] } as unknown as KeyInfo;

async function keyed() {
  const engine = engineOn(viewOf({ selections: ["s"] }));
  engine.choice.set({ selectionId: "s" });
  addKey(engine, engine.selection!, HUE);
  await engine.document.idle();
  const first = engine.now.keyId;
  addKey(engine, engine.selection!, LIGHT);
  await engine.document.idle();
  return { engine, first, second: engine.now.keyId };
}

describe("keys of a selection", () => {
  it("begin with what they are declared with; the first adds, further ones intersect, and the newest is chosen", async () => {
    const { engine, first, second } = await keyed();
    const [one, two] = engine.selection!.keys! as unknown as Record<string, unknown>[];
    expect(one).toMatchObject({ id: first, type: "hue", combine: "add", tolerance: 9, soft: true, picks: [], refused: [] });
    expect([two!["id"], two!["combine"], "picks" in two!]).toEqual([second, "intersect", false]);
    expect([keyOf(engine.selection, second)?.id, keyOf(engine.selection, "gone")?.id, keyOf(null, null)]).toEqual([second, first, null]);
  });
  it("go earlier and later, not beyond the ends, and are set one by one", async () => {
    const { engine, first, second } = await keyed();
    const ids = () => engine.selection!.keys!.map((k) => k.id);
    const key = (id: string | null) => keyOf(engine.selection, id)!;
    for (const [id, by, after] of [[first, -1, [first, second]], [first, 1, [second, first]], [first, 1, [second, first]], [first, -1, [first, second]]] as const) {
      shiftKey(engine, engine.selection!, key(id), by, "moved");
      await engine.document.idle();
      expect(ids()).toEqual(after);
    }
    setOfKey(engine, engine.selection!, key(second), "on", false, "off");
    await engine.document.idle();
    expect(engine.selection!.keys!.map((k) => k.on)).toEqual([true, false]);
  });
});

describe("a selection", () => {
  it("is duplicated under a name that is free, and the copy is chosen", async () => {
    const engine = engineOn(viewOf({ selections: ["s"] }));
    duplicateSelection(engine, engine.selections[0]!);
    await engine.document.idle();
    duplicateSelection(engine, engine.selections[0]!);
    await engine.document.idle();
    expect(engine.selections.map((s) => s.name)).toEqual(["s", "s copy", "s copy 2"]);
    expect(engine.now.selectionId).toBe(engine.selections[2]!.id);
  });
  it("leaves the passes that used it everywhere and bypassed, so that nothing changes unseen", async () => {
    const engine = engineOn(viewOf({ passes: ["a", "b"], selections: ["s"] }));
    const target = (field: string) => `look/passes/a/${field}`;
    await engine.document.edit([{ do: "set", target: target("selection"), value: "s" }, { do: "set", target: target("side"), value: "inside" }], "Inside");
    removeSelection(engine, engine.selections[0]!);
    await engine.document.idle();
    expect(engine.passes.map((p) => [p.selection ?? null, p.side ?? null, p.on])).toEqual([[null, "everywhere", false], [null, null, true]]);
    expect(engine.selections).toEqual([]);
  });
});
