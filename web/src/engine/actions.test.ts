import { describe, expect, it } from "vitest";

import { actionOf, foundIn, grouped, keyFor, rowOf, toldOf, type Action } from "./actions";

const done: string[] = [];
const ACTIONS: Action<string>[] = [
  { id: "split", group: "Items", words: "split the item", keys: ["s"], run: (at) => done.push(`split ${at}`) },
  { id: "view", group: "Picture", words: "the result", keys: ["@Digit1"], run: () => done.push("result") },
  { id: "more", group: "Time", words: "closer", keys: ["+", "="], told: "+", run: () => done.push("closer") },
  { id: "cut", group: "Items", words: "the cut before", keys: ["arrowup"], run: () => done.push("cut") },
];

describe("actions", () => {
  it("are found by what a key types, and by where it is", () => {
    expect(actionOf(ACTIONS, { key: "S", code: "KeyS" })?.id).toBe("split");
    expect(actionOf(ACTIONS, { key: "&", code: "Digit1" })?.id).toBe("view"); // a French keyboard
    expect(actionOf(ACTIONS, { key: "=", code: "Equal" })?.id).toBe("more");
    expect(actionOf(ACTIONS, { key: "q", code: "KeyQ" })).toBeUndefined();
  });
  it("tell their keys, in groups, and are found by words", () => {
    expect(ACTIONS.map(toldOf)).toEqual(["S", "1", "+", "↑"]);
    const rows = ACTIONS.map(rowOf);
    expect(grouped(rows).map(([group, of]) => [group, of.length])).toEqual([["Items", 2], ["Picture", 1], ["Time", 1]]);
    expect(foundIn(rows, "CUT").map((r) => r.told)).toEqual(["↑"]);
    expect(foundIn(rows, "  ")).toHaveLength(4);
    const several = { id: "both", group: "Time", told: "Home  End", words: "the ends" };
    expect(["split", "both", "nothing", undefined].map((id) => keyFor([...rows, several], id))).toEqual(["S", "Home", null, null]);
  });
});
