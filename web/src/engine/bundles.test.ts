import { describe, expect, it } from "vitest";

import type { Bundle, Pass } from "../api/types";
import { bundleBetween, unitsOf } from "./bundles";

const pass = (id: string, bundle: string | null = null) => ({ id, name: id, bundle }) as unknown as Pass;
const b = { id: "b", name: "B" } as Bundle;

describe("bundles", () => {
  it("are units of the strip with their passes", () => {
    const units = unitsOf([pass("1"), pass("2", "b"), pass("3", "b"), pass("4")], [b]);
    expect(units.map((u) => [u.bundle?.id ?? null, u.passes.map((p) => p.id)])).toEqual([[null, ["1"]], ["b", ["2", "3"]], [null, ["4"]]]);
    expect(unitsOf([pass("1", "gone")], [])).toHaveLength(1);
  });
  it("take in what is put between two of their passes, and keep what stays beside one", () => {
    expect(bundleBetween(pass("x"), pass("2", "b"), pass("3", "b"), false)).toBe("b");
    expect(bundleBetween(pass("x"), pass("3", "b"), pass("4"), false)).toBe(null);
    expect(bundleBetween(pass("2", "b"), pass("3", "b"), pass("4"), false)).toBe("b");
    expect(bundleBetween(pass("2", "b"), pass("4"), pass("5"), false)).toBe(null);
    expect(bundleBetween(pass("2", "b"), undefined, pass("4"), true)).toBe("b");
  });
});
