/** Work in the background that begins after a rest, and anew when what it depends on has changed. */
import type { BenchSession } from "./bench";

/**
 * keyOf: what the work depends on; "" for none, null while something is under way that leaves it as it is.
 * begin: what is done at once when that has changed; the work that is given back is done after a rest, until its signal says that it is not wanted any more.
 * It is given a way to stop itself, too: it then begins again with the next change.
 * Goes on until the function that is given back is called.
 */
export function rested(engine: BenchSession, wait: number, keyOf: () => string | null, begin: (key: string) => ((signal: AbortSignal, stop: () => void) => Promise<void>) | null): () => void {
  let [wanted, timer, stop] = ["", 0, new AbortController()];
  const look = () => {
    const key = keyOf();
    if (key === null || key === wanted) return;
    wanted = key;
    window.clearTimeout(timer);
    stop.abort();
    const work = begin(key);
    if (!work) return;
    stop = new AbortController();
    const { signal } = stop;
    const own = stop;
    timer = window.setTimeout(() => void work(signal, () => own.abort()), wait);
  };
  const stops = [engine.document.state.subscribe(look), engine.choice.state.subscribe(look)];
  look();
  return () => {
    for (const end of stops) end();
    window.clearTimeout(timer);
    stop.abort();
  };
}
