import { expect, it } from "vitest";

import type { ParamInfo } from "../api/types";
import { counts } from "./params";

const info = (key: string, more: object = {}) => ({ key, default: "hue", ...more }) as unknown as ParamInfo;

it("counts where the choices beside it are as it says, chosen or by default", () => {
  const all = [info("over"), info("changes"), info("curve", { when: { over: "hue", changes: "lightness" } })];
  expect([{}, { changes: "lightness" }, { changes: "lightness", over: "saturation" }].map((values) => counts(all[2]!, all, values))).toEqual([false, true, false]);
  expect(counts(all[0]!, all, {})).toBe(true);
});
