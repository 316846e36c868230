/** Putting looks on shots from the sheet, and taking that back. */
import type { QueryClient } from "@tanstack/react-query";

import { ask, client } from "../../api/client";
import type { Schemas } from "../../api/types";
import type { Sheet } from "../../engine/sheet/sheet";
import type { Say } from "../../engine/scene";

type Answer = Schemas["CarryAnswer"];

const count = (n: number) => (n === 1 ? "one shot" : `${n} shots`);

/** Put a column's look on shots; what was done is said, with a way back for all of them. */
export async function carryOver(sheet: Sheet, project: string, shots: string[], column: string, name: string, say: Say, queries: QueryClient): Promise<Answer | null> {
  const { shapes, sure } = sheet.now;
  try {
    const answer = await ask(client.POST("/api/projects/{project_id}/carry", { params: { path: { project_id: project } }, body: { shots, column, shapes, sure } }));
    void queries.invalidateQueries({ queryKey: ["project"] });
    const made = Object.keys(answer.made);
    if (made.length) sheet.put({ carried: { name, made: answer.made } });
    const fitted = Object.values(answer.words).filter((w) => w.startsWith("fitted again")).length;
    const asking = Object.keys(answer.asks).length;
    const words = [`“${name}” is on ${count(made.length)}`, fitted ? `fitted again on ${fitted}` : "", asking ? `${count(asking)} still ${asking === 1 ? "needs" : "need"} a pick` : ""].filter(Boolean).join("; ");
    if (made.length) say(`${words}.`, { action: { name: made.length > 1 ? "Undo all" : "Undo", run: () => void takeBack(sheet, project, say, queries) } });
    for (const message of new Set(Object.values(answer.refused))) say(message, { bad: true });
    return answer;
  } catch (error) {
    say(error instanceof Error ? error.message : "That did not work.", { bad: true });
    return null;
  }
}

/** Match the light of shots to that of one, under the looks that they have; with a way back for all of them. */
export async function matchTo(sheet: Sheet, project: string, shots: string[], to: { id: string; name: string }, say: Say, queries: QueryClient) {
  try {
    const answer = await ask(client.POST("/api/projects/{project_id}/match", { params: { path: { project_id: project } }, body: { shots, to: to.id, same_scene: true } }));
    void queries.invalidateQueries({ queryKey: ["project"] });
    const made = Object.keys(answer.made);
    const name = `Like ${to.name}`;
    if (made.length) {
      sheet.put({ carried: { name, made: answer.made } });
      say(`${count(made.length)} matched to ${to.name}, under ${made.length === 1 ? "its look" : "their looks"}.`.replace(/^o/, "O"), { action: { name: made.length > 1 ? "Undo all" : "Undo", run: () => void takeBack(sheet, project, say, queries) } });
    }
    for (const message of new Set(Object.values(answer.refused))) say(message, { bad: !made.length });
  } catch (error) {
    say(error instanceof Error ? error.message : "They could not be matched.", { bad: true });
  }
}

/** Take the last putting on back, on all shots that were not changed since. */
export async function takeBack(sheet: Sheet, project: string, say: Say, queries: QueryClient) {
  const { carried } = sheet.now;
  if (!carried) return;
  try {
    const answer = await ask(client.POST("/api/projects/{project_id}/carry/back", { params: { path: { project_id: project } }, body: { made: carried.made } }));
    sheet.put({ carried: null });
    void queries.invalidateQueries({ queryKey: ["project"] });
    const kept = Object.keys(answer.refused).length;
    say(`“${carried.name}” taken back on ${count(Object.keys(answer.made).length)}${kept ? `; ${count(kept)} changed since ${kept === 1 ? "stays" : "stay"} as ${kept === 1 ? "it is" : "they are"}` : ""}.`);
  } catch (error) {
    say(error instanceof Error ? error.message : "That did not work.", { bad: true });
  }
}
