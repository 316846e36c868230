import { describe, expect, it } from "vitest";

import type { ParamInfo } from "../api/types";
import { clampTo, format, parseNumber, readEntry, stepOf } from "./numbers";
import { bytes, duration, frameOf, rateWords, timecode } from "./words";

const info = (more: Partial<ParamInfo>): ParamInfo => ({ key: "k", name: "K", help: "", kind: "number", unit: "%", low: 0, high: 100, step: 1, default: 50, animatable: true, choices: [], fields: [], ...more });

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
    for (const bad of ["", "abc", "1.2.3", "NaN", "Infinity", "1e5", "--2", "1/0", "(1", "2)", "3 4", "%", "5 pxx"]) expect(parseNumber(bad), bad).toBeNull();
  });
  it("are read as people type them: a true minus, units, simple sums", () => {
    const read: [string, number][] = [["89%", 89], ["−0.25", -0.25], ["1/3", 1 / 3], ["+5", 5], ["12 fr", 12], ["2*4+1", 9], ["2 × (1,5 + 1)", 5], ["-(3-1)", -2], ["10-4", 6], ["0,5 cd/m²", 0.5], ["90 / 4 °", 22.5]];
    for (const [text, value] of read) expect(parseNumber(text, "cd/m²"), text).toBeCloseTo(value, 9);
  });
  it("that are typed are limited to the range, or a change from neutral, and that is said", () => {
    const gamma = info({ name: "Gamma", unit: "", low: 0.1, high: 4, step: 0.01, default: 1 });
    expect(readEntry("−0.08", gamma)).toMatchObject({ value: 0.92, words: "Gamma is 0.92: −0.08 was taken as a change from 1.00, where it is neutral." });
    expect(readEntry("+0.1", gamma)).toMatchObject({ value: 1.1 });
    expect(readEntry("1.1", gamma)).toEqual({ value: 1.1, words: null });
    expect(readEntry("9", gamma)).toEqual({ value: 4, words: "Gamma goes from 0.10 to 4.00; it is 4.00 now." });
    expect(readEntry("-3", gamma)).toMatchObject({ value: 0.1 });
    const shift = info({ name: "Shift", unit: "°", low: -180, high: 180, default: 0 });
    expect([readEntry("-20", shift), readEntry("+20", shift)]).toEqual([{ value: -20, words: null }, { value: 20, words: null }]);
    expect(readEntry("a lot", shift)).toEqual({ wrong: "“a lot” is not a number. Shift goes from −180 to 180 °." });
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
    expect([frameOf("1:02:03:04", 24), frameOf("2.5s", 24), frameOf("1,5 s", 25), frameOf("2m", 30), frameOf("1:00:00;00", 30), frameOf("12f", 24)]).toEqual([89356, 60, 38, 3600, 108000, 12]);
    expect([frameOf("+12", 24, 100), frameOf("-2s", 24, 100), frameOf("\u22121:00", 24, 100), frameOf("+ 1.5 s", 24, 100)]).toEqual([112, 52, 76, 136]);
    for (const bad of ["", "a", "1:2:3:4:5", "1.5", "1::2", "2x", "+", "1:2s"]) expect(frameOf(bad, 24)).toBeNull();
    for (const n of [0, 53, 54, 1799, 90000]) expect(frameOf(timecode(n, 24), 24)).toBe(n);
  });
  it("for rates", () => expect([rateWords("24"), rateWords("30000/1001"), rateWords("24000/1001")]).toEqual(["24 fps", "29.97 fps", "23.976 fps"]));
});
