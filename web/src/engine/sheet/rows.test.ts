import { expect, test } from "vitest";

import type { Footage, ShotRow } from "../../api/types";
import { LaidOut, type Known } from "./rows";

const shot = (id: string, head: number) => ({ id, name: `Shot ${id}`, footage_id: "f", head }) as ShotRow;
const known: Known = {
  shots: [shot("a", 3), shot("b", 8)],
  footage: [{ id: "f", seconds: 5.04, facts: { kind: "video" } } as Footage],
  takes: new Map([["a", [{ id: "t", name: "Blue" }]]]),
  shelf: [{ id: "mine", name: "Mine" }],
  starters: [{ id: "heat", name: "Heat" }],
  used: new Set(["b"]),
};
const looks = { mode: "looks", columns: ["own", "shelf:heat", "shelf:mine", "shot:b", "shelf:gone"], words: "", used: false } as const;
const laid = (more: Partial<Known> = {}, state: object = {}) => new LaidOut({ ...known, ...more }, { ...looks, columns: [...looks.columns], ...state });

test("rows are the shots that are searched for, with the columns of the sheet or their takes", () => {
  expect(laid().rows).toEqual(["a", "b"].map((id) => ({ shot: id, columns: looks.columns })));
  expect(laid({}, { words: " SHOT B" }).rows.map((r) => r.shot)).toEqual(["b"]);
  expect(laid({}, { used: true }).rows.map((r) => r.shot)).toEqual(["b"]);
  expect(laid({}, { mode: "takes" }).rows).toEqual([{ shot: "a", columns: ["own", "take:t"] }, { shot: "b", columns: ["own"] }]);
});

test("columns and cells are named, also where what they name is gone or not told yet", () => {
  expect(laid().heads).toEqual(["Its own look", "Heat", "Mine", "Look of Shot b", "A look that is gone"]);
  expect(laid({ shelf: null }).title("shelf:gone")).toBe("…");
  expect(laid().title("shot:x")).toBe("Look of a shot that is gone");
  const takes = laid({}, { mode: "takes" });
  expect([takes.heads, takes.look({ shot: "a", column: "own" }), takes.name({ shot: "a", column: "take:t" }), takes.look({ shot: "a", column: "take:x" })]).toEqual([[], "In work", "Shot a: Blue", "A take"]);
});

test("a picture depends on the states of the shots in it", () => {
  expect(laid().stamp({ shot: "a", column: "own" })).toBe("3.");
  expect(laid().stamp({ shot: "a", column: "shot:b" })).toBe("3.8");
  expect(laid({ shots: [shot("a", 3), shot("b", 9)] }).stamp({ shot: "a", column: "shot:b" })).toBe("3.9");
});

test("beside the name stands how long it is and whether it is in the reel", () => {
  expect(known.shots.map((s) => laid().aside(s))).toEqual(["5.0 s", "5.0 s · in the reel"]);
});
