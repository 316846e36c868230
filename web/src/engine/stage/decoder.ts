/** Decodes pictures on a thread of its own, so that what is dragged or plays does not wait for it; on the page's, where there is no other. */
import { decode, type Kind } from "./decode";

export type Job = { id: number; bytes: Uint8Array<ArrayBuffer>; type: Kind };
export type Answer = { id: number; bitmap: ImageBitmap } | { id: number; failure: string };
type Waiting = Job & { resolve: (bitmap: ImageBitmap) => void; reject: (error: Error) => void };

export class Decoder {
  private worker: Worker | null = null;
  private waiting = new Map<number, Waiting>();
  private nextId = 1;

  constructor() {
    if (!("Worker" in globalThis)) return;
    this.worker = new Worker(new URL("./decoding.ts", import.meta.url), { type: "module" });
    this.worker.onmessage = ({ data }: MessageEvent<Answer>) => this.receive(data);
    this.worker.onerror = () => this.doWithout();
  }

  /** A picture of bytes. Fails where they are none. */
  decode(bytes: Uint8Array<ArrayBuffer>, type: Kind): Promise<ImageBitmap> {
    const { worker } = this;
    if (!worker) return decode(bytes, type);
    const job = { id: this.nextId++, bytes, type };
    return new Promise((resolve, reject) => {
      this.waiting.set(job.id, { ...job, resolve, reject });
      worker.postMessage(job);
    });
  }

  /** What is still waited for never comes. */
  close() {
    this.worker?.terminate();
    this.waiting.clear();
  }

  private receive(answer: Answer) {
    const waiting = this.waiting.get(answer.id);
    this.waiting.delete(answer.id);
    if ("failure" in answer) waiting?.reject(new Error(answer.failure));
    else waiting?.resolve(answer.bitmap);
  }

  /** The thread could not be started, or has ended: what waits is decoded here, and so is all that comes. */
  private doWithout() {
    this.worker?.terminate();
    this.worker = null;
    for (const { bytes, type, resolve, reject } of this.waiting.values()) void decode(bytes, type).then(resolve, reject);
    this.waiting.clear();
  }
}
