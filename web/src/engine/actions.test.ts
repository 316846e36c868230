import { matchKeyBindingPress, parseKeybinding } from "tinykeys";
import { describe, expect, it } from "vitest";

import { bindingsOf, foundIn, grouped, keyFor, rowOf, toldOf, type Action } from "./actions";

const done: string[] = [];
const ACTIONS: Action<string>[] = [
  { id: "split", group: "Items", words: "split the item", keys: ["s"], run: (at) => done.push(`split ${at}`) },
  { id: "view", group: "Picture", words: "the result", keys: ["Digit1"], run: () => done.push("result") },
  { id: "more", group: "Time", words: "closer", keys: ["+", "="], told: "+", run: () => done.push("closer") },
  { id: "cut", group: "Items", words: "the cut before", keys: ["arrowup"], run: () => done.push("cut") },
  { id: "before", group: "Passes", words: "the pass before", keys: ["[", "BracketLeft"], told: "[", run: () => done.push("before") },
  { id: "after", group: "Passes", words: "the pass after", keys: ["]", "BracketRight"], told: "]", run: () => done.push("after") },
];

/** What a press does, as the listener of the rooms tells presses: the first that it is. */
function pressed(key: string, code: string, ...held: string[]): string | undefined {
  let found: string | undefined;
  const event = { key, code, getModifierState: (name: string) => held.includes(name) } as KeyboardEvent;
  const bindings = bindingsOf(ACTIONS, (action) => (found = action.id));
  const press = Object.keys(bindings).find((press) => matchKeyBindingPress(event, parseKeybinding(press)[0]!));
  bindings[press ?? ""]?.(event);
  return found;
}

describe("actions", () => {
  it("are found by what a key types, and by where it lies", () => {
    expect(pressed("s", "KeyS")).toBe("split");
    expect(pressed("S", "KeyS", "Shift")).toBe("split"); // which asks for Shift itself
    expect(pressed("&", "Digit1")).toBe("view"); // a French keyboard
    expect(pressed("=", "Equal")).toBe("more");
    expect(pressed("q", "KeyQ")).toBeUndefined();
  });
  it("are found by what AltGr types, and by no key that is held with Ctrl, Alt or Meta", () => {
    expect(pressed("[", "Digit8", "AltGraph")).toBe("before"); // a German keyboard
    expect(pressed("[", "Digit8", "AltGraph", "Control", "Alt")).toBe("before");
    for (const held of ["Control", "Alt", "Meta"]) expect(pressed("s", "KeyS", held)).toBeUndefined();
  });
  it("take what a key types before where it lies", () => {
    expect(pressed("+", "BracketRight")).toBe("more"); // a German keyboard, where it lies
    expect(pressed("]", "BracketRight")).toBe("after");
  });
  it("tell their keys, in groups, and are found by words", () => {
    expect(ACTIONS.map(toldOf)).toEqual(["S", "1", "+", "↑", "[", "]"]);
    const rows = ACTIONS.map(rowOf);
    expect(grouped(rows).map(([group, of]) => [group, of.length])).toEqual([["Items", 2], ["Picture", 1], ["Time", 1], ["Passes", 2]]);
    expect(foundIn(rows, "CUT").map((r) => r.told)).toEqual(["↑"]);
    expect(foundIn(rows, "  ")).toHaveLength(6);
    const several = { id: "both", group: "Time", told: "Home  End", words: "the ends" };
    expect(["split", "both", "nothing", undefined].map((id) => keyFor([...rows, several], id))).toEqual(["S", "Home", null, null]);
  });
});
