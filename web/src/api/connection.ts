/** The server's events, and whether it can be reached. */
import { createStore, type StoreApi } from "zustand/vanilla";

export type ServerEvent = { kind: "project" | "shot" | "reel" | "export" | "shelf" | "takes" | "palettes"; id: string; revision?: number };
type Listener = (event: ServerEvent) => void;

const AGAIN = 2000; // ms until the events are asked for again after they were refused

export class Connection {
  readonly state: StoreApi<{ online: boolean; everOnline: boolean }> = createStore(() => ({ online: true, everOnline: false }));
  private listeners = new Set<Listener>();
  private waiters = new Set<() => void>();

  onEvent(listener: Listener): () => void {
    this.listeners.add(listener);
    return () => void this.listeners.delete(listener);
  }

  get online() {
    return this.state.getState().online;
  }

  lost() {
    this.state.setState({ online: false });
  }

  /** Resolves when the server answers again (at once while it does). */
  back(): Promise<void> {
    if (this.online) return Promise.resolve();
    return new Promise((resolve) => this.waiters.add(resolve));
  }

  /** Follow the server's events for as long as the page is there. onBack: called when it answers again. */
  follow(onBack: () => void) {
    const source = new EventSource("/api/events");
    source.onopen = () => {
      const { online, everOnline } = this.state.getState();
      this.state.setState({ online: true, everOnline: true });
      for (const resolve of this.waiters) resolve();
      this.waiters.clear();
      if (!online && everOnline) onBack();
    };
    source.onerror = () => {
      this.lost();
      if (source.readyState === EventSource.CLOSED) setTimeout(() => this.follow(onBack), AGAIN);
    };
    source.onmessage = (message) => {
      const event = JSON.parse(message.data) as ServerEvent;
      for (const listener of this.listeners) listener(event);
    };
  }
}
