import fc from "fast-check";
import { describe, expect, it } from "vitest";

import { addSpan, conformWords, flash, moveItems, nextTransition, nudgeItem, removeItems, setTransition, spanCommands, split, toCut, trim } from "./edits";
import { itemAt, shownAt } from "./layout";
import { items, opened, shot } from "./testing";

describe("edits of a reel", () => {
  it("splits an item where the playhead is; transition and span stay at its end", async () => {
    const { reel, ids } = opened({
      transitions: [{ id: "x", after: "i", kind: "dissolve", frames: 4 }],
      spans: [{ id: "s", name: "S", start: { item: "i", frame: 12 }, end: { item: "i", frame: 25 } }],
    });
    reel.timeline.moveTo(8);
    split(reel);
    await reel.document.idle();
    expect(ids()).toEqual([["i", 10, 17], ["new1", 18, 29], ["j", 10, 29], ["k", 10, 29]]);
    expect(reel.shown.transitions![0]!.after).toBe("new1");
    expect(reel.shown.spans![0]).toMatchObject({ start: { item: "i", frame: 12 }, end: { item: "new1", frame: 25 } });
    expect(reel.layout.length).toBe(60);
    expect(reel.now.chosen).toEqual({ kind: "item", ids: ["new1"] });
  });

  it("does not split where there is a cut already", () => {
    const { reel, said, server } = opened();
    reel.timeline.moveTo(20);
    split(reel);
    expect(said).toEqual(["There is a cut here already."]);
    expect(server.words).toEqual([]);
  });

  it("takes items out, and spans keep to what is left of theirs", async () => {
    const { reel, ids, server } = opened({ spans: [{ id: "s", name: "S", start: { item: "i", frame: 12 }, end: { item: "k", frame: 15 } }] });
    removeItems(reel, [reel.layout.items[2]!]);
    await reel.document.idle();
    expect(server.words.at(-1)).toMatch(/^.+ taken out of the reel$/);
    expect(server.words.at(-1)).not.toMatch(/items/);
    expect(ids().map(([id]) => id)).toEqual(["i", "j"]);
    expect(reel.shown.spans![0]!.end).toEqual({ item: "j", frame: 29 });
  });

  it("moves items, and nothing where nothing moves", async () => {
    const { reel, ids, server } = opened();
    moveItems(reel, ["i"], "j");
    moveItems(reel, ["i"], "i");
    moveItems(reel, ["k", "j"], "k");
    expect(server.words).toEqual([]);
    reel.choose({ kind: "item", ids: ["k"] });
    nudgeItem(reel, -1);
    await reel.document.idle();
    expect(ids().map(([id]) => id)).toEqual(["i", "k", "j"]);
    nudgeItem(reel, 1);
    await reel.document.idle();
    expect(ids().map(([id]) => id)).toEqual(["i", "j", "k"]);
  });

  it("moves several together, in their order, as one step", async () => {
    const { reel, ids, server } = opened();
    moveItems(reel, ["k", "i"], null);
    await reel.document.idle();
    expect(ids().map(([id]) => id)).toEqual(["j", "i", "k"]);
    moveItems(reel, ["k", "i"], "i"); // before one that moves itself: where the next stays
    expect(server.words).toEqual(["2 items moved"]);
    moveItems(reel, ["i", "k"], "j");
    await reel.document.idle();
    expect(ids().map(([id]) => id)).toEqual(["i", "k", "j"]);
  });

  it("trims within the footage", async () => {
    const { reel, ids, server } = opened();
    trim(reel, [reel.layout.items[0]!], "first", -50);
    await reel.document.idle();
    trim(reel, [reel.layout.items[1]!], "last", 500);
    await reel.document.idle();
    expect(ids()).toEqual([["i", 0, 29], ["j", 10, 99], ["k", 10, 29]]);
    expect(server.words[0]).toBe("A: begins 50 frames earlier");
  });

  it("goes from a cut to a dissolve and back", async () => {
    const { reel } = opened();
    reel.timeline.moveTo(38);
    nextTransition(reel);
    await reel.document.idle();
    expect(reel.shown.transitions).toMatchObject([{ after: "j", kind: "dissolve", frames: 24 }]);
    setTransition(reel, "j", "cut");
    await reel.document.idle();
    expect(reel.shown.transitions).toEqual([]);
    expect(reel.now.chosen).toBeNull();
  });

  it("lays a span over items, moves it along, and makes it flash", async () => {
    const { reel } = opened();
    addSpan(reel, reel.layout.items.slice(0, 2), "Dusk");
    await reel.document.idle();
    const laid = reel.layout.spans[0]!;
    expect([laid.first, laid.last]).toEqual([0, 39]);
    await reel.edit(spanCommands(reel, laid, { first: 20, last: 59 }), "moved");
    expect(reel.layout.spans.map((s) => [s.first, s.last])).toEqual([[20, 59]]);
    reel.timeline.moveTo(30);
    flash(reel, reel.layout.spans[0]!);
    await reel.document.idle();
    expect(reel.shown.spans![0]!.amounts).toMatchObject([{ frame: 4, value: 0 }, { frame: 10, value: 100 }, { frame: 16, value: 0 }]);
  });

  it("goes from cut to cut", () => {
    const { reel } = opened();
    toCut(reel, 1);
    expect(reel.timeline.frame).toBe(20);
    toCut(reel, 1);
    toCut(reel, 1);
    expect(reel.timeline.frame).toBe(59);
    toCut(reel, -1);
    expect(reel.timeline.frame).toBe(40);
  });

  it("keeps the playhead within what there is", async () => {
    const { reel, server } = opened();
    reel.timeline.moveTo(59);
    removeItems(reel, reel.layout.items.slice(1));
    await reel.document.idle();
    expect(server.words.at(-1)).toBe("2 items taken out of the reel");
    expect(reel.timeline.frame).toBe(19);
  });
});

describe("a split", () => {
  const rates = fc.constantFrom("24000/1001", "24", "25", "30000/1001", "30", "48", "50", "60000/1001", "60");

  it("moves nothing and changes no picture, at any two rates", async () => {
    await fc.assert(
      fc.asyncProperty(rates, rates, fc.integer({ min: 0, max: 60 }), fc.integer({ min: 0, max: 39 }), fc.array(fc.nat(120), { minLength: 1, maxLength: 4 }), async (fps, own, first, more, places) => {
        const { reel, server } = opened({ fps, items: [{ id: "i", shot: "a", first, last: first + more }, { id: "j", shot: "b", first: 5, last: 9 }] }, { ...shot, fps: own });
        const shown = () => Array.from({ length: reel.layout.length }, (_, n) => ((p) => [p.item.shot, shownAt(p, fps, n - p.first)])(itemAt(reel.layout, n)!));
        const before = shown();
        for (const place of places) {
          reel.timeline.moveTo(place % before.length);
          split(reel);
          await reel.document.idle();
        }
        expect(shown()).toEqual(before);
        expect(reel.layout.items.length).toBe(2 + server.words.length);
      }),
      { numRuns: 400 },
    );
  });
});

describe("what is told of a reel", () => {
  it("is heard where an item with sound is not silenced, or there is a track", () => {
    const silenced = items.map((item) => ({ ...item, heard: false }));
    const quiet = { ...shot, sound: false };
    expect(opened().reel.heard?.url).toContain("/sound/1.wav");
    expect(opened({ items: silenced }).reel.heard).toBeNull();
    expect(opened({}, quiet).reel.heard).toBeNull();
    expect(opened({ track: { footage: "f" } }, quiet).reel.heard).not.toBeNull();
  });
  it("says how other rates come in", () => {
    const standing = { ...shot, fps: "24000/1001" } as unknown as Parameters<typeof conformWords>[0];
    expect(conformWords(standing, "25")).toMatch(/^23\.976 → 25 frames/);
    expect(conformWords(standing, "24000/1001")).toBe("");
  });
});
