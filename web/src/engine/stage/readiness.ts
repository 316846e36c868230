/** Which frames of the view are rendered already: asked for now and then, until all that will be rendered ahead is. */
import type { Scene } from "../scene";
import type { Ready } from "../timeline";
import type { Live } from "./live";
import { scopeEvery, scopeOf, wantOf } from "./want";

const EVERY = 700; // ms between two looks

export class Readiness {
  private timer = window.setInterval(() => this.look(), EVERY);
  private key = "";
  private place = "";
  private asked: number | null = null; // a question that is not answered yet
  private over = false; // nothing more will become ready by itself

  constructor(
    private live: Live,
    private scene: Scene,
    private width: () => number,
  ) {}

  dispose() {
    window.clearInterval(this.timer);
  }

  /** The connection is back. */
  again() {
    this.over = false;
    this.asked = null;
  }

  private look() {
    const { scene } = this;
    const state = scene.now;
    if (scene.document.state.getState().draft.length || state.lit || window.document.hidden) return;
    const { first, last } = scene.timeline.ends;
    const view = { ...wantOf(scene, this.width()), ...scopeOf(state), every: scopeEvery(scene.timeline.rate), first, last };
    const key = JSON.stringify({ ...view, frame: 0 });
    if (key !== this.key) {
      this.again();
      this.key = key;
      if (state.ready) scene.put({ ready: null });
    }
    // Moved by hand, the playhead may want other frames ahead of it; in playing all frames come by.
    const place = state.playing ? "" : `${state.frame}`;
    if (this.asked !== null || (this.over && place === this.place && !state.playing)) return;
    this.place = place;
    this.asked = this.live.send({ kind: "ready", ...view });
  }

  receive(id: number, { stretches, more, proxy }: Ready) {
    if (id !== this.asked) return;
    this.asked = null;
    this.over = !more && proxy.state !== "making" && proxy.state !== "waiting";
    this.scene.put({ ready: { stretches, more, proxy } });
  }
}
