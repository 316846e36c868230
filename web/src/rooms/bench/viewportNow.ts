/** The viewport on screen, for the parts of the Bench that draw or act on it. */
import type { Viewport } from "../../editor/viewport";

let viewport: Viewport | null = null;
const listeners = new Set<() => void>();

export const viewportNow = () => viewport;

export function setViewport(next: Viewport | null) {
  viewport = next;
  tellGeometry();
}

/** Say that zoom, pan or size have changed. */
export function tellGeometry() {
  for (const listener of listeners) listener();
}

export function listenToGeometry(listener: () => void): () => void {
  listeners.add(listener);
  return () => void listeners.delete(listener);
}
