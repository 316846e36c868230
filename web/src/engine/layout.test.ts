import { describe, expect, it } from "vitest";

import { Layout, PANES } from "./layout";

const memory = (text?: string) => {
  const held = new Map(text === undefined ? [] : [["wenditas-layout", text]]);
  return { getItem: (name: string) => held.get(name) ?? null, setItem: (name: string, value: string) => void held.set(name, value) };
};

describe("a layout", () => {
  it("is remembered, with its folded panes and the floating scope", () => {
    const kept = memory();
    const first = new Layout(kept);
    first.size("where", 333);
    first.fold("when");
    first.float({ x: 10, y: 20, width: 1, height: 300 });
    const again = new Layout(kept).state.getState();
    expect(again.sizes.where).toBe(333);
    expect(again.folded).toEqual(["when"]);
    expect(again.floating).toEqual({ x: 10, y: 20, width: 220, height: 300 }); // never too small to read
    new Layout(kept).fold("when");
    expect(new Layout(kept).state.getState().folded).toEqual([]);
  });

  it("keeps panes between their least and most, and goes back to what they need", () => {
    const layout = new Layout(memory());
    layout.size("what", 9999);
    expect(layout.state.getState().sizes.what).toBe(PANES.what.most);
    layout.size("what", -1);
    expect(layout.state.getState().sizes.what).toBe(PANES.what.least);
    layout.size("what", null);
    expect(layout.state.getState().sizes.what).toBeNull();
  });

  it.each(["{", "[]", '{"sizes":{"where":"wide"},"folded":["roof"],"floating":{"x":1},"strip":7}'])("begins anew where what was kept makes no sense: %s", (text) => {
    const { sizes, folded, floating, strip } = new Layout(memory(text)).state.getState();
    expect([sizes.where, folded, floating, strip]).toEqual([null, [], null, "source"]);
  });
});
