import { describe, expect, it } from "vitest";

import { Places } from "./places";
import { engineOn, viewOf } from "./testing";

const memory = () => {
  const held = new Map<string, string>();
  return { held, getItem: (key: string) => held.get(key) ?? null, setItem: (key: string, value: string) => void held.set(key, value) };
};
const shot = (...ids: string[]) => engineOn(viewOf({ rate: "24", last: 99, revision: 7, passes: ids, selections: [] }));

describe("where one was in a shot", () => {
  it("is found again: frame, pass and zoom", () => {
    const kept = memory();
    const first = shot("a", "b");
    first.choosePass("a");
    first.timeline.moveTo(31);
    first.stage.zoom = { scale: 2, x: -5, y: 6 };
    new Places(kept).keep(first);
    const again = shot("a", "b");
    new Places(kept).find(again);
    expect([again.now.frame, again.now.passId, again.stage.zoom]).toEqual([31, "a", { scale: 2, x: -5, y: 6 }]);
  });

  it("gives way to what is there now", () => {
    const kept = memory();
    const first = shot("a", "b");
    first.choosePass("a");
    new Places(kept).keep(first);
    const [key] = kept.held.keys();
    kept.setItem(key!, JSON.stringify({ ...JSON.parse(kept.getItem(key!)!), frame: 5000 }));
    const again = shot("b");
    new Places(kept).find(again);
    expect([again.now.frame, again.now.passId]).toEqual([99, "b"]);
    kept.setItem(key!, "{");
    new Places(kept).find(again);
    expect(again.now.passId).toBe("b");
  });
});
