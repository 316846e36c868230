/** Takes: saved states of the shot, made in one press and stepped through. */
import type { Take } from "../api/types";
import type { BenchSession } from "./bench";
import { goTo } from "./pocket";
import type { Around } from "./scene";

export const takesOf = (engine: BenchSession): Promise<Take[]> => engine.around.server.takes("shots", engine.view.shot.id);

/** The next name that no take has. */
export function nextName(takes: { name: string }[]): string {
  const taken = new Set(takes.map((t) => t.name));
  let n = takes.length + 1;
  while (taken.has(`Take ${n}`)) n++;
  return `Take ${n}`;
}

/** What can be saved as it stands: a shot, or the reel. */
type Saved = { around: Around; document: { idle(): Promise<void> }; view: { revision: number } };

/** Save the state in work as a take, with what is still being typed. It can be renamed afterwards. */
export async function saveTake(of: Saved, read: () => Promise<Take[]>, save: (body: { revision: number; name: string }) => Promise<unknown>): Promise<void> {
  of.around.settle();
  await of.document.idle();
  try {
    const takes = await read();
    const same = takes.find((t) => t.revision === of.view.revision);
    if (same) return of.around.say(`This state is “${same.name}” already.`);
    const name = nextName(takes);
    await save({ revision: of.view.revision, name });
    of.around.say(`“${name}” is saved.`);
  } catch (error) {
    of.around.say(error instanceof Error ? error.message : "The take was not saved.", { bad: true });
  }
}

export const newTake = (engine: BenchSession) =>
  saveTake(engine, () => takesOf(engine), (body) => engine.around.server.saveTake("shots", engine.view.shot.id, body));

/** The take before or after the one in work, in the order in which they were made; from a state that is none, the newest or the first. */
export function beside(takes: Take[], revision: number, by: 1 | -1): Take | null {
  const order = [...takes].sort((a, b) => a.created.localeCompare(b.created));
  const at = order.findIndex((t) => t.revision === revision);
  return (at < 0 ? order.at(by < 0 ? -1 : 0) : order[at + by]) ?? null;
}

/** Go to the take before or after. */
export async function stepTake(engine: BenchSession, by: 1 | -1): Promise<void> {
  engine.around.settle();
  try {
    const takes = await takesOf(engine);
    const next = beside(takes, engine.view.revision, by);
    if (next) await goTo(engine, next.revision, `“${next.name}” is in work.`);
    else engine.around.say(takes.length ? `There is no take ${by < 0 ? "before" : "after"} this one.` : "There are no takes yet: T makes one.");
  } catch (error) {
    engine.around.say(error instanceof Error ? error.message : "The takes could not be read.", { bad: true });
  }
}
