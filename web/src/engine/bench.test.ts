import { describe, expect, it } from "vitest";

import { nextWeak } from "./coverage";
import { BenchSession } from "./bench";
import { togglePin } from "./keyframes";
import { laneOf } from "./lanes";
import { addPass, removePass, shiftPass } from "./passes";
import { fit } from "./selections";
import { around, engineOn, numbered, Shots, viewOf } from "./testing";
import { rateOf } from "./timeline";
import { endCommands } from "./transport";

const info = { key: "amount", name: "Amount", help: "", kind: "number", unit: "%", low: 0, high: 100, step: 1, default: 100, animatable: true, choices: [], fields: [] } as const;
const AMOUNT = { ...info, choices: [], fields: [], kind: "number" as const };

describe("the Bench", () => {
  it("opens on a frame within the shot, with the last pass and first selection chosen", () => {
    expect(engineOn().now).toMatchObject({ frame: 48, passId: "b", selectionId: "s" });
  });
  it("keeps what is chosen while it exists", async () => {
    const engine = engineOn();
    engine.choosePass("a");
    shiftPass(engine, engine.pass!, 1);
    expect([engine.now.passId, engine.passes.map((p) => p.id)]).toEqual(["a", ["b", "a"]]);
    removePass(engine, engine.pass!);
    expect(engine.now.passId).toBe("b");
    await engine.document.idle();
    void engine.document.edit([{ do: "remove", target: "look/selections/s" }], "gone");
    expect(engine.now.selectionId).toBeNull();
  });
  it("forgets what a look asked to be picked, once that is picked or gone", () => {
    const engine = engineOn();
    engine.choice.set({ asks: { words: "Pick", selection: "s" } });
    void engine.document.edit([{ do: "set", target: "look/passes/a/amount", value: 3 }], "other");
    expect(engine.now.asks).not.toBeNull();
    void engine.document.edit([{ do: "add", target: "look/selections/s/keys", value: { id: "k", type: "hue" } }], "picked");
    expect(engine.now.asks).toBeNull();
  });
  it("chooses what a target names", () => {
    const engine = engineOn();
    engine.reveal("look/passes/a/amount");
    expect(engine.now.passId).toBe("a");
    engine.reveal("look/lanes/passes~1b~1amount/keyframes/3");
    expect(engine.now.passId).toBe("b");
    engine.reveal("look/passes/gone");
    expect(engine.now.passId).toBe("b");
    void engine.document.edit([{ do: "add", target: "look/selections/s/keys", value: { id: "k", type: "hue" } }], "key");
    engine.reveal("look/selections/s/keys/k/tolerance");
    expect([engine.now.selectionId, engine.now.keyId]).toEqual(["s", "k"]);
  });
  it("adds a pass after the chosen one", () => {
    const engine = engineOn();
    engine.choice.set({ passId: "a", selectionId: null });
    addPass(engine, { id: "tint", name: "Tint", group: "map", summary: "", intents: [], spreads: false, reads_matte: false, takes_palette: false, begins: "everywhere", follows_picks: null, source: "", params: [], presets: {} });
    expect([engine.passes.map((p) => p.id), engine.now.passId]).toEqual([["a", "new1", "b"], "new1"]);
  });
  it("stores what is typed before the playhead moves on", () => {
    const typed: number[] = [];
    const engine: BenchSession = engineOn(viewOf(), { settle: () => (typed.push(engine.timeline.frame), true) });
    engine.go(99);
    engine.go(500);
    expect([typed, engine.timeline.frame]).toEqual([[48, 99], 119]);
  });
  it("leaves how one works as it was when another shot is opened", () => {
    const first = engineOn();
    first.timeline.set({ loop: false, frame: 3 });
    first.choice.set({ patch: 15 });
    first.stage.set({ show: "matte" });
    expect(new BenchSession(first.document, around(), first).now).toMatchObject({ loop: false, patch: 15, frame: 48, show: "result" });
  });
});

describe("what is animated", () => {
  it("gets a keyframe at the frame on screen, and quick edits of it all stay", async () => {
    const lane = { target: "passes/a/amount", keyframes: [{ frame: 0, value: 0, how: "linear", ease: 100 }], drift: 0, start: 0, way: "as typed" };
    const engine = engineOn(viewOf({ lanes: [lane] }));
    for (const [frame, value] of [[10, 5], [20, 6]] as const) {
      engine.timeline.moveTo(frame);
      void engine.target.write([{ target: lane.target, info: AMOUNT, value }], "Amount");
    }
    const values = () => laneOf(engine.shown, lane.target)!.keyframes.map((k) => [k.frame, k.value]);
    expect(values()).toEqual([[0, 0], [10, 5], [20, 6]]);
    await engine.document.idle();
    expect([values(), engine.view.undo]).toEqual([[[0, 0], [10, 5], [20, 6]], "Amount at frame 20"]);
  });
});

describe("time", () => {
  it("knows fractional rates", () => expect(rateOf("30000/1001")).toBeCloseTo(29.97));
  it("takes the other end along where one passes it", () => {
    const engine = engineOn();
    expect(endCommands(engine, "first", 30).map((c) => c.target)).toEqual(["first"]);
    void engine.document.edit([{ do: "set", target: "last", value: 50 }], "Out");
    expect(endCommands(engine, "first", 60).map((c) => c.target)).toEqual(["first", "last"]);
  });
  it("turns the page of the ruler where the playhead leaves it", () => {
    const engine = engineOn();
    engine.timeline.set({ stretch: { from: 0, to: 20 } });
    engine.timeline.moveTo(25);
    expect(engine.now.stretch).toEqual({ from: 20, to: 40 });
  });
  it("steps through weak frames and goes round", () => {
    const weak = [20, 60, 90].map((frame) => ({ frame, first: frame, last: frame, kind: "drop" as const, value: 1, usual: 5 }));
    expect([nextWeak(weak, 60, 1), nextWeak(weak, 60, -1), nextWeak(weak, 100, 1), nextWeak([], 3, 1)]).toEqual([90, 20, 20, null]);
  });
});

describe("a notice with a way back", () => {
  const said = () => {
    const notices: { text: string; run?: () => void }[] = [];
    return { notices, say: (text: string, options?: { action?: { run: () => void } }) => void notices.push({ text, run: options?.action?.run }) };
  };
  it("takes back the edit that it tells of, or says that it no longer can", async () => {
    const { notices, say } = said();
    const server = new Shots(viewOf());
    const engine = engineOn(viewOf(), { say }, server);
    const { made } = (await engine.document.edit([{ do: "set", target: "look/passes/a/amount", value: 3 }], "A"))!;
    engine.done("Look loaded.", made);
    await engine.document.idle();
    await engine.document.edit([{ do: "set", target: "look/passes/b/amount", value: 4 }], "B");
    await engine.document.idle();
    notices[0]!.run!();
    await engine.document.idle();
    expect([server.head, notices.at(-1)!.text.includes("cannot be taken back")]).toEqual([3, true]);
    await engine.step("undo");
    notices[0]!.run!();
    await engine.document.idle();
    expect(server.head).toBe(1);
  });
  it("names ids of its own", () => expect([numbered("x")(), numbered("x")()]).toEqual(["x1", "x1"]));
});

describe("undo", () => {
  it("says what was undone: the words of the last edit, also where they were not stored yet", async () => {
    const said: string[] = [];
    const engine = engineOn(viewOf(), { say: (text) => void said.push(text) });
    await engine.document.edit([{ do: "set", target: "look/passes/a/amount", value: 3 }], "Amount of a");
    await engine.document.idle();
    await engine.step("undo");
    expect(said.at(-1)).toBe("Undone: Amount of a");
  });
});

describe("beginning an animation", () => {
  it("stores what is typed first", () => {
    let settled = 0;
    const engine = engineOn(viewOf(), { settle: () => Boolean(++settled) });
    togglePin(engine, "passes/a/amount", AMOUNT, 40);
    expect([settled, laneOf(engine.shown, "passes/a/amount")!.keyframes[0]!.value]).toEqual([1, 40]);
  });
});

describe("a fit", () => {
  it("that was asked about is left before another is worked out", async () => {
    const engine = engineOn();
    const shown = [{ do: "set" as const, target: "look/passes/a/amount", value: 7 }];
    engine.choice.set({ fitting: { selection: "s", key: "k", words: "", before: 1, after: 9, commands: shown } });
    engine.document.show(shown);
    const answered = fit(engine, engine.shown.look.selections![0]!, { id: "k" } as Parameters<typeof fit>[2]);
    expect([engine.now.fitting, engine.shown.look.passes![0]!.amount]).toEqual([null, 100]);
    await answered.catch(() => undefined);
  });
});

describe("the stage", () => {
  it("plays at the footage's own speed, where nothing else is said", () => {
    const speeds: number[] = [];
    const engine = engineOn();
    Object.assign(engine.stage, { painter: { player: { play: (speed: number) => speeds.push(speed) } } });
    engine.stage.play();
    expect(speeds).toEqual([1]);
  });
});
