/** Checks of the look, run in the background once it rests; what was found stays, until the new state is looked at. */
import type { Command, MarkView } from "../api/types";
import type { BenchSession } from "./bench";

const WAIT = 2500; // ms of rest before checking begins
const AGAIN = 15_000; // ms after which checks that broke off begin anew

type Line = { kind: "marks"; done: number; total: number; marks: MarkView[] } | { kind: "failed"; message: string };

/** Keep the marks up to date, until the function that is given back is called. */
export function followChecks(engine: BenchSession): () => void {
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
    const run = () => void check(engine, wanted, signal, () => stop.abort()).then((whole) => !whole && !signal.aborted && (timer = window.setTimeout(run, AGAIN)));
    timer = window.setTimeout(run, WAIT);
  };
  const end = engine.document.state.subscribe(look);
  look();
  return () => {
    end();
    window.clearTimeout(timer);
    stop.abort();
  };
}

/** Whether the checks came to their end. */
async function check(engine: BenchSession, revision: number, signal: AbortSignal, stop: () => void): Promise<boolean> {
  const had = () => (engine.now.checked?.revision === revision ? engine.now.checked : { revision, marks: [], done: 0, total: 0 });
  const task = engine.around.background.begin(`Checks of ${engine.view.shot.name}`, 0, () => {
    stop();
    engine.choice.set({ checked: { ...had(), broken: "You stopped them. They begin again with the next change." } });
  });
  try {
    let whole = false;
    for await (const line of engine.around.server.checks<Line>(engine.view.shot.id, revision, signal)) {
      if (signal.aborted) return false;
      if (line.kind === "failed") throw new Error(line.message);
      engine.choice.set({ checked: { revision, marks: line.marks, done: line.done, total: line.total } });
      task.at(line.done, line.total);
      whole = line.done >= line.total;
    }
    if (!whole) throw new Error("The connection ended.");
    return true;
  } catch (error) {
    if (!signal.aborted) engine.choice.set({ checked: { ...had(), broken: `They begin again in a moment. ${error instanceof Error ? error.message : "The connection ended."}` } });
    return false;
  } finally {
    task.end();
  }
}

/** What tells one mark from another: its check, what it is about, and where it lies. */
export const markKey = (m: MarkView): string => `${m.check}|${m.selection ?? ""}|${m.first}`;

/** Go to the worst frame of a mark, and choose what it is about. */
export function goToMark(engine: BenchSession, mark: MarkView): void {
  engine.go(mark.frame);
  if (mark.selection) engine.choice.set({ selectionId: mark.selection });
}

/** The step that fixes a mark, as an edit like any other. */
export function fix(engine: BenchSession, mark: MarkView) {
  return engine.document.edit(mark.commands as Command[], `${mark.name}: ${mark.fix}`);
}
