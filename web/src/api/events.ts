/** The server's events, and whether it can be reached. */
import { create } from "zustand";

export type ServerEvent = { kind: "project" | "shot" | "export" | "shelf" | "takes"; id: string; revision?: number };
type Listener = (event: ServerEvent) => void;

export const useConnection = create<{ online: boolean; everOnline: boolean }>(() => ({ online: true, everOnline: false }));

const listeners = new Set<Listener>();
const waiters = new Set<() => void>();

export function onServerEvent(listener: Listener): () => void {
  listeners.add(listener);
  return () => listeners.delete(listener);
}

/** Resolves when the server answers again (at once while it does). */
export function whenOnline(): Promise<void> {
  if (useConnection.getState().online) return Promise.resolve();
  return new Promise((resolve) => waiters.add(resolve));
}

export function markOffline() {
  useConnection.setState({ online: false });
}

export function connect(onBack: () => void) {
  const source = new EventSource("/api/events");
  source.onopen = () => {
    const { online, everOnline } = useConnection.getState();
    useConnection.setState({ online: true, everOnline: true });
    for (const resolve of waiters) resolve();
    waiters.clear();
    if (!online && everOnline) onBack();
  };
  source.onerror = () => {
    markOffline();
    if (source.readyState === EventSource.CLOSED) setTimeout(() => connect(onBack), 2000);
  };
  source.onmessage = (message) => {
    const event = JSON.parse(message.data) as ServerEvent;
    for (const listener of listeners) listener(event);
  };
}
