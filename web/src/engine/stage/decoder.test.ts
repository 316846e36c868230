import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";

import { Decoder, type Answer, type Job } from "./decoder";

/** A thread that answers when it is told to. */
class Thread {
  static last: Thread;
  jobs: Job[] = [];
  ended = false;
  onmessage: (m: { data: Answer }) => void = () => undefined;
  onerror: () => void = () => undefined;
  constructor() {
    Thread.last = this;
  }
  postMessage(job: Job) {
    this.jobs.push(job);
  }
  terminate() {
    this.ended = true;
  }
}

const bitmap = (of: string) => ({ of }) as unknown as ImageBitmap;
const bytes = (...values: number[]) => new Uint8Array(values);

describe("pictures are decoded", () => {
  beforeEach(() => {
    vi.stubGlobal("createImageBitmap", (blob: Blob) => (blob.size ? Promise.resolve(bitmap(`here ${blob.size}`)) : Promise.reject(new Error("nothing"))));
  });
  afterEach(() => vi.unstubAllGlobals());

  it("on a thread of their own, whose answers may come in any order", async () => {
    vi.stubGlobal("Worker", Thread);
    const decoder = new Decoder();
    const both = [decoder.decode(bytes(1), "image/jpeg"), decoder.decode(bytes(2), "image/png")];
    const [first, second] = Thread.last.jobs as [Job, Job];
    expect([first.type, second.type, [...second.bytes]]).toEqual(["image/jpeg", "image/png", [2]]);
    Thread.last.onmessage({ data: { id: second.id, bitmap: bitmap("second") } });
    Thread.last.onmessage({ data: { id: first.id, bitmap: bitmap("first") } });
    expect(await Promise.all(both)).toEqual([bitmap("first"), bitmap("second")]);
  });
  it("or it is said why not", async () => {
    vi.stubGlobal("Worker", Thread);
    const decoder = new Decoder();
    const made = decoder.decode(bytes(1), "image/jpeg");
    Thread.last.onmessage({ data: { id: Thread.last.jobs[0]!.id, failure: "no picture" } });
    await expect(made).rejects.toThrow("no picture");
  });
  it("on the page's where that thread ends, what waits for it included", async () => {
    vi.stubGlobal("Worker", Thread);
    const decoder = new Decoder();
    const waiting = decoder.decode(bytes(1, 2), "image/jpeg");
    const none = decoder.decode(bytes(), "image/jpeg");
    Thread.last.onerror();
    expect(await waiting).toEqual(bitmap("here 2"));
    await expect(none).rejects.toThrow("nothing");
    expect(await decoder.decode(bytes(1), "image/png")).toEqual(bitmap("here 1"));
    expect([Thread.last.ended, Thread.last.jobs.length]).toEqual([true, 2]);
  });
  it("on the page's where there is no other", async () => {
    vi.stubGlobal("Worker", undefined);
    Reflect.deleteProperty(globalThis, "Worker");
    expect(await new Decoder().decode(bytes(1, 2, 3), "image/jpeg")).toEqual(bitmap("here 3"));
  });
  it("until it is closed", () => {
    vi.stubGlobal("Worker", Thread);
    new Decoder().close();
    expect(Thread.last.ended).toBe(true);
  });
});
