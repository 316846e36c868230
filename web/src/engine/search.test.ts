import { describe, expect, it } from "vitest";

import { found } from "./search";

const all = [
  { name: "Gaussian blur", summary: "Softens evenly.", intents: ["soft", "defocus"] },
  { name: "Glow", summary: "Lets light spill from the bright parts.", intents: ["bloom", "halo"] },
  { name: "Tint", summary: "Maps black to one colour and white to another.", intents: ["sepia", "single colour"] },
  { name: "Contrast", summary: "Moves tones away from a pivot.", intents: ["crush"] },
];
const names = (typed: string) => found(all, typed).map((t) => t.name);

describe("searching", () => {
  it("finds by name, by intent and by what is told", () => {
    expect([names("glow"), names("bloom"), names("sepia"), names("pivot"), names("nothing like it")]).toEqual([["Glow"], ["Glow"], ["Tint"], ["Contrast"], []]);
  });
  it("needs every word", () => expect([names("single colour"), names("single pivot")]).toEqual([["Tint"], []]));
  it("puts the name first, and keeps the order of the list else", () => {
    expect(names("s")).toEqual(["Gaussian blur", "Contrast", "Tint", "Glow"]);
    expect(names("").length).toBe(4);
  });
  it("takes what was typed as it is", () => expect(names("(.*")).toEqual([]));
});
