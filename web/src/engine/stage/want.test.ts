import { expect, it } from "vitest";

import { engineOn, viewOf } from "../testing";
import { beforeOf, scopeEvery, wantOf } from "./want";

it("wants what is shown; the source while that is peeked at, unless it stands beside it already", () => {
  const engine = engineOn(viewOf({ passes: ["a", "b"] }));
  const view = () => wantOf(engine, 640).view;
  engine.stage.set({ show: "matte" });
  expect(view()).toBe("matte");
  engine.stage.set({ peek: true });
  expect(view()).toBe("source");
  engine.stage.set({ compare: "wipe" });
  expect(view()).toBe("matte");
});

it("stops after the chosen pass, or shows it alone, where the result is shown", () => {
  const engine = engineOn(viewOf({ passes: ["a", "b"] }));
  engine.choice.set({ passId: "a" });
  engine.stage.set({ show: "result", upTo: true, solo: true });
  expect(wantOf(engine, 640)).toMatchObject({ upto: 1, alone: "a", width: 640 });
  engine.stage.set({ show: "matte" });
  expect(wantOf(engine, 640)).toMatchObject({ upto: null, alone: null });
});

it("compares with the source, or with a take as it stands", () => {
  const want = wantOf(engineOn(viewOf()), 320);
  expect(beforeOf(want, null).view).toBe("source");
  expect(beforeOf({ ...want, upto: 2, view: "matte" }, { revision: 7, name: "Take" })).toMatchObject({ revision: 7, view: "result", upto: null });
  expect([24, 25, 60, 10].map(scopeEvery)).toEqual([2, 2, 5, 1]);
});
