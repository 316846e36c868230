import { describe, expect, it } from "vitest";

import { coloursWords, readColours, readStops, stopsText } from "./typed";

const NAMES: Record<string, string> = { gold: "#ffd700", "rgb(0 128 255)": "#0080ff" };
const parse = (word: string) => (/^#[0-9a-f]{6}$/i.test(word) ? word.toLowerCase() : (NAMES[word] ?? null));
const stops = (text: string) => {
  const read = readStops(text, parse);
  return "found" in read ? read.found.map((s) => [s.colour, s.position]) : read.wrong;
};

describe("typed colours", () => {
  it("are read one a line, with commas or blanks, with their places or evenly", () => {
    expect(stops("#000000\n#ff8800\n#ffffff")).toEqual([["#000000", 0], ["#ff8800", 50], ["#ffffff", 100]]);
    expect(stops("#000000, gold 30%, #ffffff")).toEqual([["#000000", 0], ["#ffd700", 30], ["#ffffff", 100]]);
    expect(stops("0 % #000000\n12.5 % gold\n100 % #ffffff")).toEqual([["#000000", 0], ["#ffd700", 12.5], ["#ffffff", 100]]);
    expect(stops("#000000 20% rgb(0 128 255) 40 % gold")).toEqual([["#000000", 20], ["#0080ff", 40], ["#ffd700", 100]]);
  });
  it("are read from CSS", () => {
    expect(stops("background: linear-gradient(to right, #000000 0%, gold 40%, rgb(0 128 255) 100%);")).toEqual([["#000000", 0], ["#ffd700", 40], ["#0080ff", 100]]);
  });
  it("go out and come in again", () => {
    expect(stops(stopsText([{ colour: "#000000", position: 3.25 }, { colour: "#ffffff", position: 80 }]))).toEqual([["#000000", 3.25], ["#ffffff", 80]]);
  });
  it("say what is none", () => {
    expect(stops("#000000 puce")).toContain("“puce” is no colour");
    expect(stops(" ")).toBe("There is no colour in it.");
    expect(readColours("gold #000000", parse)).toEqual({ found: ["#ffd700", "#000000"] });
  });
  it("are told by what became of them", () => {
    const [a, b, c] = ["#000000", "#ffd700", "#ffffff"] as const;
    expect(coloursWords([a, b], [a, c])).toBe("colour 2: #ffd700 → #ffffff");
    expect(coloursWords([a, b], [a, b, c])).toBe("colour 3 more: #ffffff");
    expect(coloursWords([a, b], [a])).toBe("colour 2 less: #ffd700");
    expect(coloursWords([a, b, c], [c, b, a])).toBe("3 colours, reversed");
    expect(coloursWords([a, b, c], [b])).toBe("1 colour in place of 3");
  });
});
