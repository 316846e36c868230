/** Small pictures, the ones nearest the middle of the view first, a few at a time; what has gone out of view is given up. */
const AT_ONCE = 3;

/** What has come of a picture: itself, or why there is none. */
export type Got = Blob | { wrong: string };
type Wanted = { url: string; far: () => number; done: (got: Got) => void };

export class Loader {
  private waiting = new Set<Wanted>();
  private running = new Map<Wanted, AbortController>();

  constructor(private fetching: (url: string, init: { signal: AbortSignal }) => Promise<Response>) {}

  /** Load a picture; `far` tells how far from the middle of the view it lies now. Returns how it is given up. */
  want(url: string, far: () => number, done: (got: Got) => void): () => void {
    const wanted = { url, far, done };
    this.waiting.add(wanted);
    queueMicrotask(() => this.next());
    return () => {
      this.waiting.delete(wanted);
      this.running.get(wanted)?.abort();
    };
  }

  private next() {
    while (this.running.size < AT_ONCE && this.waiting.size) {
      const [first] = [...this.waiting].sort((a, b) => a.far() - b.far());
      void this.load(first!);
    }
  }

  private async load(wanted: Wanted) {
    const stop = new AbortController();
    this.waiting.delete(wanted);
    this.running.set(wanted, stop);
    try {
      const response = await this.fetching(wanted.url, { signal: stop.signal });
      wanted.done(response.ok ? await response.blob() : { wrong: await whyNot(response) });
    } catch {
      if (!stop.signal.aborted) wanted.done({ wrong: "The server does not answer." });
    } finally {
      this.running.delete(wanted);
      this.next();
    }
  }
}

/** The sentence that the server gives, or what there is of one. */
async function whyNot(response: Response): Promise<string> {
  try {
    const { message } = (await response.json()) as { message?: string };
    if (message) return message;
  } catch {
    // It is no answer of the server's own.
  }
  return `It could not be rendered (${response.status}).`;
}
