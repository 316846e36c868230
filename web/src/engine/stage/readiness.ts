/** Which frames of the view are rendered already: asked for now and then, until all that will be rendered ahead is. */
import type { Film } from "../scene";
import type { Ready } from "../timeline";
import type { Live } from "./live";
import { scopeEvery, scopeOf } from "./want";

const EVERY = 700; // ms between two looks
const FRAME = 2; // and more for each frame that there is: so many are looked at
const LONG = 300; // frames from which that is much
const PLAYING = 4; // times as seldom while it plays, when the processor has better to do

export class Readiness {
  private timer = window.setInterval(() => this.due(), EVERY);
  private rounds = 0;
  private key = "";
  private place = "";
  private asked: number | null = null; // a question that is not answered yet
  private over = false; // nothing more will become ready by itself

  constructor(
    private live: Live,
    private scene: Film,
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

  private due() {
    const { timeline, now } = this.scene;
    const rounds = timeline.length <= LONG ? 1 : Math.ceil(((timeline.length * FRAME) / EVERY) * (now.playing ? PLAYING : 1));
    if (++this.rounds < rounds) return;
    this.rounds = 0;
    this.look();
  }

  private look() {
    const { scene } = this;
    const state = scene.now;
    if (scene.document.state.getState().draft.length || state.lit || window.document.hidden) return;
    const { first, last } = scene.timeline.ends;
    const view = { ...scene.want(this.width()), ...scopeOf(state), every: scopeEvery(scene.timeline.rate), first, last };
    const key = JSON.stringify({ ...view, frame: 0 });
    if (key !== this.key) {
      this.again();
      this.key = key;
      if (state.ready) scene.timeline.set({ ready: null });
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
    this.scene.timeline.set({ ready: { stretches, more, proxy } });
  }
}
