/** The sound of what plays: in step with the picture, and let go when it is not heard. */

const DRIFT = 0.09; // seconds the sound may be off before it is put right
const HELD = 10_000; // ms after a pause for which the sound is kept at hand: it holds one of the few connections that a browser has to a server

/** Where the sound is, and how many seconds into it the first frame. */
type Source = { url: string; from: number };

export class Sound {
  private audio: HTMLAudioElement | null = null;
  private from = 0;
  private timer = 0; // that lets it go

  /** Be heard from some seconds after the first frame on. */
  start(source: Source, seconds: number, heard: boolean) {
    window.clearTimeout(this.timer);
    if (!this.audio?.src.endsWith(source.url)) {
      this.letGo();
      this.audio = new Audio(source.url);
    }
    this.audio.muted = !heard;
    this.from = source.from;
    this.audio.currentTime = seconds + source.from;
    void this.audio.play().catch(() => undefined);
  }

  /** Stay in step with the picture, which is so many seconds after the first frame now. */
  keep(seconds: number, heard: boolean) {
    const { audio } = this;
    if (!audio || (audio.paused && !audio.ended)) return;
    audio.muted = !heard;
    const wanted = this.from + seconds;
    if (audio.seeking || (!audio.ended && Math.abs(audio.currentTime - wanted) <= DRIFT) || wanted >= audio.duration) return;
    const ended = audio.ended; // before the shot came round
    audio.currentTime = wanted;
    if (ended) void audio.play().catch(() => undefined);
  }

  /** Be silent; soon after that it is let go. */
  pause() {
    this.audio?.pause();
    window.clearTimeout(this.timer);
    this.timer = window.setTimeout(() => this.letGo(), HELD);
  }

  /** It is not read any more: the browser would keep its connection open as long as there is more of it. */
  letGo() {
    window.clearTimeout(this.timer);
    this.audio?.pause();
    if (this.audio) this.audio.src = "";
    this.audio = null;
  }
}
