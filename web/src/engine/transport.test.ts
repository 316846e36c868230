import { beforeEach, describe, expect, it } from "vitest";

import { engineOn, viewOf } from "./testing";
import { renderThenPlay, shuttle, stopPlaying, togglePlay } from "./transport";

type Log = string[];

/** Something that plays, and says in which order it was told what. */
function playable(log: Log) {
  const engine = engineOn(viewOf({ last: 99 }), { settle: () => log.push("settle") > 0 });
  const stage = {
    play: (speed: number) => (engine.timeline.set({ playing: true, speed }), log.push(`play ${speed}`)),
    pause: () => (engine.timeline.set({ playing: false }), log.push("pause")),
    fill: () => (engine.timeline.set({ rendering: { done: 0, total: 9 } } as never), log.push("fill")),
    stopFilling: () => (engine.timeline.set({ rendering: null }), log.push("stop")),
  };
  Object.assign(engine.stage, stage);
  return engine;
}

describe("transport", () => {
  let log: Log;
  beforeEach(() => void (log = []));

  it("stores what is still being typed before anything plays", () => {
    const engine = playable(log);
    togglePlay(engine);
    togglePlay(engine);
    expect(log).toEqual(["settle", "play 1", "settle", "pause"]);
  });
  it("doubles its speed each time in the same direction, and begins anew in the other", () => {
    const engine = playable(log);
    for (const direction of [1, 1, 1, -1, -1] as const) shuttle(engine, direction);
    expect(log.filter((l) => l !== "settle")).toEqual(["play 1", "play 2", "play 4", "play -1", "play -2"]);
    expect(log.filter((l) => l === "settle")).toHaveLength(5);
  });
  it("renders what is missing and gives it up again; stops where it plays, and only there", () => {
    const engine = playable(log);
    renderThenPlay(engine);
    renderThenPlay(engine);
    stopPlaying(engine);
    togglePlay(engine);
    stopPlaying(engine);
    expect(log).toEqual(["settle", "fill", "settle", "stop", "settle", "play 1", "pause"]);
  });
});
