/** Playback: renders ahead, drops frames rather than drift, sound in step with the picture. */
import type { Live } from "./live";
import { beforeOf, wantOf } from "./painter";
import { bench, documentOf, rateOf, setBench } from "./store";
import type { Viewport } from "./viewport";

const AHEAD = 14; // frames asked for beyond the one on screen
const START = 4; // frames that must be there before the clock starts
const TELL = 400; // ms between two reports of the rate reached
const DRIFT = 0.09; // seconds the sound may be off before it is put right

export class Player {
  private frames = new Map<number, { after?: ImageBitmap; before?: ImageBitmap }>();
  private asked = new Map<number, { frame: number; before: boolean }>();
  private key = "";
  private next = 0; // steps (frames played, in order) asked for so far
  private origin = 0; // performance time of step 0
  private started = false;
  private from = 0;
  private lastStep = -1;
  private raf = 0;
  private drawn: number[] = []; // when the frames of the last second were drawn
  private told = 0;
  private audio: HTMLAudioElement | null = null;

  constructor(
    private live: Live,
    private viewport: Viewport,
    private width: () => number,
  ) {}

  dispose() {
    cancelAnimationFrame(this.raf);
    this.audio?.pause();
    this.live.send({ kind: "clear" });
  }

  play(speed = 1) {
    const { view, frame } = bench();
    const document = documentOf(bench());
    if (!view || !document) return;
    const atEnd = speed > 0 ? frame >= document.last : frame <= document.first;
    const start = atEnd || frame < document.first || frame > document.last ? (speed > 0 ? document.first : document.last) : frame;
    setBench({ playing: true, speed, frame: start });
    this.restart(start);
    cancelAnimationFrame(this.raf);
    this.raf = requestAnimationFrame(this.tick);
  }

  pause() {
    cancelAnimationFrame(this.raf);
    this.audio?.pause();
    this.live.send({ kind: "clear" });
    this.frames.clear();
    this.asked.clear();
    this.key = "";
    setBench({ playing: false, reached: 0 });
  }

  /** Called on every change of the Bench while playing: a changed look or view starts afresh from the frame on screen. */
  refresh() {
    if (!bench().playing) return;
    if (this.keyNow() !== this.key) this.restart(bench().frame);
  }

  private keyNow() {
    const state = bench();
    const want = wantOf(state, this.width());
    return JSON.stringify([{ ...want, frame: 0 }, state.draft, state.compare !== "off", state.against, state.speed]);
  }

  private restart(frame: number) {
    this.key = this.keyNow();
    this.live.send({ kind: "clear" });
    this.frames.clear();
    this.asked.clear();
    this.next = 0;
    this.lastStep = -1;
    this.from = frame;
    this.started = false;
    this.drawn = [];
    this.audio?.pause();
  }

  /** The frame of step n, going round where looping; null where it is over. */
  private frameOf(step: number): number | null {
    const { speed, loop } = bench();
    const { first, last } = documentOf(bench())!;
    const length = last - first + 1;
    const offset = speed > 0 ? this.from - first + Math.floor(step * speed) : last - this.from + Math.floor(step * -speed);
    if (!loop && offset >= length) return null;
    const wrapped = offset % length;
    return speed > 0 ? first + wrapped : last - wrapped;
  }

  private ask(current: number) {
    const state = bench();
    const want = wantOf(state, this.width())!;
    if (this.next <= current) this.next = current + 2; // late: skip what could not be shown any more
    for (; this.next <= current + AHEAD; this.next++) {
      const frame = this.frameOf(this.next);
      if (frame === null) break;
      this.asked.set(this.live.send({ kind: "play", patch: state.draft, ...want, frame }), { frame: this.next, before: false });
      if (state.compare !== "off" && want.view !== "source")
        this.asked.set(this.live.send({ kind: "play", ...beforeOf(want), frame }), { frame: this.next, before: true });
    }
  }

  receive(id: number, blob: Blob) {
    const asked = this.asked.get(id);
    if (!asked) return;
    this.asked.delete(id);
    void createImageBitmap(blob).then((bitmap) => {
      if (asked.frame <= this.lastStep) return bitmap.close();
      const entry = this.frames.get(asked.frame) ?? {};
      entry[asked.before ? "before" : "after"] = bitmap;
      this.frames.set(asked.frame, entry);
    });
  }

  private tick = (now: number) => {
    const { view, playing } = bench();
    if (!playing || !view) return;
    this.raf = requestAnimationFrame(this.tick);
    const rate = rateOf(view);
    if (!this.started) {
      this.ask(-1);
      const enough = this.frames.size >= Math.min(START, (this.frameOf(START) === null ? 1 : START));
      if (!enough) return;
      this.started = true;
      this.origin = now;
      this.startSound(rate);
    }
    const step = Math.floor(((now - this.origin) / 1000) * rate);
    if (this.frameOf(step) === null) {
      setBench({ frame: documentOf(bench())![bench().speed > 0 ? "last" : "first"] });
      return this.pause();
    }
    this.ask(step);
    this.show(step, now);
    this.keepSound(step, rate);
  };

  private show(step: number, now: number) {
    const ready = [...this.frames.keys()].filter((n) => n <= step && n > this.lastStep).sort((a, b) => b - a)[0];
    if (ready === undefined) return;
    const entry = this.frames.get(ready)!;
    if (!entry.after) return;
    for (const n of this.frames.keys()) if (n <= ready) this.frames.delete(n);
    this.lastStep = ready;
    this.viewport.after = entry.after;
    if (entry.before) this.viewport.before = entry.before;
    this.viewport.draw();
    this.drawn = [...this.drawn.filter((t) => now - t < 1000), now];
    const frame = this.frameOf(ready)!;
    if (now - this.told > TELL) {
      this.told = now;
      const seconds = (now - this.drawn[0]!) / 1000;
      setBench({ frame, reached: seconds > 0.3 ? (this.drawn.length - 1) / seconds : 0 });
    } else {
      setBench({ frame });
    }
  }

  private startSound(rate: number) {
    const { view, sound, speed } = bench();
    if (!view?.footage.facts.sound || speed !== 1) return;
    const source = `/api/footage/${view.footage.id}/sound.webm`;
    if (!this.audio || !this.audio.src.endsWith(source)) this.audio = new Audio(source);
    this.audio.muted = !sound;
    this.audio.currentTime = this.from / rate;
    void this.audio.play().catch(() => undefined);
  }

  private keepSound(step: number, rate: number) {
    const { sound, speed } = bench();
    const audio = this.audio;
    if (!audio || audio.paused || speed !== 1) return;
    audio.muted = !sound;
    const elapsed = (performance.now() - this.origin) / 1000;
    const wanted = this.frameOf(step)! / rate + (elapsed - step / rate);
    if (!audio.seeking && Math.abs(audio.currentTime - wanted) > DRIFT) audio.currentTime = wanted;
  }
}
