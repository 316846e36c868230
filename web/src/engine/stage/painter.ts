/**
 * Keeps the viewport showing what the Bench asks for: at once over the live channel while something moves,
 * then lossless when it rests. The picture never goes blank while a new one is on its way; one that could not be made says why.
 */
import type { StoreApi } from "zustand/vanilla";

import type { Film } from "../scene";
import type { Ready } from "../timeline";
import { decode } from "./decode";
import { Live, type Picture } from "./live";
import { Player } from "./player";
import { Readiness } from "./readiness";
import type { PixelReport, ScopeKind, StageState } from "./state";
import type { Viewport } from "./viewport";
import type { Want } from "./state";
import { scopeOf } from "./want";

const WIDTHS = [480, 720, 960, 1280, 1920, 2560, 3840];
const REST = 140; // ms without a change before the lossless picture is fetched

export class Painter {
  readonly live: Live;
  readonly player: Player;
  private readiness: Readiness;
  private timer = 0;
  private asked = ""; // what is on its way or on screen
  private sequence = 0;
  private lossless = false; // the picture of this sequence is final
  private resting = false; // the final picture of this sequence is on its way
  private stops: (() => void)[];

  constructor(
    private viewport: Viewport,
    private scene: Film,
    wanted: StoreApi<StageState>,
    private showScope: (kind: ScopeKind, bitmap: ImageBitmap) => void,
  ) {
    this.live = new Live(
      scene.path,
      {
        picture: (p) => (p.kind === "play" ? this.player.receive(p) : void this.receive(p)),
        pixel: (answer) => scene.stage.set({ pixel: answer as unknown as PixelReport }),
        ready: (answer) => this.readiness.receive(answer.id, answer as unknown as Ready),
        failed: (id, kind, message) => (kind === "look" ? this.fail(message) : kind === null && this.player.failed(id, message)),
        open: () => this.again(),
        refused: (reason) => this.fail(reason),
      },
      scene.around.back,
    );
    this.player = new Player(this.live, viewport, scene, () => this.width, showScope);
    this.readiness = new Readiness(this.live, scene, () => this.width);
    const look = () => this.refresh();
    this.stops = [scene.document.state, scene.timeline.state, wanted, scene.choice.state].map((store) => store.subscribe(look));
    this.refresh();
  }

  dispose() {
    window.clearTimeout(this.timer);
    this.sequence++;
    for (const stop of this.stops) stop();
    this.player.dispose();
    this.readiness.dispose();
    this.live.close();
  }

  /** Width of preview that the zoom needs: exactly what is shown when fitted, else the next larger of a few. */
  get width() {
    const { scale } = this.viewport.geometry;
    const needed = Math.min(scale, 1) * this.viewport.size.width;
    if (!this.viewport.zoom) return Math.max(16, Math.round(needed));
    return (scale < 1 && WIDTHS.find((w) => w >= needed)) || 100_000;
  }

  private get comparing() {
    const { compare, show } = this.scene.now;
    return compare !== "off" && show !== "source";
  }

  refresh(force = false) {
    const state = this.scene.now;
    this.viewport.size = this.scene.size;
    const layout = state.compare === "off" ? "one" : state.compare;
    if (this.viewport.layout !== layout || (layout === "wipe" && this.viewport.wipe !== state.wipe)) {
      this.viewport.layout = layout;
      this.viewport.wipe = state.wipe;
      this.viewport.draw();
    }
    this.viewport.quick = state.playing;
    this.player.refresh();
    if (state.playing) {
      window.clearTimeout(this.timer);
      this.resting = false;
      this.asked = "";
      return;
    }
    const want = this.scene.want(this.width);
    const { draft } = this.scene.document.state.getState();
    const key = JSON.stringify([want, draft, this.comparing, state.lit, state.against, scopeOf(state)]);
    if (key === this.asked && !force) return;
    this.asked = key;
    this.sequence++;
    this.lossless = this.resting = false;
    this.scene.stage.set({ settled: false, failure: null, busySince: state.busySince ?? performance.now() });
    window.clearTimeout(this.timer);
    const lit = this.scene.lit();
    if (lit) {
      this.live.newest({ kind: "look", ...want, commands: [...draft, lit.command], view: "hatched", selection: lit.selection });
      return;
    }
    this.ask(want);
    this.resting = true;
    this.timer = window.setTimeout(() => void this.rest(want), REST);
  }

  private ask(want: Want) {
    this.live.newest({ kind: "look", commands: this.scene.document.state.getState().draft, ...want, ...scopeOf(this.scene.now) });
    if (this.comparing) this.live.newest({ kind: "before", ...this.scene.before(want) });
  }

  /** The channel is open: what was asked for over it before is asked for again. A final picture that is on its way comes all the same. */
  private again() {
    this.player.again();
    this.readiness.again();
    if (this.resting) this.ask(this.scene.want(this.width));
    else this.refresh(true);
  }

  /** There is no picture of what is asked for; the one before stays. */
  private fail(message: string) {
    window.clearTimeout(this.timer);
    this.resting = false;
    this.scene.stage.set({ failure: message, busySince: null, begun: true });
  }

  private async receive({ kind, jpeg, scope }: Picture) {
    const { sequence } = this;
    if (kind === "scope") {
      const drawn = scope && (await decode(scope.png, "image/png"));
      if (!drawn) return;
      if (this.scene.now.playing) drawn.close();
      else this.showScope(scope.kind, drawn);
      return;
    }
    const bitmap = await decode(jpeg, "image/jpeg");
    if (this.scene.now.playing || (this.lossless && sequence === this.sequence)) return bitmap.close();
    if (kind === "before") this.viewport.setBefore(bitmap);
    else this.viewport.setAfter(bitmap);
    if (kind === "look") {
      this.scene.stage.set({ busySince: null, begun: true });
      performance.mark("wenditas-shown");
    }
    this.viewport.draw();
  }

  /** Replace what came over the live channel by the lossless picture, and measure the matte. */
  private async rest(want: Want) {
    const { sequence } = this;
    this.resting = !this.scene.document.state.getState().draft.length && !this.scene.now.playing;
    if (!this.resting) return;
    const current = () => sequence === this.sequence && !this.scene.now.playing;
    try {
      const pictures = Promise.all([this.read(want), this.comparing ? this.read(this.scene.before(want)) : null]);
      const covered = this.measure(want);
      const [after, before] = await pictures;
      if (!current()) {
        after.close();
        return before?.close();
      }
      this.viewport.setAfter(after);
      if (before) this.viewport.setBefore(before);
      this.lossless = true;
      this.scene.stage.set({ busySince: null, begun: true, failure: null });
      this.viewport.draw();
      const coverage = await covered;
      if (current()) this.scene.stage.set({ coverage, settled: true });
    } catch (error) {
      // Without an answer the live picture stays, and it is tried again once the server is back; an answer that says no is told.
      if (!current() || !(error instanceof Error)) return;
      if (this.scene.around.server.unreachable(error)) void this.scene.around.back().then(() => current() && this.refresh(true));
      else this.fail(error.message);
    } finally {
      if (sequence === this.sequence) this.resting = false;
    }
  }

  private async read(want: Want): Promise<ImageBitmap> {
    const query = new URLSearchParams({ width: String(want.width), view: want.view });
    if (want.selection) query.set("selection", want.selection);
    if (want.upto !== null) query.set("upto", String(want.upto));
    if (want.alone !== null) query.set("alone", want.alone);
    if (want.without) query.set("without", want.without);
    return createImageBitmap(await this.scene.around.server.picture(this.scene.path, want.revision, want.frame, query));
  }

  /** How much of the frame the selection covers, in percent; null where nothing is selected, or no answer is to be had. */
  private async measure(want: Want): Promise<number | null> {
    if (!want.selection) return null;
    return this.scene.around.server.coverage(this.scene.path, want.revision, want.frame, want.selection).catch(() => null);
  }

  /** Report the pixel at x, y (0-1) of the picture, or of the one it is compared with. */
  probe(x: number, y: number, before: boolean) {
    if (this.scene.now.playing) return;
    const want = this.scene.want(this.width);
    const { draft } = this.scene.document.state.getState();
    this.live.newest({ kind: "pixel", commands: before ? [] : draft, ...(before ? this.scene.before(want) : want), x, y });
  }
}
