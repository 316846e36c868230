import { describe, expect, it } from "vitest";

import { ended, newBell } from "./bell";

describe("the end of an export", () => {
  it("is told once, and only of one that was at work", () => {
    const before = new Map([["a", "running"], ["b", "waiting"], ["c", "done"], ["d", "paused"], ["e", "running"]]);
    const now = [
      { id: "a", state: "done" }, { id: "b", state: "failed" }, { id: "c", state: "done" }, { id: "d", state: "cancelled" }, { id: "e", state: "running" }, { id: "new", state: "done" },
    ];
    expect(ended(before, now).map((e) => e.id)).toEqual(["a", "b"]);
    expect(ended(new Map(now.map((e) => [e.id, e.state])), now)).toEqual([]);
  });
  it("is silent unless it was asked for", () => {
    expect(newBell({ getItem: () => null, setItem: () => undefined }).getState().sound).toBe(false);
  });
});
