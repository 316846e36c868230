import { tinykeys } from "tinykeys";

export type Bindings = Record<string, (e: KeyboardEvent) => void>;

/** Do what presses say, wherever the focus is, until the function that is given back is called. What `another` says is somebody else's is left to them; of several presses that are one event the first counts. */
export function listen(bindings: Bindings, another: (e: KeyboardEvent) => boolean, capture = false): () => void {
  let taken: Event | null = null;
  const first = (run: Bindings[string]) => (e: KeyboardEvent) => {
    if (e === taken || another(e)) return;
    taken = e;
    run(e);
  };
  return tinykeys(window, Object.fromEntries(Object.entries(bindings).map(([press, run]) => [press, first(run)])), { capture });
}
