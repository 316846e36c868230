/** Putting looks on shots from the sheet, and taking that back. */
import { projects } from "../../api/projects";
import type { Schemas } from "../../api/types";
import type { Sheet } from "../../engine/sheet/sheet";
import type { Doing } from "../../panels/doing";

type Answer = Schemas["CarryAnswer"];

const count = (n: number) => (n === 1 ? "one shot" : `${n} shots`);

/** Put a column's look on shots; what was done is said, with a way back for all of them. */
export async function carryOver(sheet: Sheet, shots: string[], column: string, name: string, doing: Doing): Promise<Answer | null> {
  const { shapes, sure } = sheet.now;
  const answer = await doing.carryOut(projects.carry(doing.project, { shots, column, shapes, sure }));
  if (!answer) return null;
  const made = Object.keys(answer.made);
  const fitted = Object.values(answer.words).filter((w) => w.startsWith("fitted again")).length;
  const asking = Object.keys(answer.asks).length;
  const words = [`“${name}” is on ${count(made.length)}`, fitted ? `fitted again on ${fitted}` : "", asking ? `${count(asking)} still ${asking === 1 ? "needs" : "need"} a pick` : ""].filter(Boolean).join("; ");
  if (made.length) tell(sheet, name, answer.made, `${words}.`, doing);
  for (const message of new Set(Object.values(answer.refused))) doing.say(message, { bad: true });
  return answer;
}

/** Match the light of shots to that of one, under the looks that they have; with a way back for all of them. */
export async function matchTo(sheet: Sheet, shots: string[], to: { id: string; name: string }, doing: Doing) {
  const answer = await doing.carryOut(projects.match(doing.project, { shots, to: to.id, same_scene: true }));
  if (!answer) return;
  const made = Object.keys(answer.made);
  const words = `${count(made.length)} matched to ${to.name}, under ${made.length === 1 ? "its look" : "their looks"}.`.replace(/^o/, "O");
  if (made.length) tell(sheet, `Like ${to.name}`, answer.made, words, doing);
  for (const message of new Set(Object.values(answer.refused))) doing.say(message, { bad: !made.length });
}

/** Say what was put on shots, and keep how it is taken back. */
function tell(sheet: Sheet, name: string, made: Record<string, number>, words: string, doing: Doing) {
  sheet.put({ carried: { name, made } });
  doing.say(words, { action: { name: Object.keys(made).length > 1 ? "Undo all" : "Undo", run: () => void takeBack(sheet, doing) } });
}

/** Take the last putting on back, on all shots that were not changed since. */
export async function takeBack(sheet: Sheet, doing: Doing) {
  const { carried } = sheet.now;
  if (!carried) return;
  const answer = await doing.carryOut(projects.carryBack(doing.project, carried.made));
  if (!answer) return;
  sheet.put({ carried: null });
  const kept = Object.keys(answer.refused).length;
  doing.say(`“${carried.name}” taken back on ${count(Object.keys(answer.made).length)}${kept ? `; ${count(kept)} changed since ${kept === 1 ? "stays" : "stay"} as ${kept === 1 ? "it is" : "they are"}` : ""}.`);
}
