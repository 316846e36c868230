/** The picture on its canvas: zoom, pan, wipe, side by side. Drawing only; it knows nothing of shots. */
export type Geometry = { scale: number; x: number; y: number };
export type Layout = "one" | "wipe" | "side";

const MOST = 16;

export class Viewport {
  private after: ImageBitmap | null = null;
  private before: ImageBitmap | null = null;
  layout: Layout = "one";
  wipe = 0.5;
  /** While playing: a cheaper scaling. */
  quick = false;
  /** Size of the footage; bitmaps may be smaller previews of it. */
  size = { width: 16, height: 9 };
  /** null: fitted. Otherwise canvas pixels per footage pixel, and where the picture's corner lies. */
  zoom: Geometry | null = null;
  onChange: () => void = () => {};
  private queued = false;

  constructor(readonly canvas: HTMLCanvasElement) {}

  /** Show another picture; the one before is given back. */
  setAfter(bitmap: ImageBitmap | null) {
    if (this.after !== bitmap) this.after?.close();
    this.after = bitmap;
  }

  /** Show another picture to compare with. */
  setBefore(bitmap: ImageBitmap | null) {
    if (this.before !== bitmap) this.before?.close();
    this.before = bitmap;
  }

  dispose() {
    this.setAfter(null);
    this.setBefore(null);
  }

  /** Canvas pixels per CSS pixel. */
  get density() {
    return window.devicePixelRatio || 1;
  }

  private get pane() {
    const width = this.layout === "side" ? Math.floor((this.canvas.width - 4 * this.density) / 2) : this.canvas.width;
    return { width, height: this.canvas.height };
  }

  /** Where the second of two pictures side by side begins. */
  private get offset() {
    return this.canvas.width - this.pane.width;
  }

  /** Where the picture lies. Its corner is on a whole pixel of the screen: half a pixel off, it would be smeared over two. */
  get geometry(): Geometry {
    const { scale, x, y } = this.zoom ?? this.fitted;
    return { scale, x: Math.round(x), y: Math.round(y) };
  }

  private get fitted(): Geometry {
    const { width, height } = this.pane;
    const scale = Math.min(width / this.size.width, height / this.size.height);
    return { scale, x: (width - this.size.width * scale) / 2, y: (height - this.size.height * scale) / 2 };
  }

  /** Size in pixels of the screen. */
  resize(w: number, h: number) {
    if (this.canvas.width === w && this.canvas.height === h) return;
    this.canvas.width = w;
    this.canvas.height = h;
    this.changed();
  }

  changed() {
    this.onChange();
    this.draw();
  }

  /** From a pointer position (CSS pixels in the canvas) to the picture, 0-1; null outside it. */
  toPicture(cssX: number, cssY: number): { x: number; y: number } | null {
    const { scale, x, y } = this.geometry;
    let px = cssX * this.density;
    if (this.layout === "side" && px > this.offset) px -= this.offset;
    const u = (px - x) / (scale * this.size.width);
    const v = (cssY * this.density - y) / (scale * this.size.height);
    return u >= 0 && u < 1 && v >= 0 && v < 1 ? { x: u, y: v } : null;
  }

  /** Zoom by a factor, keeping what is under the pointer where it is. */
  zoomAt(cssX: number, cssY: number, factor: number) {
    const { scale, x, y } = this.zoom ?? this.fitted;
    const least = Math.min(this.pane.width / this.size.width, this.pane.height / this.size.height) * 0.5;
    const next = Math.min(Math.max(scale * factor, least), MOST);
    const [px, py] = [cssX * this.density, cssY * this.density];
    this.zoom = { scale: next, x: px - ((px - x) / scale) * next, y: py - ((py - y) / scale) * next };
    this.changed();
  }

  /** One footage pixel to `percent` / 100 pixels of the screen, whatever its density, around the middle. */
  zoomTo(percent: number) {
    const { width, height } = this.canvas;
    this.zoomAt(width / this.density / 2, height / this.density / 2, percent / 100 / this.geometry.scale);
  }

  fit() {
    this.zoom = null;
    this.changed();
  }

  pan(dx: number, dy: number) {
    const { scale, x, y } = this.zoom ?? this.fitted;
    this.zoom = { scale, x: x + dx * this.density, y: y + dy * this.density };
    this.changed();
  }

  /** Where the wipe line lies, in CSS pixels of the canvas. */
  get wipeX() {
    const { scale, x } = this.geometry;
    return (x + this.wipe * scale * this.size.width) / this.density;
  }

  /** Whether a place on the canvas shows the picture before. */
  isBefore(cssX: number) {
    return this.layout === "wipe" ? cssX < this.wipeX : this.layout === "side" && cssX * this.density < this.pane.width;
  }

  /** The wipe position, 0-1 across the picture, for a place on the canvas. */
  wipeAt(cssX: number) {
    const { scale, x } = this.geometry;
    return Math.min(Math.max((cssX * this.density - x) / (scale * this.size.width), 0), 1);
  }

  draw() {
    if (this.queued) return;
    this.queued = true;
    requestAnimationFrame(() => {
      this.queued = false;
      this.paint();
    });
  }

  private paint() {
    const context = this.canvas.getContext("2d")!;
    const { width, height } = this.canvas;
    context.fillStyle = getComputedStyle(this.canvas).getPropertyValue("--surround");
    context.fillRect(0, 0, width, height);
    const place = this.geometry;
    const size = { x: place.x, y: place.y, width: place.scale * this.size.width, height: place.scale * this.size.height };
    this.canvas.dataset.place = JSON.stringify(size); // where the picture lies on the canvas
    if (!this.after) return;
    if (this.layout === "side") {
      this.paintPane(context, this.before, 0, this.pane.width, 0);
      this.paintPane(context, this.after, this.offset, this.pane.width, this.offset);
      return;
    }
    this.paintPane(context, this.after, 0, width, 0);
    if (this.layout === "wipe" && this.before) {
      const x = this.wipeX * this.density;
      this.paintPane(context, this.before, 0, x, 0);
      context.fillStyle = "#ffffff";
      context.fillRect(Math.round(x - this.density / 2), 0, Math.max(1, Math.round(this.density)), height);
    }
  }

  private paintPane(context: CanvasRenderingContext2D, bitmap: ImageBitmap | null, left: number, width: number, offset: number) {
    if (!bitmap) return;
    const { scale, x, y } = this.geometry;
    context.save();
    context.beginPath();
    context.rect(left, 0, width, this.canvas.height);
    context.clip();
    const [w, h] = [this.size.width * scale, this.size.height * scale];
    // A picture of the very size that is shown is drawn pixel for pixel.
    if (Math.abs(bitmap.width - w) < 1 && Math.abs(bitmap.height - h) < 1) context.drawImage(bitmap, x + offset, y);
    else {
      context.imageSmoothingEnabled = scale * (this.size.width / bitmap.width) < 3;
      context.imageSmoothingQuality = this.quick ? "low" : "high";
      context.drawImage(bitmap, x + offset, y, w, h);
    }
    context.restore();
  }
}
