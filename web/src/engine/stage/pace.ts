/** How large pictures are while it plays: their size gives way before the rate does, and comes back when there is time. */

export const SIZES = [1, 0.75, 0.5] as const;

const SMOOTH = 0.25; // weight of the newest picture in what one takes
const SURE = 3; // pictures after which what one takes is known
const SPARE = 0.85; // share of a frame's time that a picture of the next larger size may take
const LOW = 8; // frames ahead below which there is no time to lose
const AMPLE = 20; // and from which there is time to try a larger size
const PATIENCE = 1000; // ms between two changes, at least; doubled each time that a larger size was tried in vain
const MOST_PATIENCE = 30_000;
const IN_VAIN = 5000; // ms within which giving way again says that it was
const KEPT = "wenditas-playing-size";

/** One for all that plays in a page: what a machine can do is learnt once, and kept. */
export class Pace {
  private at: number; // which of the sizes
  private took = 0; // ms that a picture of this size takes, lately
  private known = 0; // pictures of which that is made
  private last = -Infinity; // when the last picture came
  private changed = 0;
  private grown = -Infinity;
  private patience = PATIENCE;
  private time = 0; // ms of a frame
  private ahead = 0; // frames that are here before they are due

  /** kept: where the size that did last time is. A machine that nothing is known of begins with the smallest: the first pictures are the slowest. */
  constructor(private kept: Pick<Storage, "getItem" | "setItem">) {
    const known = SIZES.findIndex((size) => String(size) === kept.getItem(KEPT));
    this.at = known < 0 ? SIZES.length - 1 : known;
  }

  /** Share of the width at which pictures are asked for. */
  get size(): number {
    return SIZES[this.at]!;
  }

  /** Whether time is left that a larger size could not use either: for scopes. */
  get spare(): boolean {
    return this.at === 0 || (this.ahead >= AMPLE && this.known >= SURE && this.expected(SIZES[this.at - 1]!) > this.time);
  }

  /** Something else is played: what a picture takes is learnt anew, beginning with the size that did last time. */
  begin() {
    this.known = 0;
  }

  /** A picture of some size came that was asked for at some time: it was begun then, or when the one before it was done. */
  came(now: number, size: number, asked: number) {
    if (size === this.size) {
      const took = now - Math.max(this.last, asked);
      this.took = this.known ? this.took + (took - this.took) * Math.max(SMOOTH, 1 / (this.known + 1)) : took;
      this.known++;
    }
    this.last = now;
  }

  /** Choose the size for the next pictures. rate: frames a second that are wanted; ahead: frames that are here before they are due. */
  choose(now: number, rate: number, ahead: number) {
    const time = (this.time = 1000 / rate);
    this.ahead = ahead;
    if (this.known < SURE) return;
    if (this.took > time && ahead < LOW && this.at < SIZES.length - 1) {
      const fits = SIZES.findIndex((size, n) => n > this.at && this.expected(size) <= time);
      this.to(now, fits < 0 ? SIZES.length - 1 : fits);
      if (now - this.grown < IN_VAIN) this.patience = Math.min(this.patience * 2, MOST_PATIENCE);
    } else if (this.at > 0 && ahead >= AMPLE && now - this.changed >= this.patience && this.expected(SIZES[this.at - 1]!) <= time * SPARE) {
      this.to(now, this.at - 1);
      this.grown = now;
    }
  }

  private expected(size: number) {
    return this.took * (size / this.size) ** 2;
  }

  private to(now: number, at: number) {
    this.at = at;
    this.kept.setItem(KEPT, String(this.size));
    this.changed = now;
    this.known = 0;
  }
}

/** A size in words. */
export const sizeWords = (size: number) => (size === 0.5 ? "at half size" : size === 0.75 ? "at three quarters" : "full size");
