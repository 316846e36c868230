/**
 * Keeps the viewport showing what the Bench asks for: at once over the live channel while something moves,
 * then lossless when it rests. The picture never goes blank while a new one is on its way.
 */
import { decode } from "./decode";
import { Live, type Picture } from "./live";
import { Player } from "./player";
import { Readiness } from "./readiness";
import { bench, setBench, showScope, useBench, type PixelReport, type Ready } from "./store";
import type { Viewport } from "./viewport";
import { beforeOf, scopeOf, wantOf, type Want } from "./want";

const WIDTHS = [480, 720, 960, 1280, 1920, 2560, 3840];
const REST = 140; // ms without a change before the lossless picture is fetched

export class Painter {
  readonly live: Live;
  readonly player: Player;
  private readiness: Readiness;
  private timer = 0;
  private shown = "";
  private sequence = 0;
  private lossless = false; // the picture of this sequence is final
  private unsubscribe: () => void;

  constructor(
    private viewport: Viewport,
    private shot: string,
  ) {
    this.live = new Live(shot, {
      picture: (p) => (p.kind === "play" ? this.player.receive(p) : void this.receive(p)),
      pixel: (answer) => setBench({ pixel: answer as unknown as PixelReport }),
      ready: (answer) => this.readiness.receive(answer.id, answer as unknown as Ready),
      failed: (id) => this.player.failed(id),
      open: () => {
        this.player.again();
        this.readiness.again();
        this.refresh(true);
      },
    });
    this.player = new Player(this.live, viewport, () => this.width);
    this.readiness = new Readiness(this.live, () => this.width);
    viewport.onChange = () => this.refresh();
    this.unsubscribe = useBench.subscribe(() => this.refresh());
    this.refresh();
  }

  dispose() {
    window.clearTimeout(this.timer);
    this.unsubscribe();
    this.player.dispose();
    this.readiness.dispose();
    this.live.close();
  }

  /** Width of preview that the zoom needs: exactly what is shown when fitted, else the next larger of a few. */
  get width() {
    const { scale } = this.viewport.geometry;
    const needed = Math.min(scale, 1) * this.viewport.size.width;
    if (!this.viewport.zoom) return Math.max(16, Math.round(needed));
    return WIDTHS.find((w) => w >= needed * 0.98) ?? 100_000;
  }

  private get comparing() {
    const { compare, show } = bench();
    return compare !== "off" && show !== "source";
  }

  refresh(force = false) {
    const state = bench();
    if (!state.view || state.view.shot.id !== this.shot) return;
    const { facts } = state.view.footage;
    this.viewport.size = { width: facts.width, height: facts.height };
    const layout = state.compare === "off" ? "one" : state.compare;
    if (this.viewport.layout !== layout || (layout === "wipe" && this.viewport.wipe !== state.wipe)) {
      this.viewport.layout = layout;
      this.viewport.wipe = state.wipe;
      this.viewport.draw();
    }
    this.viewport.quick = state.playing;
    if (state.playing) {
      window.clearTimeout(this.timer);
      this.shown = "";
      this.player.refresh();
      return;
    }
    const want = wantOf(state, this.width)!;
    const key = JSON.stringify([want, state.draft, this.comparing, state.lit, state.against, scopeOf(state)]);
    if (key === this.shown && !force) return;
    this.shown = key;
    this.sequence++;
    this.lossless = false;
    setBench({ settled: false, busySince: bench().busySince ?? performance.now() });
    if (state.lit) {
      this.live.newest({ kind: "look", ...want, patch: [{ op: "add", path: "/look/selections/-", value: state.lit }], view: "hatched", selection: state.lit.id });
      window.clearTimeout(this.timer);
      return;
    }
    this.live.newest({ kind: "look", patch: state.draft, ...want, ...scopeOf(state) });
    if (this.comparing) this.live.newest({ kind: "before", ...beforeOf(want) });
    window.clearTimeout(this.timer);
    this.timer = window.setTimeout(() => void this.rest(want), REST);
  }

  private async receive({ kind, jpeg, scope }: Picture) {
    if (kind === "scope") {
      const drawn = scope && (await decode(scope.png, "image/png"));
      if (drawn && !bench().playing) showScope(scope.kind, drawn);
      return;
    }
    const bitmap = await decode(jpeg, "image/jpeg");
    if (bench().playing || this.lossless) return;
    if (kind === "before") this.viewport.before = bitmap;
    else this.viewport.after = bitmap;
    if (kind === "look") {
      setBench({ busySince: null, begun: true });
      performance.mark("wenditas-shown");
    }
    this.viewport.draw();
  }

  /** Replace what came over the live channel by the lossless picture, and measure the matte. */
  private async rest(want: Want) {
    if (bench().draft.length || bench().playing) return;
    const sequence = this.sequence;
    const current = () => sequence === this.sequence && !bench().playing;
    try {
      const [after, before] = await Promise.all([this.fetch(want), this.comparing ? this.fetch(beforeOf(want)) : null]);
      if (!current()) return;
      this.viewport.after = after;
      if (before) this.viewport.before = before;
      this.lossless = true;
      setBench({ busySince: null, begun: true });
      this.viewport.draw();
      await this.measure(want);
      if (current()) setBench({ settled: true });
    } catch {
      // The live picture stays; the next change or the reconnection tries again.
    }
  }

  private url(want: Want) {
    const query = new URLSearchParams({ width: String(want.width), view: want.view });
    if (want.selection) query.set("selection", want.selection);
    if (want.upto !== null) query.set("upto", String(want.upto));
    if (want.alone !== null) query.set("alone", want.alone);
    return `/api/shots/${this.shot}/pictures/${want.revision}/${want.frame}.png?${query}`;
  }

  private async fetch(want: Want): Promise<ImageBitmap> {
    const response = await fetch(this.url(want));
    if (!response.ok) throw new Error(`picture: ${response.status}`);
    return createImageBitmap(await response.blob());
  }

  private async measure(want: Want) {
    if (!want.selection) return setBench({ coverage: null });
    const response = await fetch(`/api/shots/${this.shot}/coverage/${want.revision}/${want.frame}?selection=${want.selection}`);
    if (response.ok) setBench({ coverage: (await response.json()) as number });
  }

  /** Report the pixel at x, y (0-1) of the picture, or of the one it is compared with. */
  probe(x: number, y: number, before: boolean) {
    const want = wantOf(bench(), this.width);
    if (want && !bench().playing) this.live.newest({ kind: "pixel", patch: before ? [] : bench().draft, ...(before ? beforeOf(want) : want), x, y });
  }
}
