import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";

import type { BenchSession } from "../bench";
import { engineOn, viewOf } from "../testing";
import type { Ready } from "../timeline";
import type { Ask, Live, Picture } from "./live";
import { Pace } from "./pace";
import { Player } from "./player";
import { Readiness } from "./readiness";
import type { Viewport } from "./viewport";

const closed: number[] = [];
vi.mock("./decode", () => ({ decode: (bytes: Uint8Array) => Promise.resolve({ frame: bytes[0], close: () => closed.push(bytes[0]!) }) }));

/** A clock, a screen and a server that answers when it is told to. */
class Stage {
  now = 0;
  ticks: FrameRequestCallback[] = [];
  asked: (Ask & { id: number })[] = [];
  widths: [frame: number, width: number][] = [];
  shown: number[] = [];
  after: { frame: number } | null = null;
  viewport = { setAfter: (bitmap: { frame: number }) => (this.after = bitmap), setBefore: () => {}, draw: () => this.shown.push(this.after!.frame) };
  live = {
    send: (ask: Ask) => {
      const id = this.nextId++;
      if (ask.kind !== "clear") this.asked.push({ ...ask, id });
      if (ask.kind === "play") this.widths.push([ask.frame!, ask.width!]);
      return id;
    },
  };
  private nextId = 1;
  player: Player;

  constructor(readonly engine: BenchSession) {
    this.player = new Player(this.live as unknown as Live, this.viewport as unknown as Viewport, engine, () => 320, () => undefined);
  }

  /** Let some milliseconds pass at 60 pictures a second; `answers` a second come from the server, oldest first. */
  async run(ms: number, answers: number) {
    for (let t = 0; t < ms; t += 1000 / 60) {
      this.now += 1000 / 60;
      this.owed += answers / 60;
      while (this.owed >= 1 && this.asked.length) {
        this.owed--;
        this.answer(this.asked.shift()!);
      }
      this.owed = Math.min(this.owed, 1);
      await Promise.resolve();
      await new Promise((done) => setTimeout(done, 0));
      for (const tick of this.ticks.splice(0)) tick(this.now);
      this.most = Math.max(this.most, this.asked.length);
    }
  }
  most = 0;
  scopes: number[] = [];
  private owed = 0;

  answer({ id, frame, scope }: Ask & { id: number }) {
    if (scope) this.scopes.push(frame!);
    this.player.receive({ id, kind: "play", frame: frame!, view: "result", jpeg: new Uint8Array([frame!]), scope: null } as Picture);
  }
}

let stage: Stage;
let engine: BenchSession;
beforeEach(() => {
  open();
  vi.stubGlobal("performance", { now: () => stage.now, mark: () => {} });
  vi.stubGlobal("requestAnimationFrame", (tick: FrameRequestCallback) => stage.ticks.push(tick));
  vi.stubGlobal("cancelAnimationFrame", () => (stage.ticks = []));
  vi.stubGlobal("window", {
    setInterval: (f: () => void) => (looks.push(f), 1),
    clearInterval: () => {},
    setTimeout: (f: () => void, ms: number) => setTimeout(f, ms),
    clearTimeout: (timer: ReturnType<typeof setTimeout>) => clearTimeout(timer),
    document: { hidden: false },
  });
  looks = [];
});
let looks: (() => void)[] = [];
afterEach(() => vi.unstubAllGlobals());

function open(rate = "24", last = 99) {
  engine = engineOn(viewOf({ rate, last, revision: 7, passes: [], selections: [] }));
  engine.timeline.set({ frame: 0 });
  stage = new Stage(engine);
  closed.length = 0;
}

describe("rendering before playing", () => {
  it("asks for every frame from in to out, tells how far it is, and plays from the in then", async () => {
    open("24", 19);
    engine.timeline.set({ frame: 7 });
    stage.player.fill();
    expect(engine.now.rendering).toEqual({ done: 0, total: 20 });
    const asked: number[] = [];
    for (let n = 0; n < 20; n++) {
      expect(engine.now.playing).toBe(false);
      const ask = stage.asked.shift()!;
      expect(ask.bare).toBe(true);
      asked.push(ask.frame!);
      stage.answer(ask);
      if (n === 4) expect(engine.now.rendering).toEqual({ done: 5, total: 20 });
    }
    expect(asked).toEqual(Array.from({ length: 20 }, (_, n) => n));
    expect([engine.now.rendering, engine.now.playing, engine.now.frame]).toEqual([null, true, 0]);
    await stage.run(500, 60);
    expect(stage.shown[0]).toBe(0);
  });

  it("begins anew where what is shown changes: an out that was set just before is stored meanwhile, and makes another revision", () => {
    open("24", 19);
    stage.player.fill();
    for (let n = 0; n < 3; n++) stage.answer(stage.asked.shift()!);
    stage.asked = [];
    engine.stage.set({ show: "source" });
    stage.player.refresh();
    expect(engine.now.rendering).toEqual({ done: 0, total: 20 });
    while (stage.asked.length) stage.answer(stage.asked.shift()!);
    expect([engine.now.rendering, engine.now.playing]).toEqual([null, true]);
  });

  it("is given up by hand; a frame that fails ends it with its reason", () => {
    open("24", 19);
    stage.player.stopFilling();
    expect(engine.now.rendering).toBeNull();
    stage.player.fill();
    stage.player.failed(stage.asked.at(-1)!.id, "That file is gone.");
    expect([engine.now.rendering, engine.now.failure]).toEqual([null, "That file is gone."]);
  });
});

describe("playing", () => {
  it("tells the rate that is seen: it falls when nothing new is shown", async () => {
    open();
    stage.player.play();
    await stage.run(2000, 60);
    expect(engine.now.reached).toBeGreaterThan(22);
    await stage.run(3000, 0); // what was ahead is played, then the server is busy
    expect(engine.now.reached).toBeLessThan(2);
  });
  it("shows every frame once where the server keeps up, in the time they take", async () => {
    open();
    stage.player.play();
    await stage.run(2000, 60);
    expect(stage.shown).toEqual(stage.shown.map((_, n) => stage.shown[0]! + n));
    expect(stage.shown.length).toBeGreaterThan(40);
    expect(engine.now.reached).toBeGreaterThan(22);
  });
  it("drops frames rather than drift where it does not, and never queues them up", async () => {
    open();
    stage.player.play();
    await stage.run(3000, 8);
    expect(stage.most).toBeLessThanOrEqual(4);
    expect([...stage.shown].sort((a, b) => a - b)).toEqual(stage.shown); // never backwards
    expect(stage.shown.length).toBeGreaterThan(12);
    const elapsed = stage.shown.at(-1)! / 24;
    expect(elapsed).toBeGreaterThan(1.6); // 3 s, less the start and what is under way
    expect(engine.now.reached).toBeLessThan(10);
  });
  it("asks for smaller pictures where the server does not keep up, for whole ones of what is rendered, and for every pixel where that is wanted", async () => {
    open();
    engine.timeline.set({ ready: { stretches: [[90, 99]], more: true, proxy: { state: "none", done: 0 } } });
    stage.player.play();
    await stage.run(3000, 12);
    const asked = stage.widths.splice(0);
    expect([asked[0]![1], asked.findLast(([frame]) => frame < 90)![1]]).toEqual([320, 160]);
    expect(engine.now.size).toBe(0.5);
    await stage.run(1000, 12);
    expect(stage.widths.filter(([frame]) => frame >= 90).every(([, width]) => width === 320)).toBe(true);
    engine.timeline.set({ full: true });
    stage.widths = [];
    await stage.run(500, 12);
    expect(new Set(stage.widths.map(([, width]) => width))).toEqual(new Set([320]));
    stage.player.pause();
    expect(engine.now.size).toBe(1);
  });
  it("comes round, turns back, and stops at the end where it does not loop", async () => {
    open("24", 23);
    stage.player.play();
    await stage.run(1800, 60);
    expect(new Set(stage.shown).size).toBe(24);
    expect(stage.shown.length).toBeGreaterThan(30);
    stage.player.pause();
    stage.shown = [];
    stage.player.play(-2);
    await stage.run(500, 60);
    expect(stage.shown[1]! < stage.shown[0]! || stage.shown[0]! < 3).toBe(true);
    stage.player.pause();
    engine.timeline.set({ loop: false, frame: 20 });
    stage.player.play();
    await stage.run(1500, 60);
    expect([engine.now.playing, engine.now.frame]).toEqual([false, 23]);
  });
  it("tells no rate before there was time to see one", async () => {
    open();
    stage.now = 1000;
    stage.player.play();
    await stage.run(200, 20);
    expect([engine.now.reached, stage.shown.length > 0]).toEqual([0, true]);
    await stage.run(600, 20);
    expect(engine.now.reached).toBeGreaterThan(10);
  });
  it("takes back what it has asked for once it is paused", async () => {
    open();
    const sent = vi.spyOn(stage.live, "send");
    stage.player.play();
    await stage.run(300, 60);
    const clears = () => sent.mock.calls.filter(([ask]) => ask.kind === "clear").length;
    const before = clears();
    stage.player.pause();
    expect([clears(), engine.now.playing]).toEqual([before + 1, false]);
  });
  it("asks for a scope with the same frames every time", async () => {
    open();
    stage.player.play();
    await stage.run(1500, 60);
    expect(stage.scopes.length).toBeGreaterThan(12);
    expect(stage.scopes.every((n) => n % 2 === 0)).toBe(true);
  });
  it("goes on after frames that failed and after a lost connection", async () => {
    open();
    stage.player.play();
    await stage.run(700, 60);
    for (const ask of stage.asked.splice(0, 2)) stage.player.failed(ask.id, "no");
    const before = stage.shown.length;
    await stage.run(700, 60);
    expect(stage.shown.length).toBeGreaterThan(before + 8);
    stage.asked = []; // the answers never come
    const { frame } = engine.now;
    const seen = stage.shown.length;
    stage.player.again();
    await stage.run(700, 60);
    expect(engine.now.frame).toBeGreaterThan(frame + 5);
    expect(stage.shown.length).toBeGreaterThan(seen + 5); // what will never be answered keeps no place
  });
});

describe("pictures that are not wanted any more", () => {
  it("do not land in the next run, and are given back", async () => {
    stage.player.play();
    await stage.run(300, 60);
    const late = stage.asked.splice(0);
    stage.player.pause();
    engine.timeline.set({ frame: 50 });
    stage.player.play();
    stage.shown = [];
    for (const ask of late) stage.answer(ask);
    await stage.run(500, 60);
    expect(stage.shown.every((n) => n >= 50)).toBe(true);
    stage.player.pause();
    const decoding = stage.asked.splice(0);
    stage.player.play();
    stage.player.dispose();
    for (const ask of decoding) stage.answer(ask);
    await stage.run(50, 0);
    expect(closed.length).toBeGreaterThan(0);
  });
  it("end the playing with a word where several cannot be made, one after another", async () => {
    stage.player.play();
    await stage.run(100, 0);
    for (const ask of stage.asked.splice(0)) stage.player.failed(ask.id, "This picture could not be rendered.");
    expect([engine.now.playing, engine.now.failure]).toEqual([false, "This picture could not be rendered."]);
  });
});

describe("what is rendered", () => {
  const answer = (more: boolean): Ready => ({ stretches: [[0, 5]], more, proxy: { state: "none", done: 0 } });
  it("is asked for until nothing more will come, and again after a change", () => {
    open();
    const asked = stage.asked;
    const readiness = new Readiness(stage.live as unknown as Live, engine, () => 320);
    const look = () => looks[0]!();
    look();
    look();
    expect(asked.map((a) => a.kind)).toEqual(["ready"]); // one question at a time
    expect(asked[0]).toMatchObject({ first: 0, last: 99, every: 2, revision: 7 });
    readiness.receive(asked[0]!.id, answer(true));
    expect(engine.now.ready!.stretches).toEqual([[0, 5]]);
    look();
    readiness.receive(asked[1]!.id, answer(false));
    look();
    expect(asked.length).toBe(2);
    engine.timeline.set({ frame: 50 }); // other frames lie ahead now
    look();
    readiness.receive(asked[2]!.id, answer(false));
    engine.stage.set({ show: "matte" });
    look();
    expect(engine.now.ready).toBeNull();
    expect(asked.length).toBe(4);
    readiness.receive(asked[2]!.id, answer(false)); // an answer to an older question
    expect(engine.now.ready).toBeNull();
    engine.document.show([{ do: "set", target: "first", value: 3 }]);
    readiness.again();
    look();
    expect(asked.length).toBe(4); // nothing while something is being dragged
  });
});

describe("a player that is let go", () => {
  it("tells the server that nothing is waited for, and asks for as much as ever when it plays again", async () => {
    const sent = vi.spyOn(stage.live, "send");
    const clears = () => sent.mock.calls.filter(([ask]) => ask.kind === "clear").length;
    stage.player.fill();
    const begun = clears();
    stage.player.stopFilling();
    expect(clears()).toBe(begun + 1);
    stage.player.dispose();
    expect(clears()).toBe(begun + 2);
    stage.player.play();
    await stage.run(50, 0);
    stage.player.pause();
    stage.asked = [];
    engine.timeline.set({ frame: 40 });
    stage.player.play();
    await stage.run(50, 0);
    expect(stage.asked.filter((ask) => ask.frame! >= 40).length).toBe(4);
  });
  it("is heard from where it plays", async () => {
    const heard: { at: number; muted: boolean }[] = [];
    vi.stubGlobal("Audio", class {
      currentTime = 0;
      muted = false;
      paused = false;
      ended = false;
      constructor(readonly src: string) {}
      play() {
        heard.push({ at: this.currentTime, muted: this.muted });
        return Promise.resolve();
      }
      pause() {}
    });
    Object.defineProperty(engine, "heard", { get: () => ({ url: "/sound.wav", from: 2 }) });
    engine.timeline.set({ frame: 48, sound: true });
    stage.player.play();
    await stage.run(400, 60);
    expect(heard).toEqual([{ at: 4, muted: false }]);
  });
  it("is let go when another is heard, some time after a pause, and at the end: a browser has few connections to a server", async () => {
    const made: { src: string }[] = [];
    vi.stubGlobal("Audio", class {
      currentTime = 0;
      duration = 60;
      constructor(public src: string) {
        made.push(this);
      }
      play = () => Promise.resolve();
      pause() {}
    });
    let url = "/1.wav";
    Object.defineProperty(engine, "heard", { get: () => ({ url, from: 0 }) });
    engine.timeline.set({ frame: 0, sound: true });
    const played = async () => {
      stage.player.play();
      await stage.run(400, 60);
      stage.player.pause();
      return made.map((sound) => sound.src);
    };
    expect(await played()).toEqual(["/1.wav"]);
    url = "/2.wav";
    expect(await played()).toEqual(["", "/2.wav"]);
    expect(await played()).toEqual(["", "/2.wav"]); // at hand still
    vi.useFakeTimers({ toFake: ["setTimeout", "clearTimeout"] });
    stage.player.pause();
    vi.advanceTimersByTime(10_000);
    vi.useRealTimers();
    expect(made.map((sound) => sound.src)).toEqual(["", ""]);
    expect(await played()).toEqual(["", "", "/2.wav"]);
    stage.player.dispose();
    expect(made.map((sound) => sound.src)).toEqual(["", "", ""]);
  });
  it("is brought back where it has drifted from the picture, and let be where it has not", async () => {
    const made: { currentTime: number }[] = [];
    vi.stubGlobal("Audio", class {
      currentTime = 0;
      duration = 60;
      constructor(readonly src: string) {
        made.push(this);
      }
      play = () => Promise.resolve();
      pause() {}
    });
    Object.defineProperty(engine, "heard", { get: () => ({ url: "/sound.wav", from: 0 }) });
    engine.timeline.set({ frame: 0, sound: true });
    stage.player.play();
    await stage.run(1000, 60);
    const sound = made[0]!;
    sound.currentTime = 30;
    await stage.run(100, 60);
    expect(Math.abs(sound.currentTime - engine.now.frame / 24)).toBeLessThan(0.2);
    const near = (sound.currentTime = engine.now.frame / 24 + 0.03);
    await stage.run(17, 60);
    expect(sound.currentTime).toBe(near);
  });
});

describe("a look that changes while it plays", () => {
  /** Drags something: another look every `every` ms, of which the server begins what is asked for first. */
  async function dragged(ms: number, every: number, answers: number) {
    for (let t = 0; t < ms; t += every) {
      engine.document.state.setState({ draft: [{ do: "set", target: "passes/p/amount", value: t }] });
      stage.player.refresh();
      stage.asked.splice(1); // "clear" takes back what has not been begun
      await stage.run(every, answers);
    }
  }
  it("goes on playing while a slider is dragged, at the rate that the server manages", async () => {
    stage.player.play();
    await stage.run(500, 60);
    const before = stage.shown.length;
    const { frame } = engine.now;
    await dragged(2000, 100, 30);
    expect(stage.shown.length - before).toBeGreaterThan(20);
    expect(engine.now.frame - frame).toBeGreaterThan(40); // two seconds of 24 a second: the clock goes on
    expect(stage.shown).toEqual(stage.shown.toSorted((a, b) => a - b));
  });
  it("is asked for as small as it must be, whatever is rendered of the look that is stored", async () => {
    engine.timeline.set({ ready: { stretches: [[0, 99]], more: false, proxy: { state: "none", done: 0 } } as Ready });
    Object.defineProperty(engine.around, "pace", { value: new Pace({ getItem: () => "0.5", setItem: () => undefined }) });
    stage.player.play();
    await stage.run(100, 0);
    expect(stage.widths.at(-1)![1]).toBe(320);
    await dragged(100, 100, 0);
    expect(stage.widths.at(-1)![1]).toBe(160);
  });
  it("never goes back to an earlier look once a picture of a later one is there", async () => {
    stage.player.play();
    await stage.run(500, 60);
    engine.document.state.setState({ draft: [{ do: "set", target: "passes/p/amount", value: 1 }] });
    const earlier = stage.asked.splice(0);
    stage.player.refresh();
    await stage.run(100, 0);
    const later = stage.asked.splice(0);
    stage.answer(later[0]!);
    await stage.run(17, 0);
    const seen = stage.shown.length;
    for (const ask of earlier) stage.answer(ask);
    await stage.run(300, 0);
    expect(stage.shown.slice(seen).every((n) => n === later[0]!.frame)).toBe(true);
  });
});
