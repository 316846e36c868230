import { describe, expect, it } from "vitest";

import { Pace } from "./pace";

/** A browser that has played before, at some size; null: that has not. */
function browser(size: string | null) {
  let kept = size;
  return { getItem: () => kept, setItem: (_: string, value: string) => void (kept = value) };
}

/** Plays for a while where a picture of full size takes `cost` ms: `ahead` frames lie before the one on screen. */
class Playing {
  readonly pace: Pace;
  now = 0;
  ahead = 0;
  sizes: number[] = [];
  private asked: number | null = null; // when the picture that is being made was
  private shown = 0;

  constructor(
    readonly rate: number,
    public cost: number,
    kept = browser("1"),
  ) {
    this.pace = new Pace(kept);
    this.pace.begin();
  }

  run(ms: number) {
    for (const end = this.now + ms; this.now < end; this.now++) {
      const { size } = this.pace;
      this.asked ??= this.ahead < 32 ? this.now : null;
      if (this.asked !== null && this.now - this.asked >= this.cost * size ** 2) {
        this.ahead++;
        this.pace.came(this.now, size, this.asked);
        this.asked = null;
      }
      this.shown += this.rate / 1000;
      if (this.shown >= 1) {
        this.shown -= 1;
        this.ahead = Math.max(0, this.ahead - 1);
      }
      this.pace.choose(this.now, this.rate, this.ahead);
      this.sizes.push(this.pace.size);
    }
    return this;
  }
}

describe("the size of what plays", () => {
  it("stays where there is time", () => {
    expect(new Set(new Playing(24, 30).run(10_000).sizes)).toEqual(new Set([1]));
  });
  it("begins small on a machine that is not known, and then with what did last time", () => {
    const kept = browser(null);
    const first = new Playing(24, 30, kept);
    expect(first.pace.size).toBe(0.5);
    expect(first.run(5000).pace.size).toBe(1);
    expect(new Playing(24, 60, kept).pace.size).toBe(1);
    new Playing(24, 60, kept).run(1000);
    expect(new Playing(24, 60, kept).pace.size).toBe(0.75);
    expect(new Playing(24, 60, browser("7")).pace.size).toBe(0.5); // what is no size is as if nothing were known
  });
  it("gives way to the rate, as far as it must", () => {
    expect(new Playing(24, 60).run(1000).pace.size).toBe(0.75);
    expect(new Playing(24, 120).run(1000).pace.size).toBe(0.5);
    expect(new Playing(24, 900).run(9000).pace.size).toBe(0.5); // there is no smaller one
  });
  it("does not waver where the next larger one would not do", () => {
    const playing = new Playing(24, 70).run(2000);
    playing.sizes = [];
    expect(new Set(playing.run(30_000).sizes)).toEqual(new Set([0.75]));
  });
  it("has time for scopes where it plays whole, or where a smaller picture leaves some that a larger one could not use", () => {
    expect(new Playing(24, 30).run(3000).pace.spare).toBe(true);
    expect(new Playing(24, 100).run(6000).pace.spare).toBe(true); // half size takes 25 of 42 ms, three quarters would take 56
    expect(new Playing(24, 160).run(6000).pace.spare).toBe(false); // 40 of 42 ms: none is left
  });
  it("comes back when there is time again", () => {
    const playing = new Playing(24, 120).run(2000);
    playing.cost = 20;
    expect(playing.run(6000).pace.size).toBe(1);
  });
  it("tries a larger one more and more seldom where that was in vain", () => {
    const playing = new Playing(24, 60);
    let changes = 0;
    let before = 1;
    for (let n = 0; n < 120; n++) {
      playing.cost = playing.pace.size < 1 ? 30 : 60; // small ones are at hand already, so that a large one seems to fit
      playing.run(500);
      if (playing.pace.size !== before) changes++;
      before = playing.pace.size;
    }
    expect(changes).toBeGreaterThan(2);
    expect(changes).toBeLessThan(16);
  });
});
