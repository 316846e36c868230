import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";

import type { Command } from "../../api/types";
import type { BenchSession } from "../bench";
import { engineOn, Shots, viewOf } from "../testing";
import type { Film } from "../scene";
import { Painter } from "./painter";
import type { Viewport } from "./viewport";

vi.mock("./decode", () => ({ decode: (bytes: Uint8Array) => Promise.resolve({ of: `live ${bytes[0]}`, close: () => undefined }) }));

/** The server's live channel, as far as the painter sees it. */
class Socket {
  static OPEN = 1;
  static last: Socket;
  readyState = 1;
  sent: { kind: string; id: number; frame: number; revision: number; commands: Command[] }[] = [];
  onmessage: (m: { data: ArrayBuffer | string }) => void = () => undefined;
  onopen = () => undefined;
  onclose = () => undefined;
  constructor() {
    Socket.last = this;
  }
  send(text: string) {
    this.sent.push(JSON.parse(text) as Socket["sent"][number]);
  }
  close() {}
}

/** A picture as it comes over the channel: its first byte says which. */
function picture(id: number, byte: number) {
  const header = new TextEncoder().encode(JSON.stringify({ kind: "look", id, frame: 0, view: "result", picture: 1, scope: null }));
  const data = new Uint8Array(4 + header.length + 1);
  new DataView(data.buffer).setUint32(0, header.length);
  data.set(header, 4);
  data[data.length - 1] = byte;
  return data.buffer;
}

const amount = (value: number): Command => ({ do: "set", target: "look/passes/a/amount", value });
const asked = () => Socket.last.sent.filter((s) => s.kind === "look");

describe("the painter", () => {
  let engine: BenchSession;
  let painter: Painter;
  let fetched: string[];
  let coverage: number;
  let on: string | null;
  let answers: (() => void)[]; // lossless pictures that wait to be let through, where they do
  let hold: boolean;

  const viewport = {
    geometry: { scale: 1, x: 0, y: 0 },
    size: { width: 320, height: 180 },
    zoom: null,
    layout: "one",
    setAfter: (bitmap: { of: string }) => (on = bitmap.of),
    setBefore: () => undefined,
    draw: () => undefined,
  };
  const rest = async () => {
    await vi.advanceTimersByTimeAsync(200);
  };
  const live = async (ask: { id: number }, byte: number) => {
    Socket.last.onmessage({ data: picture(ask.id, byte) });
    await vi.advanceTimersByTimeAsync(0);
  };

  beforeEach(() => {
    vi.useFakeTimers();
    [fetched, coverage, on, answers, hold] = [[], 12, null, [], false];
    vi.stubGlobal("WebSocket", Socket);
    vi.stubGlobal("location", { protocol: "http:", host: "x" });
    vi.stubGlobal("window", { setTimeout, clearTimeout, setInterval, clearInterval });
    vi.stubGlobal("cancelAnimationFrame", () => undefined);
    vi.stubGlobal("createImageBitmap", (blob: { url: string }) => Promise.resolve({ of: `lossless ${blob.url}`, close: () => undefined }));
    vi.stubGlobal("fetch", async (url: string) => {
      fetched.push(url);
      if (hold) await new Promise<void>((done) => answers.push(done));
      return { ok: true, json: () => Promise.resolve(coverage), blob: () => Promise.resolve({ url: url.replace(/^.*pictures\/|\.png.*$/g, "") }) };
    });
    const view = viewOf();
    engine = engineOn(view, {}, new Shots(view));
    engine.go(0);
    painter = new Painter(viewport as unknown as Viewport, engine as unknown as Film, engine.stage.state, () => undefined);
    Socket.last.onopen();
  });
  afterEach(() => {
    painter.dispose();
    vi.useRealTimers();
    vi.unstubAllGlobals();
  });

  it("asks at once for what is shown, and for the lossless picture when it rests", async () => {
    expect(asked().at(-1)).toMatchObject({ frame: 0, revision: 1, commands: [] });
    expect(engine.now.settled).toBe(false);
    await live(asked().at(-1)!, 7);
    expect([on, engine.now.begun, engine.now.busySince]).toEqual(["live 7", true, null]);
    await rest();
    expect([on, engine.now.settled]).toEqual(["lossless 1/0", true]);
  });
  it("asks once for the lossless picture, though the channel opens while that is on its way", async () => {
    const pictures = () => fetched.filter((url) => url.includes("/pictures/")).length;
    await rest();
    painter.dispose();
    const before = pictures();
    hold = true;
    painter = new Painter(viewport as unknown as Viewport, engine as unknown as Film, engine.stage.state, () => undefined);
    await rest();
    Socket.last.onopen();
    expect(asked()).toHaveLength(2); // what was said before it was open went nowhere
    hold = false;
    for (const answer of answers) answer();
    await rest();
    expect([pictures() - before, engine.now.settled]).toEqual([1, true]);
    Socket.last.onopen(); // and once it was lost, all of it is asked for again
    await rest();
    expect(pictures() - before).toBe(2);
  });
  it("asks for the lossless picture anew where the channel comes back after a failure", async () => {
    Socket.last.onmessage({ data: JSON.stringify({ kind: "error", id: asked().at(-1)!.id, message: "Too heavy." }) });
    await rest();
    expect([fetched.length, engine.now.failure]).toEqual([0, "Too heavy."]);
    Socket.last.onopen();
    await rest();
    expect([on, engine.now.settled]).toEqual(["lossless 1/0", true]);
  });
  it("tries the lossless picture again once the server is back, where its answer was lost", async () => {
    const answered = fetch;
    vi.stubGlobal("fetch", () => Promise.reject(new TypeError("no network")));
    await vi.advanceTimersByTimeAsync(150);
    vi.stubGlobal("fetch", answered);
    expect([on, engine.now.settled, engine.now.failure]).toEqual([null, false, null]);
    await rest();
    expect([on, engine.now.settled]).toEqual(["lossless 1/0", true]);
  });
  it("asks for the same lossless picture as for the live one: up to a pass, alone, of a view", async () => {
    const query = () => Object.fromEntries(new URL(fetched.filter((url) => url.includes("/pictures/")).at(-1)!, "http://x").searchParams);
    await rest();
    expect(query()).toMatchObject({ view: "result" });
    expect("upto" in query() || "alone" in query()).toBe(false);
    engine.choice.set({ passId: "a" });
    engine.stage.set({ upTo: true });
    painter.refresh();
    await rest();
    expect(query()).toMatchObject({ upto: "1" });
    engine.stage.set({ upTo: false, solo: true });
    painter.refresh();
    await rest();
    expect([query()["alone"], "upto" in query()]).toEqual(["a", false]);
  });
  it("draws no late picture of the channel over the lossless one", async () => {
    const first = asked().at(-1)!;
    await rest();
    expect(on).toBe("lossless 1/0");
    await live(first, 9);
    expect(on).toBe("lossless 1/0");
  });
  it("draws no lossless picture that was overtaken, and asks for none while something is dragged", async () => {
    hold = true;
    await rest();
    engine.go(5);
    hold = false;
    for (const answer of answers) answer();
    await vi.advanceTimersByTimeAsync(0);
    expect([on, engine.now.settled]).toEqual([null, false]);
    await rest();
    expect(on).toBe("lossless 1/5");
    for (const byte of [0, 1]) await live(asked().at(-1)!, byte); // nothing is under way any more
    engine.document.show([amount(40)]);
    const count = fetched.length;
    expect(asked().at(-1)!.commands).toEqual([amount(40)]);
    await rest();
    expect([fetched.length, engine.now.settled]).toEqual([count, false]);
  });
  it("measures the selection once it rests, and takes no figure that was overtaken", async () => {
    engine.choice.set({ selectionId: "s" });
    await rest();
    expect([engine.now.coverage, fetched.at(-1)]).toEqual([12, "/api/shots/shot/coverage/1/0?selection=s"]);
    coverage = 30;
    engine.go(3);
    await vi.advanceTimersByTimeAsync(139);
    hold = true;
    await vi.advanceTimersByTimeAsync(20);
    expect(fetched.at(-1)).toContain("coverage/1/3"); // it is asked for with the picture
    answers.shift()!();
    await vi.advanceTimersByTimeAsync(0); // the picture is there, the figure on its way
    engine.go(4);
    answers.shift()!();
    await vi.advanceTimersByTimeAsync(0);
    expect([engine.now.coverage, engine.now.settled]).toEqual([12, false]);
  });
  it("says what could not be rendered, until something else is asked for", async () => {
    Socket.last.onmessage({ data: JSON.stringify({ kind: "error", id: asked().at(-1)!.id, message: "The file is gone." }) });
    expect([engine.now.failure, engine.now.busySince]).toEqual(["The file is gone.", null]);
    engine.go(2);
    expect(engine.now.failure).toBeNull();
  });
  it("lets go of everything when it is done with", async () => {
    painter.dispose();
    const count = asked().length;
    engine.go(9);
    await rest();
    expect([asked().length, fetched.length]).toEqual([count, 0]);
  });
});
