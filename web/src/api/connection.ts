/** The server's events, and whether it can be reached: any answer says that it can. */
import { createStore, type StoreApi } from "zustand/vanilla";

export type ServerEvent = { kind: "project" | "shot" | "reel" | "export" | "shelf" | "takes" | "palettes"; id: string; revision?: number };
type Listener = (event: ServerEvent) => void;
type Timers = { setTimeout(work: () => void, ms: number): unknown };

const AGAIN = 2000; // ms until the events are asked for again after they were refused
const PROBE = 1000; // ms between two questions whether it answers, while it does not

export class Connection {
  readonly state: StoreApi<{ online: boolean; everOnline: boolean }> = createStore(() => ({ online: true, everOnline: false }));
  private listeners = new Set<Listener>();
  private waiters = new Set<() => void>();
  private probing = false;
  private onBack: () => void = () => undefined;

  /** probe: asks the server for anything, and resolves when it answers, whatever it says. */
  constructor(
    private probe: () => Promise<unknown> = () => fetch("/api/projects", { cache: "no-store" }),
    private timers: Timers = { setTimeout: (work, ms) => window.setTimeout(work, ms) },
  ) {}

  onEvent(listener: Listener): () => void {
    this.listeners.add(listener);
    return () => void this.listeners.delete(listener);
  }

  get online() {
    return this.state.getState().online;
  }

  /** There was no answer. Until there is one, it is asked for again and again. */
  lost() {
    if (this.online) this.state.setState({ online: false });
    if (!this.probing) this.ask();
    this.probing = true;
  }

  private ask() {
    this.timers.setTimeout(() => {
      if (this.online) return void (this.probing = false);
      this.probe().then(
        () => {
          this.probing = false;
          this.answered();
        },
        () => this.ask(),
      );
    }, PROBE);
  }

  /** There was an answer. */
  answered() {
    const { online, everOnline } = this.state.getState();
    if (online && everOnline) return;
    this.state.setState({ online: true, everOnline: true });
    for (const resolve of this.waiters) resolve();
    this.waiters.clear();
    if (!online && everOnline) this.onBack();
  }

  /** Resolves when the server answers again (at once while it does). */
  back(): Promise<void> {
    if (this.online) return Promise.resolve();
    return new Promise((resolve) => this.waiters.add(resolve));
  }

  /** Follow the server's events for as long as the page is there. onBack: called when it answers again. */
  follow(onBack: () => void) {
    this.onBack = onBack;
    this.listen();
  }

  private listen() {
    const source = new EventSource("/api/events");
    source.onopen = () => this.answered();
    source.onerror = () => {
      this.lost();
      if (source.readyState === EventSource.CLOSED) this.timers.setTimeout(() => this.listen(), AGAIN);
    };
    source.onmessage = (message) => {
      const event = JSON.parse(message.data) as ServerEvent;
      for (const listener of this.listeners) listener(event);
    };
  }
}
