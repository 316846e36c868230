/** The picture: what of it is wanted, what is on screen, and the one live channel that brings it. */
import { createStore, type StoreApi } from "zustand/vanilla";

import type { View } from "../../api/types";
import type { Engine } from "../engine";
import { Painter } from "./painter";
import { Viewport } from "./viewport";

export type Compare = "off" | "wipe" | "side";
export type ScopeKind = "waveform" | "parade" | "vectorscope" | "histogram";
export type ScopeOf = "result" | "source" | "inside" | "outside";
export type PixelReport = { hex: string; hue: number; chroma: number; lightness: number; matte: number | null };

export type StageState = {
  show: View;
  compare: Compare;
  /** The saved state that the picture is compared with, in place of the source. */
  against: { revision: number; name: string } | null;
  wipe: number;
  /** Held to see the source. */
  peek: boolean;
  /** Show the picture up to the chosen pass instead of the finished one. */
  upTo: boolean;
  /** Show the chosen pass alone, on the source. */
  solo: boolean;
  scope: { kind: ScopeKind; of: ScopeOf; open: boolean; codes: boolean };
  scopeImage: { kind: ScopeKind; bitmap: ImageBitmap } | null;
  /** Where the pointer is in the picture, 0-1. */
  pointer: { x: number; y: number } | null;
  /** A selection of the moment whose pixels are hatched: what lies under the pointer in the census. */
  lit: ({ id: string } & Record<string, unknown>) | null;
  pixel: PixelReport | null;
  coverage: number | null;
  busySince: number | null;
  /** The final picture is on screen and everything about it is measured. */
  settled: boolean;
  /** The first picture has arrived; everything less urgent waits for it. */
  begun: boolean;
  /** Why there is no picture of what is asked for. */
  failure: string | null;
  /** The picture takes the window. */
  whole: boolean;
};

const NOTHING: Omit<StageState, "scope"> = {
  show: "result",
  compare: "off",
  against: null,
  wipe: 0.5,
  peek: false,
  upTo: false,
  solo: false,
  scopeImage: null,
  pointer: null,
  lit: null,
  pixel: null,
  coverage: null,
  busySince: null,
  settled: false,
  begun: false,
  failure: null,
  whole: false,
};

const SCOPE: StageState["scope"] = { kind: "waveform", of: "result", open: true, codes: false };

/** What is drawn on the screen: a canvas in a box. */
export class Stage {
  readonly state: StoreApi<StageState>;
  viewport: Viewport | null = null;
  private painter: Painter | null = null;
  private listeners = new Set<() => void>();

  constructor(
    private engine: () => Engine,
    kept: Partial<StageState> = {},
  ) {
    this.state = createStore<StageState>(() => ({ ...NOTHING, scope: SCOPE, ...kept }));
  }

  /** Draw on a canvas that fills a box, until the function that is given back is called. */
  attach(canvas: HTMLCanvasElement, box: HTMLElement): () => void {
    const viewport = (this.viewport = new Viewport(canvas));
    const resize = () => viewport.resize(box.clientWidth, box.clientHeight);
    const observer = new ResizeObserver(resize);
    const repaint = () => viewport.draw();
    const wheel = (e: WheelEvent) => {
      e.preventDefault();
      const at = box.getBoundingClientRect();
      viewport.zoomAt(e.clientX - at.left, e.clientY - at.top, Math.exp(-e.deltaY * 0.0016));
    };
    observer.observe(box);
    resize();
    const painter = (this.painter = new Painter(viewport, this.engine()));
    viewport.onChange = () => {
      painter.refresh();
      this.tellGeometry();
    };
    box.addEventListener("wheel", wheel, { passive: false });
    window.addEventListener("resize", repaint);
    this.tellGeometry();
    return () => {
      window.removeEventListener("resize", repaint);
      box.removeEventListener("wheel", wheel);
      observer.disconnect();
      painter.dispose();
      viewport.dispose();
      this.painter = this.viewport = null;
      this.tellGeometry();
    };
  }

  /** Called when zoom, pan or size have changed. */
  onGeometry(listener: () => void): () => void {
    this.listeners.add(listener);
    return () => void this.listeners.delete(listener);
  }

  private tellGeometry() {
    for (const listener of this.listeners) listener();
  }

  play(speed = 1) {
    this.painter?.player.play(speed);
  }

  pause() {
    this.painter?.player.pause();
  }

  /** Report the pixel at x, y (0-1) of the picture, or of the one it is compared with. */
  probe(x: number, y: number, before: boolean) {
    this.painter?.probe(x, y, before);
  }

  /** Ask once more for a picture that could not be made. */
  again() {
    this.painter?.refresh(true);
  }

  /** Fit, or one footage pixel to one screen pixel. */
  zoomToggle() {
    if (this.viewport?.zoom) this.viewport.fit();
    else this.viewport?.zoomTo(100);
  }

  showScope(kind: ScopeKind, bitmap: ImageBitmap) {
    const old = this.state.getState().scopeImage;
    this.state.setState({ scopeImage: { kind, bitmap } });
    old?.bitmap.close();
    performance.mark("wenditas-scope");
  }
}
