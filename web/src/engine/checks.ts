/** Checks of the look, run in the background once it rests; what was found stays, until the new state is looked at. */
import type { Command, MarkView } from "../api/types";
import type { Engine } from "./engine";
import { lines } from "./stream";

const WAIT = 2500; // ms of rest before checking begins

type Line = { kind: "marks"; done: number; total: number; marks: MarkView[] } | { kind: "failed"; message: string };

/** revision: of what the marks belong to; done, total: frames; lit: the mark that lights up on the picture. */
export type Checked = { revision: number; marks: MarkView[]; done: number; total: number };

/** Keep the marks up to date, until the function that is given back is called. */
export function followChecks(engine: Engine): () => void {
  let [timer, stop] = [0, new AbortController()];
  let wanted = -1;
  const look = () => {
    const { view, draft, waiting } = engine.document.state.getState();
    if (draft.length || waiting.length || view.revision === wanted) return;
    wanted = view.revision;
    window.clearTimeout(timer);
    stop.abort();
    if (engine.now.checked?.revision === wanted && engine.now.checked.done === engine.now.checked.total) return;
    stop = new AbortController();
    const { signal } = stop;
    timer = window.setTimeout(() => void check(engine, wanted, signal), WAIT);
  };
  const end = engine.document.state.subscribe(look);
  look();
  return () => {
    end();
    window.clearTimeout(timer);
    stop.abort();
  };
}

async function check(engine: Engine, revision: number, signal: AbortSignal) {
  try {
    const response = await fetch(`/api/shots/${engine.view.shot.id}/checks/${revision}`, { signal });
    for await (const line of lines<Line>(response)) {
      if (signal.aborted) return;
      if (line.kind === "marks") engine.put({ checked: { revision, marks: line.marks, done: line.done, total: line.total } });
    }
  } catch {
    // Superseded, or offline: the next change is looked at again.
  }
}

/** What tells one mark from another: its check, what it is about, and where it lies. */
export const markKey = (m: MarkView): string => `${m.check}|${m.selection ?? ""}|${m.first}`;

/** Go to the worst frame of a mark, and choose what it is about. */
export function goToMark(engine: Engine, mark: MarkView): void {
  engine.go(mark.frame);
  if (mark.selection) engine.put({ selectionId: mark.selection });
}

/** The step that mends a mark, as an edit like any other. */
export function mend(engine: Engine, mark: MarkView) {
  return engine.document.edit(mark.commands as Command[], `${mark.name}: ${mark.mend}`);
}
