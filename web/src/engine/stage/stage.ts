/** The picture: what of it is wanted, what is on screen, and the one live channel that brings it. */
import type { Film } from "../scene";
import { Slice } from "../slice";
import { Painter } from "./painter";
import { NOTHING, SCOPE, type ScopeKind, type StageState } from "./state";
import { Viewport, type Geometry } from "./viewport";

/** What is drawn on the screen: a canvas in a box. */
export class Stage extends Slice<StageState> {
  viewport: Viewport | null = null;
  private painter: Painter | null = null;
  /** How the picture lies: kept while there is no canvas. */
  zoom: Geometry | null = null;
  private listeners = new Set<() => void>();

  constructor(
    private scene: () => Film,
    kept: Partial<StageState> = {},
  ) {
    super({ ...NOTHING, scope: SCOPE, ...kept });
  }

  /** Draw on a canvas that fills a box, until the function that is given back is called. */
  attach(canvas: HTMLCanvasElement, box: HTMLElement): () => void {
    const viewport = (this.viewport = new Viewport(canvas));
    const resize = (entries?: ResizeObserverEntry[]) => {
      const exact = entries?.at(-1)?.devicePixelContentBoxSize?.[0]; // in pixels of the screen, where the browser tells them
      if (exact) viewport.resize(exact.inlineSize, exact.blockSize);
      else viewport.resize(Math.round(box.clientWidth * viewport.density), Math.round(box.clientHeight * viewport.density));
    };
    const observer = new ResizeObserver(resize);
    const repaint = () => viewport.draw();
    const wheel = (e: WheelEvent) => {
      e.preventDefault();
      const at = box.getBoundingClientRect();
      viewport.zoomAt(e.clientX - at.left, e.clientY - at.top, Math.exp(-e.deltaY * 0.0016));
    };
    try {
      observer.observe(box, { box: "device-pixel-content-box" });
    } catch {
      observer.observe(box);
    }
    resize();
    viewport.zoom = this.zoom;
    const painter = (this.painter = new Painter(viewport, this.scene(), this.state, (kind, bitmap) => this.showScope(kind, bitmap)));
    viewport.onChange = () => {
      this.zoom = viewport.zoom;
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

  /** Render from in to out, then play. */
  fill() {
    this.painter?.player.fill();
  }

  stopFilling() {
    this.painter?.player.stopFilling();
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

  /** Compare so, or no more. */
  compareBy(how: "wipe" | "side") {
    this.set(this.now.compare === how ? { compare: "off", against: null, instead: null } : { compare: how });
  }

  private showScope(kind: ScopeKind, bitmap: ImageBitmap) {
    const old = this.now.scopeImage;
    this.set({ scopeImage: { kind, bitmap } });
    old?.bitmap.close();
    performance.mark("wenditas-scope");
  }
}
