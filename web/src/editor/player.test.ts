import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";

import type { ShotView } from "../api/types";
import type { Ask, Live, Picture } from "./live";
import { Player } from "./player";
import { Readiness } from "./readiness";
import { bench, resetBench, setBench, type Ready } from "./store";
import type { Viewport } from "./viewport";

vi.mock("./decode", () => ({ decode: (bytes: Uint8Array) => Promise.resolve({ frame: bytes[0], close: () => {} }) }));

const view = (rate: string, last: number) =>
  ({ shot: { id: "s" }, revision: 7, undo: null, redo: null, footage: { id: "f", facts: { rate, length: last + 1, width: 320, height: 180, sound: null } }, document: { first: 0, last, look: { passes: [], selections: [], lanes: [] } } }) as unknown as ShotView;

/** A clock, a screen and a server that answers when it is told to. */
class Stage {
  now = 0;
  ticks: FrameRequestCallback[] = [];
  asked: (Ask & { id: number })[] = [];
  shown: number[] = [];
  viewport = { after: null, before: null, draw: () => this.shown.push((this.viewport.after as unknown as { frame: number }).frame) };
  live = {
    send: (ask: Ask) => {
      const id = this.nextId++;
      if (ask.kind !== "clear") this.asked.push({ ...ask, id });
      return id;
    },
  };
  private nextId = 1;
  player = new Player(this.live as unknown as Live, this.viewport as unknown as Viewport, () => 320);

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
beforeEach(() => {
  stage = new Stage();
  vi.stubGlobal("performance", { now: () => stage.now, mark: () => {} });
  vi.stubGlobal("requestAnimationFrame", (tick: FrameRequestCallback) => stage.ticks.push(tick));
  vi.stubGlobal("cancelAnimationFrame", () => (stage.ticks = []));
  vi.stubGlobal("window", { setInterval: (f: () => void) => (looks.push(f), 1), clearInterval: () => {}, document: { hidden: false } });
  looks = [];
});
let looks: (() => void)[] = [];
afterEach(() => vi.unstubAllGlobals());

const open = (rate = "24", last = 99) => {
  resetBench(view(rate, last));
  setBench({ frame: 0 });
};

describe("playing", () => {
  it("shows every frame once where the server keeps up, in the time they take", async () => {
    open();
    stage.player.play();
    await stage.run(2000, 60);
    expect(stage.shown).toEqual(stage.shown.map((_, n) => stage.shown[0]! + n));
    expect(stage.shown.length).toBeGreaterThan(40);
    expect(bench().reached).toBeGreaterThan(22);
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
    expect(bench().reached).toBeLessThan(10);
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
    setBench({ loop: false, frame: 20 });
    stage.player.play();
    await stage.run(1500, 60);
    expect([bench().playing, bench().frame]).toEqual([false, 23]);
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
    for (const ask of stage.asked.splice(0)) stage.player.failed(ask.id);
    const before = stage.shown.length;
    await stage.run(700, 60);
    expect(stage.shown.length).toBeGreaterThan(before + 8);
    stage.asked = []; // the answers never come
    const frame = bench().frame;
    stage.player.again();
    await stage.run(700, 60);
    expect(bench().frame).toBeGreaterThan(frame + 5);
  });
});

describe("what is rendered", () => {
  const answer = (more: boolean): Ready => ({ stretches: [[0, 5]], more, proxy: { state: "none", done: 0 } });
  it("is asked for until nothing more will come, and again after a change", () => {
    open();
    const asked = stage.asked;
    const readiness = new Readiness(stage.live as unknown as Live, () => 320);
    const look = () => looks[0]!();
    look();
    look();
    expect(asked.map((a) => a.kind)).toEqual(["ready"]); // one question at a time
    expect(asked[0]).toMatchObject({ first: 0, last: 99, every: 2, revision: 7 });
    readiness.receive(asked[0]!.id, answer(true));
    expect(bench().ready!.stretches).toEqual([[0, 5]]);
    look();
    readiness.receive(asked[1]!.id, answer(false));
    look();
    expect(asked.length).toBe(2);
    setBench({ frame: 50 }); // other frames lie ahead now
    look();
    readiness.receive(asked[2]!.id, answer(false));
    setBench({ show: "matte" });
    look();
    expect(bench().ready).toBeNull();
    expect(asked.length).toBe(4);
    readiness.receive(asked[2]!.id, answer(false)); // an answer to an older question
    expect(bench().ready).toBeNull();
    setBench({ draft: [{ op: "remove", path: "/x" }] });
    readiness.again();
    look();
    expect(asked.length).toBe(4); // nothing while something is being dragged
  });
});
