import fc from "fast-check";
import { describe, expect, it } from "vitest";

import { halvesCommands, insertPieces, liftItems, removeStretch, replaceWith, roll, rollCommands, slip, slipCommands } from "./cutting";
import { opened, shot } from "./testing";

const SPAN = { id: "s", name: "S", start: { item: "i", frame: 12 }, end: { item: "j", frame: 25 } };

describe("cutting", () => {
  it("puts shots in at the playhead, into an item or before one", async () => {
    const { reel, ids } = opened();
    reel.timeline.moveTo(8);
    await insertPieces(reel, [{ shot: "b", first: 0, last: 4 }, { shot: "a", first: 50, last: 51 }]);
    expect(ids()).toEqual([["i", 10, 17], ["new2", 0, 4], ["new3", 50, 51], ["new1", 18, 29], ["j", 10, 29], ["k", 10, 29]]);
    expect(reel.now.chosen).toEqual({ kind: "item", ids: ["new2", "new3"] });
    expect(reel.now.frame).toBe(8);
    reel.timeline.moveTo(27);
    await insertPieces(reel, [{ shot: "b", first: 3, last: 3 }]);
    expect(ids().map(([id]) => id)).toEqual(["i", "new2", "new3", "new1", "new4", "j", "k"]);
  });

  it("replaces what is at the playhead and keeps its length and what lies over it", async () => {
    const { reel, ids, said } = opened({ spans: [SPAN] });
    reel.timeline.moveTo(25);
    await replaceWith(reel, { shot: "a", first: 40, last: 90 });
    expect(ids()).toEqual([["i", 10, 29], ["j", 40, 59], ["k", 10, 29]]);
    expect(reel.shown.spans![0]!.end).toEqual({ item: "j", frame: 55 });
    expect(reel.layout.length).toBe(60);
    expect(said).toEqual([]);
    await replaceWith(reel, { shot: "b", first: 95, last: 99 });
    expect(reel.layout.length).toBe(45);
    expect(said).toEqual(["“B” is over 15 frames earlier: what follows moved up."]);
  });

  it("rolls a cut: one ends where the other begins, nothing else moves", async () => {
    const { reel, ids, said } = opened();
    roll(reel, reel.layout.items[0]!, 6);
    await reel.document.idle();
    expect(ids()).toEqual([["i", 10, 35], ["j", 16, 29], ["k", 10, 29]]);
    roll(reel, reel.layout.items[0]!, 500); // as far as the incoming one goes
    await reel.document.idle();
    expect(ids()).toEqual([["i", 10, 48], ["j", 29, 29], ["k", 10, 29]]);
    roll(reel, reel.layout.items[0]!, 1);
    expect(said).toEqual(["The footage ends here: this cut cannot be moved further."]);
  });

  it("rolls without moving what follows, at any rates", () => {
    fc.assert(
      fc.property(fc.constantFrom("24", "25", "30000/1001", "50"), fc.constantFrom("24", "60", "24000/1001"), fc.integer({ min: -15, max: 15 }), (fps, rate, by) => {
        const { reel } = opened({ fps: rate }, { ...shot, fps });
        const before = reel.layout.items[2]!.first;
        reel.document.show(rollCommands(reel, reel.layout.items[0]!, by));
        expect(reel.layout.items[2]!.first).toBe(before);
      }),
    );
  });

  it("slips what items show within their places, as far as the footage goes", async () => {
    const { reel, ids, said } = opened({ spans: [SPAN] });
    slip(reel, reel.layout.items.slice(0, 2), -4);
    await reel.document.idle();
    expect(ids()).toEqual([["i", 6, 25], ["j", 6, 25], ["k", 10, 29]]);
    expect([reel.layout.spans[0]!.first, reel.layout.spans[0]!.last]).toEqual([2, 35]);
    slip(reel, [reel.layout.items[0]!], -50);
    await reel.document.idle();
    expect(ids()[0]).toEqual(["i", 0, 19]);
    slip(reel, [reel.layout.items[0]!], -1);
    expect(said).toEqual(["There is no footage before what is shown here."]);
  });

  it("goes as far as the drag, however often it was shown on the way", async () => {
    const { reel, ids } = opened({ spans: [SPAN] });
    const two = reel.layout.items.slice(0, 2);
    for (const by of [-1, -2, -4]) reel.document.show(slipCommands(reel, two, by));
    slip(reel, two, -4);
    await reel.document.idle();
    expect(ids().slice(0, 2)).toEqual([["i", 6, 25], ["j", 6, 25]]);
    expect([reel.layout.spans[0]!.first, reel.layout.spans[0]!.last]).toEqual([2, 35]);
    const from = reel.layout.items[0]!;
    for (const by of [2, 5, 6]) reel.document.show(rollCommands(reel, from, by));
    roll(reel, from, 6);
    await reel.document.idle();
    expect(ids()).toEqual([["i", 6, 31], ["j", 12, 25], ["k", 10, 29]]);
  });

  it("leaves gaps of the same length, under the same spans", async () => {
    const { reel } = opened({ spans: [SPAN] });
    liftItems(reel, [reel.layout.items[1]!]);
    await reel.document.idle();
    expect(reel.shown.items![1]).toMatchObject({ id: "j", shot: "gap", first: 0, last: 19 });
    expect(reel.layout.items.map((p) => p.first)).toEqual([0, 20, 40]);
    expect([reel.layout.spans[0]!.first, reel.layout.spans[0]!.last]).toEqual([2, 35]);
  });

  it("takes a stretch out, and spans that end in it end beside it", async () => {
    const { reel, ids } = opened({ spans: [SPAN, { id: "t", name: "T", start: { item: "j", frame: 12 }, end: { item: "k", frame: 20 } }] });
    reel.mark({ first: 15, last: 44 });
    removeStretch(reel, 15, 44);
    await reel.document.idle();
    expect(ids()).toEqual([["i", 10, 24], ["k", 15, 29]]);
    expect(reel.layout.spans.map(({ first, last }) => [first, last])).toEqual([[2, 14], [15, 20]]);
    expect(reel.now.marks).toBeNull();
    removeStretch(reel, 3, 6); // within one item
    await reel.document.idle();
    expect(ids()).toEqual([["i", 10, 12], ["new1", 17, 24], ["k", 15, 29]]);
    expect(reel.layout.length).toBe(26);
  });
});

describe("half a shot into another look", () => {
  const around = { shot: "a", first: 0, last: 99 };
  it("splits it where it stands, and dissolves", () => {
    const { reel } = opened({ spans: [SPAN], transitions: [{ id: "x", after: "i", kind: "dissolve", frames: 4 }] });
    let n = 0;
    reel.document.show(halvesCommands(reel, around, 20, "b", () => `n${++n}`)!);
    expect(reel.shown.items!.map((i) => [i.id, i.shot, i.first, i.last])).toEqual([["i", "a", 10, 19], ["n1", "b", 20, 29], ["j", "b", 10, 29], ["k", "a", 10, 29]]);
    expect(reel.shown.transitions!.map((t) => [t.after, t.kind, t.frames])).toEqual([["n1", "dissolve", 4], ["i", "dissolve", 24]]);
    expect(reel.layout.length).toBe(60);
  });
  it("puts it at the end where the reel does not show it; at its own ends there is nothing to split", () => {
    const { reel } = opened({ items: [] });
    let n = 0;
    const newId = () => `n${++n}`;
    reel.document.show(halvesCommands(reel, around, 40, "b", newId)!);
    expect(reel.shown.items!.map((i) => [i.shot, i.first, i.last])).toEqual([["a", 0, 39], ["b", 40, 99]]);
    expect(halvesCommands(reel, around, 0, "b", newId)).toBeNull();
    expect(halvesCommands(reel, around, 100, "b", newId)).toBeNull();
  });
});

describe("in and out", () => {
  it("mark a stretch that plays, within what there is", async () => {
    const { reel } = opened();
    expect(reel.timeline.ends).toEqual({ first: 0, last: 59 });
    reel.markEnd("first", 12);
    reel.markEnd("last", 30);
    expect(reel.timeline.ends).toEqual({ first: 12, last: 30 });
    reel.markEnd("first", 40); // past the out
    expect(reel.timeline.ends).toEqual({ first: 40, last: 59 });
    reel.markEnd("first", 0);
    expect(reel.now.marks).toBeNull();
    reel.mark({ first: 10, last: 55 });
    removeStretch(reel, 30, 49);
    await reel.document.idle();
    expect(reel.timeline.ends.last).toBe(39);
  });
});
