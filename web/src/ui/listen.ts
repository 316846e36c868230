import { tinykeys } from "tinykeys";

type Bindings = Record<string, (e: KeyboardEvent) => void>;

/** Ctrl and Alt that are held as such, and are not how a system tells AltGr. */
const chord = (e: KeyboardEvent) => e.ctrlKey && e.altKey && !e.getModifierState("AltGraph");

/** Do what presses say, wherever the focus is, until the function that is given back is called. What `another` says is somebody else's is left to them; of several presses that are one event the first counts. */
export function listen(bindings: Bindings, another: (e: KeyboardEvent) => boolean, capture = false): () => void {
  let taken: Event | null = null;
  const first = (run: Bindings[string]) => (e: KeyboardEvent) => {
    if (e === taken || chord(e) || another(e)) return;
    taken = e;
    run(e);
  };
  return tinykeys(window, Object.fromEntries(Object.entries(bindings).map(([press, run]) => [press, first(run)])), { capture });
}
