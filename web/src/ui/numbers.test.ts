import { describe, expect, it } from "vitest";

import type { ParamInfo } from "../api/types";
import { clampTo, format, parseNumber, stepOf } from "./numbers";
import { bytes, duration, frameOf, rateWords, timecode } from "./words";

const info = (more: Partial<ParamInfo>): ParamInfo => ({ key: "k", name: "K", help: "", kind: "number", unit: "%", low: 0, high: 100, step: 1, default: 50, animatable: true, choices: [], ...more });

describe("numbers", () => {
  it("are limited to their range", () => {
    expect(clampTo(info({}), 140)).toBe(100);
    expect(clampTo(info({}), -3)).toBe(0);
    expect(clampTo(info({}), 0.1 + 0.2)).toBe(0.3);
  });
  it("step by ten with Shift and a tenth with Alt", () => {
    const keys = { shiftKey: false, altKey: false };
    expect(stepOf(info({ step: 0.5 }), keys)).toBe(0.5);
    expect(stepOf(info({ step: 0.5 }), { ...keys, shiftKey: true })).toBe(5);
    expect(stepOf(info({ step: 0.5 }), { ...keys, altKey: true })).toBeCloseTo(0.05);
  });
  it("show as many digits as their step has, one more where needed", () => {
    expect(format(info({ step: 1 }), 40)).toBe("40");
    expect(format(info({ step: 0.5 }), 9)).toBe("9.0");
    expect(format(info({ step: 0.005 }), 0.045)).toBe("0.045");
    expect(format(info({ step: 0.1 }), 21.26)).toBe("21.26");
    expect(format(info({ step: 0.1 }), 20.000000004)).toBe("20.0");
  });
  it("are read with a comma or a point, with or without a unit", () => {
    expect(parseNumber("12,5 %")).toBe(12.5);
    expect(parseNumber(" -.5°")).toBe(-0.5);
    expect(parseNumber("+3.")).toBe(3);
    for (const bad of ["", "abc", "1.2.3", "NaN", "Infinity", "1e5", "--2"]) expect(parseNumber(bad)).toBeNull();
  });
});

describe("words", () => {
  it("for sizes", () => {
    expect([bytes(999), bytes(1000), bytes(2_229_969), bytes(45_000_000), bytes(3e12)]).toEqual(["999 bytes", "1.0 kB", "2.2 MB", "45 MB", "3000 GB"]);
  });
  it("for times", () => {
    expect([duration(5.5), duration(42.4), duration(65)]).toEqual(["5.5 s", "42 s", "1 min 5 s"]);
    expect([timecode(0, 24), timecode(54, 24), timecode(1499, 25), timecode(1800, 29.97)]).toEqual(["00:00:00", "00:02:06", "00:59:24", "01:00:00"]);
  });
  it("for typed times", () => {
    expect([frameOf("54", 24), frameOf("1:12", 24), frameOf("00:02:06", 24), frameOf(" 01:00:00 ", 29.97)]).toEqual([54, 36, 54, 1800]);
    for (const bad of ["", "a", "1:2:3:4", "-3", "1.5", "1::2"]) expect(frameOf(bad, 24)).toBeNull();
    for (const n of [0, 53, 54, 1799]) expect(frameOf(timecode(n, 24), 24)).toBe(n);
  });
  it("for rates", () => expect([rateWords("24"), rateWords("30000/1001"), rateWords("24000/1001")]).toEqual(["24 fps", "29.97 fps", "23.976 fps"]));
});
