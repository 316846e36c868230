/** Playback: renders ahead, drops frames rather than drift, sound in step with the picture. */
import type { Film } from "../scene";
import { decode } from "./decode";
import type { Ask, Live, Picture } from "./live";
import { Sound } from "./sound";
import type { ScopeKind } from "./state";
import type { Viewport } from "./viewport";
import { scopeEvery, scopeOf } from "./want";

const AHEAD = 32; // frames asked for beyond the one on screen
const FLYING = 4; // frames asked for and not yet there: enough to keep the server busy, too few to wait in its queue
const START = 4; // frames that must be there before the clock starts
const TELL = 400; // ms between two reports of the rate reached
const SEEN = 1000; // ms over which the rate is told
const LATELY = 0.3; // weight of the newest in how long a frame takes
const LATE = 2000; // ms after which what was asked for with an earlier look is not expected any more
const LEAST = 16; // pixels of width
const FAILURES = 3; // frames one after another that cannot be made, until playing stops

/** Frames between in and out that are rendered before they are played. */
type Filling = { key: string; next: number; done: number; first: number; last: number; asked: Set<number> };

/** A frame that was asked for. look: which of the looks, counted in one run, it shows. */
type Asked = { frame: number; before: boolean; at: number; size: number; look: number };

type Shown = { look: number; after?: ImageBitmap; before?: ImageBitmap; scope?: { kind: ScopeKind; bitmap: ImageBitmap } };

const closed = ({ after, before, scope }: Omit<Shown, "look">) => [after, before, scope?.bitmap].forEach((bitmap) => bitmap?.close());

export class Player {
  private frames = new Map<number, Shown>();
  private asked = new Map<number, Asked>();
  private late = new Map<number, Asked>(); // asked for before the look was changed: some of it has been begun, and comes
  private look = 0; // which of the looks is asked for
  private newest = 0; // and of which the newest picture is that has come
  private latency = 0.1; // seconds from asking for a frame to having it, lately
  private key = { course: "", look: "" };
  private next = 0; // steps (frames played, in order) asked for so far
  private origin = 0; // performance time of step 0
  private started = false;
  private from = 0;
  private lastStep = -1;
  private raf = 0;
  private drawn: number[] = []; // when the frames of the last second were drawn
  private told = 0;
  private sound = new Sound();
  private run = 0; // frames that were asked for in an earlier run do not count
  private failures = 0;
  private filling: Filling | null = null;

  constructor(
    private live: Live,
    private viewport: Viewport,
    private scene: Film,
    private width: () => number,
    private showScope: (kind: ScopeKind, bitmap: ImageBitmap) => void,
  ) {}

  dispose() {
    cancelAnimationFrame(this.raf);
    this.sound.letGo();
    this.live.send({ kind: "clear" });
    this.forget();
  }

  /** Frames that are here or on their way are not wanted any more. */
  private forget() {
    for (const entry of this.frames.values()) closed(entry);
    this.frames.clear();
    this.asked.clear();
    this.late.clear();
    this.look = this.newest = 0;
    this.run++;
  }

  /** Render all frames from in to out, those that are missing, and then play them. */
  fill() {
    this.pause();
    const { first, last } = this.scene.timeline.ends;
    this.filling = { key: JSON.stringify(this.keyNow()), next: first, done: 0, first, last, asked: new Set() };
    this.failures = 0;
    this.askMore(this.filling);
  }

  private askMore(filling: Filling) {
    const { draft } = this.scene.document.state.getState();
    while (filling.asked.size < FLYING && filling.next <= filling.last) {
      const frame = filling.next++;
      const scope = frame % scopeEvery(this.scene.timeline.rate) ? {} : scopeOf(this.scene.now);
      filling.asked.add(this.live.send({ kind: "play", bare: true, commands: draft, ...this.scene.want(this.width()), frame, ...scope }));
    }
    this.scene.timeline.set({ rendering: { done: filling.done, total: filling.last - filling.first + 1 } });
  }

  /** One more frame of those that are rendered before they are played; after the last one they are. */
  private filled(id: number): boolean {
    const { filling } = this;
    if (!filling?.asked.delete(id)) return false;
    filling.done++;
    if (filling.done <= filling.last - filling.first) this.askMore(filling);
    else {
      this.stopFilling();
      this.scene.timeline.moveTo(filling.first);
      this.play(1);
    }
    return true;
  }

  /** What is rendered stays; the rest is not waited for. */
  stopFilling() {
    if (!this.filling) return;
    this.filling = null;
    this.live.send({ kind: "clear" });
    this.scene.timeline.set({ rendering: null });
  }

  play(speed = 1) {
    this.stopFilling();
    const { frame, ends } = this.scene.timeline;
    const atEnd = speed > 0 ? frame >= ends.last : frame <= ends.first;
    const start = atEnd || frame < ends.first || frame > ends.last ? (speed > 0 ? ends.first : ends.last) : frame;
    this.failures = 0;
    this.scene.timeline.set({ playing: true, speed, frame: start });
    this.restart(start);
    cancelAnimationFrame(this.raf);
    this.raf = requestAnimationFrame(this.tick);
  }

  pause() {
    this.stopFilling();
    cancelAnimationFrame(this.raf);
    this.sound.pause();
    this.live.send({ kind: "clear" });
    this.forget();
    this.scene.timeline.set({ playing: false, reached: 0, size: 1 });
  }

  /** Called on every change of the Bench while playing: another look goes on in the same course; anything else starts afresh from the frame on screen, or with what is rendered before. */
  refresh() {
    const now = this.keyNow();
    if (this.filling && JSON.stringify(now) !== this.filling.key) this.fill();
    if (!this.scene.now.playing) return;
    if (now.course !== this.key.course) this.restart(this.scene.timeline.frame);
    else if (now.look !== this.key.look) this.change(now.look);
  }

  private get pace() {
    return this.scene.around.pace;
  }

  /** What is played, and with which look. */
  private keyNow() {
    const state = this.scene.now;
    const { revision, ...want } = this.scene.want(this.width());
    const course = JSON.stringify([{ ...want, frame: 0 }, state.compare !== "off", state.against, state.speed, scopeOf(state), this.scene.heard?.url]);
    return { course, look: JSON.stringify([revision, this.scene.document.state.getState().draft]) };
  }

  /** The look is another, as it is many times while a slider is dragged. The clock and the sound go on, and what has been begun is still shown, until the first picture of the new one is there. */
  private change(look: string) {
    this.key.look = look;
    this.live.send({ kind: "clear" });
    for (const [id, asked] of this.late) if (performance.now() - asked.at > LATE) this.late.delete(id);
    for (const [id, asked] of this.asked) this.late.set(id, asked);
    this.asked.clear();
    const step = this.started ? this.stepAt(performance.now()) : -1;
    this.next = step + this.lead;
    for (const [n, shown] of this.frames) {
      if (n < this.next) continue;
      closed(shown);
      this.frames.delete(n);
    }
    this.look++;
  }

  /** Which step is due. */
  private stepAt(now: number) {
    return Math.floor(((now - this.origin) / 1000) * this.scene.timeline.rate);
  }

  /** How many steps ahead a frame is to be asked for, to be there in time. */
  private get lead() {
    return this.started ? Math.ceil(this.latency * this.scene.timeline.rate) + 1 : 1;
  }

  private restart(frame: number) {
    this.key = this.keyNow();
    this.live.send({ kind: "clear" });
    this.forget();
    this.next = 0;
    this.lastStep = -1;
    this.from = frame;
    this.started = false;
    this.drawn = [];
    this.pace.begin();
    this.sound.pause();
  }

  /** Share of the width at which a frame is asked for: all of it where that is rendered already, or where every pixel is wanted. */
  private sizeFor(frame: number): number {
    const { full, ready } = this.scene.now;
    const stored = !this.scene.document.state.getState().draft.length; // of a look that is being dragged nothing is rendered
    return full || (stored && ready?.stretches.some(([first, last]) => frame >= first && frame <= last)) ? 1 : this.pace.size;
  }

  /** The frame of step n, going round where looping; null where it is over. */
  private frameOf(step: number): number | null {
    const { speed, loop } = this.scene.now;
    const { first, last } = this.scene.timeline.ends;
    const length = last - first + 1;
    const offset = speed > 0 ? this.from - first + Math.floor(step * speed) : last - this.from + Math.floor(step * -speed);
    if (!loop && offset >= length) return null;
    const wrapped = offset % length;
    return speed > 0 ? first + wrapped : last - wrapped;
  }

  /** Ask for the next frames that can still come in time: those that would be late are dropped before they are rendered. */
  private ask(current: number, rate: number) {
    const state = this.scene.now;
    const { draft } = this.scene.document.state.getState();
    const want = this.scene.want(this.width());
    const { lead } = this;
    this.next = Math.max(this.next, current + lead);
    while (this.flying < FLYING && this.next <= current + Math.max(AHEAD, lead)) {
      const frame = this.frameOf(this.next);
      if (frame === null) break;
      const size = this.sizeFor(frame);
      const width = Math.max(LEAST, Math.round(want.width * size));
      const every = scopeEvery(rate) * (size === 1 || this.pace.spare ? 1 : 2); // where time is short, scopes take what is left
      this.send({ kind: "play", commands: draft, ...want, width, frame, ...(frame % every ? {} : scopeOf(state)) }, false, size);
      if (state.compare !== "off" && want.view !== "source") this.send({ kind: "play", ...this.scene.before(want), width, frame }, true, size);
      this.next++;
    }
  }

  private send(ask: Ask, before: boolean, size: number) {
    this.asked.set(this.live.send(ask), { frame: this.next, before, at: performance.now(), size, look: this.look });
  }

  private get flying() {
    return new Set([...this.asked.values()].map((a) => a.frame)).size;
  }

  /** The server could not render a frame; the others go on, but where several fail one after another it stops and says why. */
  failed(id: number, message: string) {
    if (this.filling?.asked.has(id)) {
      this.stopFilling();
      return this.scene.stage.set({ failure: message });
    }
    if (!this.asked.delete(id) || ++this.failures < FAILURES) return;
    this.pause();
    this.scene.stage.set({ failure: message });
  }

  /** The connection is back: what was asked for before will not come. */
  again() {
    if (this.filling) this.fill();
    if (this.scene.now.playing) this.restart(this.scene.timeline.frame);
  }

  receive({ id, jpeg, scope }: Picture) {
    if (this.filled(id)) return;
    const asked = this.asked.get(id) ?? this.late.get(id);
    if (!asked) return;
    this.asked.delete(id);
    this.late.delete(id);
    this.latency += ((performance.now() - asked.at) / 1000 - this.latency) * LATELY;
    this.failures = 0;
    if (!asked.before) this.pace.came(performance.now(), asked.size, asked.at);
    const { run } = this;
    void Promise.all([decode(jpeg, "image/jpeg"), scope && decode(scope.png, "image/png")]).then(([bitmap, drawn]) => {
      if (run !== this.run || asked.frame <= this.lastStep || asked.look < this.newest) {
        bitmap.close();
        return drawn?.close();
      }
      this.newest = asked.look;
      let entry = this.frames.get(asked.frame);
      if (entry && entry.look < asked.look) closed(entry);
      if (!entry || entry.look < asked.look) entry = { look: asked.look };
      entry[asked.before ? "before" : "after"] = bitmap;
      if (scope && drawn) entry.scope = { kind: scope.kind, bitmap: drawn };
      this.frames.set(asked.frame, entry);
    });
  }

  private tick = (now: number) => {
    if (!this.scene.now.playing) return;
    this.raf = requestAnimationFrame(this.tick);
    const { rate } = this.scene.timeline;
    const { size } = this.pace;
    this.pace.choose(now, rate, this.frames.size);
    this.latency *= (this.pace.size / size) ** 2; // else more frames than needed are given up as late
    if (!this.started) {
      this.ask(-1, rate);
      const enough = this.frames.size >= Math.min(START, (this.frameOf(START) === null ? 1 : START));
      if (!enough) return;
      this.started = true;
      this.origin = now;
      this.startSound(rate);
    }
    const step = this.stepAt(now);
    if (this.frameOf(step) === null) {
      this.scene.timeline.moveTo(this.scene.timeline.ends[this.scene.now.speed > 0 ? "last" : "first"]);
      return this.pause();
    }
    this.ask(step, rate);
    this.show(step, now);
    this.tell(now);
    this.keepSound(step, rate);
  };

  private show(step: number, now: number) {
    const ready = [...this.frames.keys()].filter((n) => n <= step && n > this.lastStep).sort((a, b) => b - a)[0];
    if (ready === undefined) return;
    const entry = this.frames.get(ready)!;
    if (!entry.after) return;
    for (const [n, dropped] of this.frames) {
      if (n < ready) closed(dropped);
      if (n <= ready) this.frames.delete(n);
    }
    this.lastStep = ready;
    this.viewport.setAfter(entry.after);
    if (entry.before) this.viewport.setBefore(entry.before);
    this.viewport.draw();
    if (entry.scope) this.showScope(entry.scope.kind, entry.scope.bitmap);
    this.drawn.push(now);
    this.scene.timeline.moveTo(this.frameOf(ready)!);
  }

  /** The rate that is seen: pictures drawn in the last second, however long ago the last of them was. */
  private tell(now: number) {
    if (now - this.told < TELL) return;
    this.told = now;
    this.drawn = this.drawn.filter((t) => now - t < SEEN);
    const seconds = Math.min(now - this.origin, SEEN) / 1000;
    if (seconds > 0.3) this.scene.timeline.set({ reached: this.drawn.length / seconds, size: this.scene.now.full ? 1 : this.pace.size });
  }

  private startSound(rate: number) {
    const { sound, speed } = this.scene.now;
    const source = this.scene.heard;
    if (source && speed === 1) this.sound.start(source, this.from / rate, sound);
  }

  private keepSound(step: number, rate: number) {
    const { sound, speed } = this.scene.now;
    const elapsed = (performance.now() - this.origin) / 1000;
    if (speed === 1) this.sound.keep(this.frameOf(step)! / rate + (elapsed - step / rate), sound);
  }
}
