import { describe, expect, it } from "vitest";

import type { EditRow } from "../api/types";
import { editsFor, runsOf } from "./edits";

const rows = (...words: string[]) => words.map((w, n) => ({ id: 100 - n, words: w, created: "", current: true, touched: [] }) as unknown as EditRow);

describe("the list of edits", () => {
  it("tells changes of one value as one line, from its first to its last", () => {
    const runs = runsOf(rows("Choke 3.0 → 5.0 px", "Choke 1.0 → 3.0 px", "Gradient map: stop 2 #ff8800 → #ffaa00", "Choke 0.0 → 1.0 px", "Glow added"));
    expect(runs.map((r) => [r.words, r.edits.length])).toEqual([["Choke 1.0 → 5.0 px", 2], ["Gradient map: stop 2 #ff8800 → #ffaa00", 1], ["Choke 0.0 → 1.0 px", 1], ["Glow added", 1]]);
  });
  it("does not join what lies on another branch", () => {
    const [a, b] = rows("Choke 1.0 → 2.0 px", "Choke 0.0 → 1.0 px");
    expect(runsOf([a!, { ...b!, current: false }])).toHaveLength(2);
  });
  it("is searched, newest first", () => {
    expect(editsFor(rows("Choke 3.0 → 5.0 px", "Glow added", "Soften and choke"), "choke").map((e) => e.id)).toEqual([100, 98]);
    expect(editsFor(rows("a", "b"), " ")).toHaveLength(2);
  });
});
