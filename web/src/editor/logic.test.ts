import { beforeEach, describe, expect, it, vi } from "vitest";

import type { ShotView } from "../api/types";
import { nextWeak } from "./curve";
import { Live } from "./live";
import { colourOf, hueOf } from "./oklch";
import { withDraft } from "./patch";
import { acceptView, bench, documentOf, passPath, rateOf, resetBench, selectionPath, setBench } from "./store";
import { lines } from "./stream";

const view = (revision = 1, passes: string[] = ["a", "b"], selections: string[] = ["s"]) =>
  ({
    shot: { id: "shot", footage_id: "f", name: "Shot", head: revision },
    footage: { id: "f", name: "f.mp4", bytes: 1, seconds: 5, facts: { rate: "24", length: 120 } },
    revision,
    document: { first: 0, last: 119, look: { schema_version: 1, selections: selections.map((id) => ({ id, name: id, keys: [] })), passes: passes.map((id) => ({ id, name: id, amount: 100 })) } },
    undo: null,
    redo: null,
  }) as unknown as ShotView;

describe("drafts", () => {
  const document = { a: [{ x: 1 }, { x: 2 }], b: "c" };
  it("replace what a path names and leave the original alone", () => {
    const changed = withDraft(document, [{ op: "replace", path: "/a/1/x", value: 9 }]);
    expect(changed.a[1]!.x).toBe(9);
    expect(document.a[1]!.x).toBe(2);
    expect(changed.a[0]).toBe(document.a[0]);
  });
  it("ignore paths that do not exist and other operations", () => {
    expect(withDraft(document, [{ op: "replace", path: "/z/1", value: 9 }])).toEqual(document);
    expect(withDraft(document, [{ op: "remove", path: "/b" }])).toBe(document);
  });
});

describe("the Bench", () => {
  beforeEach(() => resetBench(view()));

  it("opens on a frame within the shot, with the last pass and first selection chosen", () => {
    expect(bench()).toMatchObject({ frame: 48, passId: "b", selectionId: "s", draft: [] });
  });
  it("keeps what is looked at while it exists", () => {
    setBench({ passId: "a" });
    acceptView(view(2, ["b", "a"]));
    expect(bench()).toMatchObject({ passId: "a", selectionId: "s" });
    expect(passPath("a")).toBe("/look/passes/1");
    acceptView(view(3, ["b"], []));
    expect(bench()).toMatchObject({ passId: "b", selectionId: null });
  });
  it("lays the draft over the document", () => {
    setBench({ draft: [{ op: "replace", path: "/look/passes/0/amount", value: 10 }] });
    expect(documentOf(bench())!.look.passes![0]!.amount).toBe(10);
    expect(bench().view!.document.look.passes![0]!.amount).toBe(100);
    expect(documentOf(bench())).toBe(documentOf(bench())); // the same object while nothing changes
    expect(selectionPath("s")).toBe("/look/selections/0");
  });
  it("knows fractional rates", () => {
    const odd = view();
    odd.footage.facts.rate = "30000/1001";
    expect(rateOf(odd)).toBeCloseTo(29.97);
  });
  it("steps through weak frames and goes round", () => {
    const weak = [20, 60, 90].map((frame) => ({ frame, first: frame, last: frame, kind: "drop" as const, value: 1, usual: 5 }));
    setBench({ curve: { key: "k", values: [], known: 0, weak, fresh: true }, frame: 60 });
    expect(nextWeak(1)).toBe(90);
    expect(nextWeak(-1)).toBe(20);
    setBench({ frame: 100 });
    expect(nextWeak(1)).toBe(20);
    setBench({ curve: null });
    expect(nextWeak(1)).toBeNull();
  });
});

describe("hues", () => {
  it("of sRGB red, green and blue are those of CSS Color 4", () => {
    expect(hueOf([1, 0, 0])).toBeCloseTo(29.23, 1);
    expect(hueOf([0, 1, 0])).toBeCloseTo(142.5, 1);
    expect(hueOf([0, 0, 1])).toBeCloseTo(264.05, 1);
  });
  it("come back from a colour made of them", () => {
    for (let h = 0; h < 360; h += 15) expect(Math.abs(((hueOf(colourOf(0.6, 0.08, h)) - h + 540) % 360) - 180)).toBeLessThan(0.5);
  });
});

describe("streams", () => {
  const response = (parts: string[], status = 200) =>
    new Response(new ReadableStream({ start: (c) => (parts.forEach((p) => c.enqueue(new TextEncoder().encode(p))), c.close()) }), { status });
  it("give lines however they were cut", async () => {
    const found = [];
    for await (const line of lines<{ n: number }>(response(['{"n":1}\n{"n"', ":2}\n", '\n{"n":3}\n']))) found.push(line.n);
    expect(found).toEqual([1, 2, 3]);
  });
  it("throw what the server says", async () => {
    const bad = lines(response(['{"message":"There is no shot.","kind":"NotFound"}'], 404));
    await expect(bad.next()).rejects.toThrow("There is no shot.");
  });
});

describe("the live channel", () => {
  class Socket {
    static OPEN = 1;
    static last: Socket;
    readyState = 1;
    sent: Record<string, unknown>[] = [];
    onmessage: (m: { data: ArrayBuffer | string }) => void = () => {};
    onopen = () => {};
    onclose = () => {};
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
    const seen: number[] = [];
    const failed: number[] = [];
    const live = new Live("shot", { picture: (p) => seen.push(p.id), pixel: () => {}, ready: () => {}, failed: (id) => failed.push(id), open: () => {} });
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
});
