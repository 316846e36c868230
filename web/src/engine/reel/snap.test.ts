import { describe, expect, it } from "vitest";

import { liftItems } from "./cutting";
import { edgesOf, sideOf, sidesOf, snapped } from "./snap";
import { opened } from "./testing";

describe("both sides of a cut", () => {
  it("end and begin; the reel begins and ends with nothing", () => {
    const { layout } = opened().reel;
    expect(sidesOf(layout, "j", "first").map((s) => s && [s.does, s.name, s.frame])).toEqual([["ends", "A", 29], ["begins", "B", 10]]);
    expect(sidesOf(layout, "i", "first")[0]).toBeNull();
    expect(sidesOf(layout, "k", "last")).toMatchObject([{ does: "ends", frame: 29 }, null]);
  });
  it("are named where there is no picture", async () => {
    const { reel } = opened();
    liftItems(reel, [reel.layout.items[1]!]);
    await reel.document.idle();
    expect(sidesOf(reel.layout, "k", "first")[0]).toMatchObject({ does: "ends", name: "Gap", shot: null });
    expect(sideOf(reel.layout.items[0]!, "first")).toMatchObject({ does: "begins", name: "A", shot: "a", frame: 10 });
  });
});

describe("snapping", () => {
  it("stops at an edge that is near, and not at where it was", () => {
    const edges = edgesOf(opened().reel.layout, 33, null);
    expect(edges).toEqual([0, 20, 40, 60, 33]);
    expect(snapped(edges, 20, 12, 2)).toBe(13);
    expect(snapped(edges, 20, 9, 2)).toBe(9);
    expect(snapped(edges, 20, 1, 2)).toBe(1);
  });
});
