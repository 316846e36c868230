/** Requests that were not answered, kept in the browser over a reload. Each page has its own, and takes over those of pages that are gone. */
import type { Kept } from "./kept";

type Item = { id: string };

const STEM = "wenditas-outbox";

export class Outbox {
  constructor(
    private page: string,
    private kept: Kept,
  ) {
    // Held as long as the page lives: how other pages know that its outbox is its own.
    if (navigator.locks) void navigator.locks.request(`${STEM}-${page}`, () => new Promise(() => undefined));
  }

  private key(subject: string, page: string) {
    return `${STEM}/${subject}/${page}`;
  }

  save(subject: string, items: Item[]) {
    const key = this.key(subject, this.page);
    if (items.length) this.kept.setItem(key, JSON.stringify(items));
    else this.kept.removeItem(key);
  }

  /** What pages that are gone have left of a subject. It is this page's from now on. */
  async left<T extends Item>(subject: string): Promise<T[]> {
    const found: T[] = [];
    for (const key of this.kept.keys().filter((k) => k.startsWith(`${STEM}/${subject}/`))) {
      const page = key.slice(key.lastIndexOf("/") + 1);
      if (page === this.page || (await this.lives(page))) continue;
      found.push(...(JSON.parse(this.kept.getItem(key) ?? "[]") as T[]));
      this.kept.removeItem(key);
    }
    return found;
  }

  /** Whether a page is still there. Where browsers do not tell (over plain HTTP from elsewhere), it counts as gone: sent twice, an edit is stored once. */
  private async lives(page: string): Promise<boolean> {
    if (!navigator.locks) return false;
    return navigator.locks.request(`${STEM}-${page}`, { ifAvailable: true }, (lock) => Promise.resolve(lock === null));
  }
}
