import { describe, expect, test } from "vitest";

import type { Pass, Treatment } from "../../api/types";
import { Loader } from "./loader";
import { between, Sheet } from "./sheet";
import { variable, variantsOf } from "./variants";

const PAIRS = [{ name: "Night and coral", colours: ["#1b2a6b", "#ff5a52"] }];
const ROWS = ["a", "b", "c"].map((shot) => ({ shot, columns: ["own", "x", "y"] }));
const storage = () => {
  const held = new Map<string, string>();
  return { getItem: (key: string) => held.get(key) ?? null, setItem: (key: string, value: string) => void held.set(key, value) };
};

describe("choosing", () => {
  test("alone, besides others, and up to another", () => {
    const sheet = new Sheet("p", storage());
    sheet.choose({ shot: "a", column: "x" }, ROWS);
    sheet.choose({ shot: "c", column: "x" }, ROWS, "more");
    expect(sheet.now.chosen).toHaveLength(2);
    sheet.choose({ shot: "c", column: "x" }, ROWS, "more");
    expect(sheet.now.chosen).toEqual([{ shot: "a", column: "x" }]);
    sheet.choose({ shot: "a", column: "x" }, ROWS);
    sheet.choose({ shot: "b", column: "y" }, ROWS, "upto");
    expect(sheet.now.chosen).toHaveLength(4);
    expect(between(ROWS, { shot: "c", column: "y" }, { shot: "a", column: "y" }).map((c) => c.shot)).toEqual(["a", "b", "c"]);
  });
  test("arrows stay within", () => {
    const sheet = new Sheet("p", storage());
    expect(sheet.go(ROWS, 1, 0)).toEqual({ shot: "a", column: "own" });
    sheet.go(ROWS, 9, 9);
    expect(sheet.now.cursor).toEqual({ shot: "c", column: "y" });
    sheet.go(ROWS, -1, -1);
    expect(sheet.now.cursor).toEqual({ shot: "b", column: "x" });
  });
  test("one is compared with the shot's own look", () => {
    const sheet = new Sheet("p", storage());
    expect(sheet.startComparing()).toContain("Choose two");
    sheet.choose({ shot: "b", column: "x" }, ROWS);
    expect(sheet.startComparing()).toBeNull();
    expect(sheet.now.compare![0]).toEqual({ shot: "b", column: "own" });
  });
});

test("columns are kept, moved and taken away, at most twenty-four", () => {
  const kept = storage();
  const sheet = new Sheet("p", kept);
  sheet.setColumns(["own", "x", "y"]);
  sheet.moveColumn("y", -1);
  sheet.removeColumn("own");
  expect(new Sheet("p", kept).now.columns).toEqual(["y", "x"]);
  for (let n = 0; n < 30; n++) sheet.addColumn(`shelf:${n}`);
  expect(sheet.now.columns).toHaveLength(24);
  expect(sheet.full).toContain("24 columns");
});

test("variants of numbers, presets, palettes and inks", () => {
  const number = { key: "size", name: "Size", kind: "number", low: 0, high: 10, step: 1, unit: "px" };
  const colour = (key: string) => ({ key, name: key, kind: "colour" });
  const treatment = { id: "t", params: [number, colour("dark"), colour("light")], presets: { Soft: { size: 2 } }, takes_palette: true } as unknown as Treatment;
  const pass = { id: "p", treatment: "t", params: {} } as unknown as Pass;
  expect(variable(treatment, 1).map((v) => v.of)).toEqual(["inks", "palettes", "presets", "size"]);
  expect(variantsOf(pass, treatment, { of: "size", count: 3 }, [], PAIRS).map((v) => v.sets)).toEqual([0, 5, 10].map((n) => [["look/passes/p/params/size", n]]));
  expect(variantsOf(pass, treatment, { of: "presets", count: 3 }, [], PAIRS)[0]!.name).toBe("Soft");
  expect(variantsOf(pass, treatment, { of: "inks", count: 3 }, [], PAIRS)).toEqual([{ name: "Night and coral", sets: [["look/passes/p/params/dark", "#1b2a6b"], ["look/passes/p/params/light", "#ff5a52"]] }]);
  expect(variantsOf(pass, undefined, { of: "size", count: 3 }, [], PAIRS)).toEqual([]);
});

test("pictures near the middle come first, and those out of view are given up", async () => {
  const asked: string[] = [];
  const answers: (() => void)[] = [];
  const loader = new Loader((url, { signal }) => {
    asked.push(url);
    return new Promise((resolve, reject) => {
      answers.push(() => resolve(new Response("x")));
      signal.addEventListener("abort", () => reject(new Error("aborted")));
    });
  });
  const got: string[] = [];
  const stops = [5, 1, 4, 2, 3, 0].map((far) => loader.want(String(far), () => far, () => got.push(String(far))));
  await Promise.resolve();
  expect(asked).toEqual(["0", "1", "2"]);
  stops[2]!(); // "4" is out of view before its turn
  stops[5]!(); // "0" while it is on its way
  answers[1]!();
  await new Promise((resolve) => setTimeout(resolve));
  expect(asked).toEqual(["0", "1", "2", "3", "5"]);
  expect(got).toEqual(["1"]);
});
