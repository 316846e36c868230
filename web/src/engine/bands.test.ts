import fc from "fast-check";
import { describe, expect, it } from "vitest";

import { returning, bandsText, readBands } from "./bands";

describe("bands that return one by one", () => {
  it("begin at the playhead and are all back by the out frame, one after another", () => {
    expect(returning(4, 10, 50)).toEqual([[10, 20], [20, 30], [30, 40], [40, 50]]);
    fc.assert(
      fc.property(fc.integer({ min: 1, max: 12 }), fc.integer({ min: 0, max: 1000 }), fc.integer({ min: 12, max: 5000 }), (count, from, more) => {
        const times = returning(count, from, from + more);
        expect(times[0]![0]).toBe(from);
        expect(times.at(-1)![1]).toBe(from + more);
        times.forEach(([begin, end], n) => {
          expect(end).toBeGreaterThan(begin);
          if (n) expect(begin).toBe(times[n - 1]![1]);
        });
      }),
    );
  });
});

describe("typed bands", () => {
  const infos = [{ key: "hue", low: 0, high: 360, default: 0 }, { key: "saturation", name: "Saturation", low: 0, high: 200, default: 100 }, { key: "shift", name: "Shift", low: -180, high: 180, default: 0 }] as unknown as Parameters<typeof readBands>[1];
  const hues: Record<string, number> = { red: 29, "#0000ff": 264 };
  const read = (text: string) => readBands(text, infos, (word) => hues[word] ?? null);

  it("are hues or colours, with values or without", () => {
    expect(read("40°\n120 0\nred, 50, -20\n#0000ff")).toEqual({ found: [{ hue: 40, saturation: 100, shift: 0 }, { hue: 120, saturation: 0, shift: 0 }, { hue: 29, saturation: 50, shift: -20 }, { hue: 264, saturation: 100, shift: 0 }] });
  });
  it("go out and come in again", () => {
    const found = [{ id: "a", hue: 40, saturation: 30, shift: -5 }];
    expect(read(bandsText(found as never, infos))).toEqual({ found: [{ hue: 40, saturation: 30, shift: -5 }] });
  });
  it("say what is none", () => {
    expect(read("puce")).toEqual({ wrong: "“puce” is neither a hue in degrees nor a colour." });
    expect(read("40 300")).toEqual({ wrong: "Saturation of 40° goes from 0 to 200; “300” does not." });
    expect("wrong" in read("40 1 2 3") && "wrong" in read("") && "wrong" in read(Array(13).fill("40").join("\n"))).toBe(true);
  });
});
