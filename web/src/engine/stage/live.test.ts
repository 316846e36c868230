import { describe, expect, it, vi } from "vitest";

import { Live } from "./live";

describe("the live channel", () => {
  class Socket {
    static OPEN = 1;
    static last: Socket;
    readyState = 1;
    sent: Record<string, unknown>[] = [];
    onmessage: (m: { data: ArrayBuffer | string }) => void = () => {};
    onopen = () => {};
    onclose: (event: { code: number; reason: string }) => void = () => {};
    constructor() {
      Socket.last = this;
    }
    send(text: string) {
      this.sent.push(JSON.parse(text) as Record<string, unknown>);
    }
    close() {}
  }
  const picture = (kind: string, id: number) => {
    const header = new TextEncoder().encode(JSON.stringify({ kind, id, frame: 3, view: "result", picture: 2, scope: null }));
    const data = new Uint8Array(4 + header.length + 2);
    new DataView(data.buffer).setUint32(0, header.length);
    data.set(header, 4);
    return data.buffer;
  };

  it("has one request of a kind under way, keeps the newest and forgets those between", () => {
    vi.stubGlobal("WebSocket", Socket);
    vi.stubGlobal("location", { protocol: "http:", host: "x" });
    vi.stubGlobal("window", { clearTimeout: () => {} });
    const seen: number[] = [];
    const failed: number[] = [];
    const live = new Live("/api/shots/shot", { picture: (p) => seen.push(p.id), pixel: () => {}, ready: () => {}, failed: (id) => failed.push(id), open: () => {}, refused: () => {} }, () => Promise.resolve());
    for (let n = 1; n <= 5; n++) live.newest({ kind: "look", frame: n });
    live.newest({ kind: "pixel", frame: 1 });
    const { sent } = Socket.last;
    expect(sent.map((s) => [s.kind, s.frame])).toEqual([["look", 1], ["pixel", 1]]);
    Socket.last.onmessage({ data: picture("look", sent[0]!.id as number) });
    expect(seen).toEqual([sent[0]!.id]);
    expect(sent.at(-1)).toMatchObject({ kind: "look", frame: 5 });
    Socket.last.onmessage({ data: JSON.stringify({ kind: "error", id: sent.at(-1)!.id, message: "no" }) });
    live.newest({ kind: "look", frame: 6 });
    expect(sent.at(-1)).toMatchObject({ frame: 6 }); // an error frees the channel too
    expect(failed).toEqual([sent.at(-2)!.id]);
    live.close();
    vi.unstubAllGlobals();
  });

  it("takes a picture and the scope behind it apart", () => {
    vi.stubGlobal("WebSocket", Socket);
    vi.stubGlobal("location", { protocol: "https:", host: "x" });
    vi.stubGlobal("window", { clearTimeout: () => {} });
    const seen: [number[], string | undefined, number[] | undefined][] = [];
    const live = new Live("/api/shots/shot", { picture: (p) => seen.push([[...p.jpeg], p.scope?.kind, p.scope ? [...p.scope.png] : undefined]), pixel: () => {}, ready: () => {}, failed: () => {}, open: () => {}, refused: () => {} }, () => Promise.resolve());
    const header = new TextEncoder().encode(JSON.stringify({ kind: "look", id: 1, frame: 3, view: "result", picture: 3, scope: "waveform" }));
    const data = new Uint8Array([0, 0, header.length >> 8, header.length & 255, ...header, 1, 2, 3, 7, 8]);
    Socket.last.onmessage({ data: data.buffer });
    expect(seen).toEqual([[[1, 2, 3], "waveform", [7, 8]]]);
    live.close();
    vi.unstubAllGlobals();
  });

  it("is opened again later and later where it breaks, and not at all where it is refused", async () => {
    const waits: number[] = [];
    let opened = 0;
    let again = () => {};
    vi.stubGlobal("WebSocket", class extends Socket {
      constructor() {
        super();
        opened++;
      }
    });
    vi.stubGlobal("location", { protocol: "http:", host: "x" });
    vi.stubGlobal("window", { setTimeout: (run: () => void, ms: number) => (waits.push(ms), (again = run), 1), clearTimeout: () => {} });
    const refused: string[] = [];
    const live = new Live("/api/shots/shot", { picture: () => {}, pixel: () => {}, ready: () => {}, failed: () => {}, open: () => {}, refused: (why) => refused.push(why) }, () => Promise.resolve());
    for (let n = 0; n < 7; n++) {
      Socket.last.onclose({ code: 1006, reason: "" });
      again();
      await Promise.resolve();
    }
    expect([waits, opened]).toEqual([[500, 1000, 2000, 4000, 8000, 15000, 15000], 8]);
    Socket.last.onclose({ code: 1008, reason: "There is no shot." });
    expect([refused, waits.length]).toEqual([["There is no shot."], 7]);
    live.close();
    vi.unstubAllGlobals();
  });
});
