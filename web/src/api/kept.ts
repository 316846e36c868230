/** The browser's storage, which may be full, or forbidden: then what is kept is kept until a reload, and that is said once. */

type Store = Pick<Storage, "getItem" | "setItem" | "removeItem" | "key" | "length">;

export class Kept implements Pick<Storage, "getItem" | "setItem" | "removeItem"> {
  private held = new Map<string, string>();
  private told = false;
  /** Called the first time that something cannot be kept. */
  onFull: () => void = () => undefined;

  constructor(private storage: () => Store) {}

  getItem(key: string): string | null {
    const held = this.held.get(key);
    if (held !== undefined) return held;
    try {
      return this.storage().getItem(key);
    } catch {
      return null;
    }
  }

  setItem(key: string, text: string) {
    try {
      this.storage().setItem(key, text);
      this.held.delete(key);
    } catch {
      this.held.set(key, text);
      if (!this.told) this.onFull();
      this.told = true;
    }
  }

  removeItem(key: string) {
    this.held.delete(key);
    try {
      this.storage().removeItem(key);
    } catch {
      // it was not kept
    }
  }

  /** The names of what is kept. */
  keys(): string[] {
    try {
      const storage = this.storage();
      const found = Array.from({ length: storage.length }, (_, n) => storage.key(n)).filter((key) => key !== null);
      return [...new Set([...found, ...this.held.keys()])];
    } catch {
      return [...this.held.keys()];
    }
  }
}
