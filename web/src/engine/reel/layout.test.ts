import { describe, expect, it } from "vitest";

import type { ReelDocument, StandingShot } from "../../api/types";
import known from "../../../../tests/core/reels.json";
import { itemAt, layoutOf, rowsOf, shownAt } from "./layout";

const shots = Object.fromEntries(Object.entries(known.shots).map(([id, shot]) => [id, { ...shot, name: id, footage_id: id, revision: 1, gone: false, sound: true }])) as unknown as Record<string, StandingShot>;

describe("where things lie in a reel, as the server has it", () => {
  for (const wanted of known.cases) {
    it(wanted.it, () => {
      const layout = layoutOf(wanted.document as unknown as ReelDocument, shots);
      expect([layout.fps, layout.width, layout.height]).toEqual([wanted.fps, wanted.width, wanted.height]);
      expect([...layout.items.map((p) => p.first), wanted.cuts.at(-1)]).toEqual(layout.items.length ? wanted.cuts : [0]);
      expect(layout.items.length ? layout.length : 0).toBe(wanted.cuts.at(-1));
      expect(layout.transitions.map((j) => [j.transition.after, j.before, j.behind, j.heldOut, j.heldIn])).toEqual(wanted.overlaps);
      expect(Object.fromEntries(layout.spans.map((s) => [s.span.id, [s.first, s.last]]))).toEqual(wanted.spans);
      for (const placed of layout.items) {
        expect(itemAt(layout, placed.first)).toBe(placed);
        const shown = shownAt(placed, layout.fps, 0);
        if (placed.anchor.at === placed.first) expect(shown).toBe(placed.item.first);
        expect(shown >= placed.item.first && shown <= placed.item.last).toBe(true);
      }
    });
  }

  it("puts spans that lie over one another into rows, the top one first", () => {
    const laid = (id: string, first: number, last: number) => ({ span: { id } as never, first, last });
    const [a, b, c] = [laid("a", 0, 10), laid("b", 5, 20), laid("c", 12, 20)];
    expect(rowsOf([a, b, c]).map((row) => row.map((s) => (s.span as { id: string }).id))).toEqual([["c"], ["b"], ["a"]]);
    expect(rowsOf([a, c]).length).toBe(1);
  });
});
