import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";

import { whenAtRest } from "./beside";
import { engineOn } from "./testing";

describe("what lies beside the picture", () => {
  beforeEach(() => {
    vi.useFakeTimers();
    vi.stubGlobal("window", globalThis);
  });
  afterEach(() => {
    vi.useRealTimers();
    vi.unstubAllGlobals();
  });

  const followed = () => {
    const engine = engineOn();
    const told = vi.fn();
    return { engine, told, end: whenAtRest(engine, 160, told) };
  };

  it("waits until the picture has been there for a moment", () => {
    const { engine, told } = followed();
    vi.advanceTimersByTime(1000);
    expect(told).not.toHaveBeenCalled();
    engine.stage.set({ settled: true });
    vi.advanceTimersByTime(159);
    expect(told).not.toHaveBeenCalled();
    vi.advanceTimersByTime(1);
    expect(told).toHaveBeenCalledTimes(1);
  });

  it("is not asked for about pictures that are passed over", () => {
    const { engine, told } = followed();
    for (let n = 0; n < 5; n++) {
      engine.stage.set({ settled: true });
      vi.advanceTimersByTime(100);
      engine.stage.set({ settled: false });
      vi.advanceTimersByTime(100);
    }
    expect(told).not.toHaveBeenCalled();
    engine.stage.set({ settled: true });
    vi.advanceTimersByTime(160);
    expect(told).toHaveBeenCalledTimes(1);
  });

  it("comes where there is no picture, but not while it plays, nor once it is gone", () => {
    const { engine, told, end } = followed();
    engine.stage.set({ failure: "No footage." });
    vi.advanceTimersByTime(160);
    expect(told).toHaveBeenCalledTimes(1);
    engine.timeline.state.setState({ playing: true });
    vi.advanceTimersByTime(1000);
    expect(told).toHaveBeenCalledTimes(1);
    engine.timeline.state.setState({ playing: false });
    end();
    vi.advanceTimersByTime(1000);
    expect(told).toHaveBeenCalledTimes(1);
  });

  it("follows the frame while the pointer lies in the census, where no picture becomes final", () => {
    const { engine, told } = followed();
    engine.stage.set({ settled: true });
    vi.advanceTimersByTime(160);
    engine.stage.set({ settled: false, lit: { id: "under the pointer" } });
    engine.timeline.state.setState({ frame: 7 });
    vi.advanceTimersByTime(160);
    expect(told).toHaveBeenCalledTimes(2);
    engine.stage.set({ lit: { id: "under the pointer" } }); // it moves on
    vi.advanceTimersByTime(1000);
    expect(told).toHaveBeenCalledTimes(2);
  });

  it("waits for edits that are on their way: the state that they lead to is the one that is asked for", () => {
    const { engine, told } = followed();
    const { state } = engine.document;
    state.setState({ waiting: [{ id: "e", author: "page", base: 1, path: "edits", body: { commands: [] }, words: "" }] });
    engine.stage.set({ settled: true });
    vi.advanceTimersByTime(1000);
    expect(told).not.toHaveBeenCalled();
    state.setState({ waiting: [] });
    vi.advanceTimersByTime(160);
    expect(told).toHaveBeenCalledTimes(1);
  });
});
