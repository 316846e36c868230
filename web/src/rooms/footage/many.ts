/** What is done with several pieces of footage at once: each has a way back. */
import type { QueryClient } from "@tanstack/react-query";

import { ask, client } from "../../api/client";
import type { Command, Footage as Piece, ShotRow } from "../../api/types";
import { newId } from "../../engine/ids";
import type { Say } from "../../engine/scene";

export type Around = { project: string; queries: QueryClient; say: Say; go: (to: string) => void };
type ShotsOf = ReadonlyMap<string, ShotRow[]>;

const counted = (pieces: readonly Piece[]) => (pieces.length === 1 ? `“${pieces[0]!.name}”` : `${pieces.length} files`);

/** The first shot of each piece; one is made of those that have none. */
async function shotsOf(pieces: readonly Piece[], shots: ShotsOf): Promise<ShotRow[]> {
  const found: ShotRow[] = [];
  for (const piece of pieces) found.push(shots.get(piece.id)?.[0] ?? (await ask(client.POST("/api/footage/{footage_id}/shots", { params: { path: { footage_id: piece.id } } }))));
  return found;
}

/** At the end of the reel, in the order in which they are shown. Sound without pictures is left out. */
export async function putInReel(pieces: readonly Piece[], shots: ShotsOf, { project, queries, say, go }: Around) {
  const seen = pieces.filter((p) => !p.facts.wave && p.state === "here");
  if (!seen.length) return say("Sound goes below the reel: choose it there as its sound track.");
  const rows = await shotsOf(seen, shots);
  const views = await Promise.all(rows.map((row) => ask(client.GET("/api/shots/{shot_id}", { params: { path: { shot_id: row.id } } }))));
  const reel = await ask(client.GET("/api/projects/{project_id}/reel", { params: { path: { project_id: project } } }));
  const path = { params: { path: { reel_id: reel.reel_id } } };
  const commands: Command[] = views.map(({ shot, document }) => ({ do: "add", target: "items", value: { id: newId(), shot: shot.id, first: document.first, last: document.last }, before: null }));
  const words = `${rows.length === 1 ? rows[0]!.name : `${rows.length} shots`} put into the reel`;
  await ask(client.POST("/api/reels/{reel_id}/edits", { ...path, body: { base: reel.revision, commands, words, id: newId(), author: "" } }));
  await queries.invalidateQueries();
  say(`${counted(seen)} ${seen.length === 1 ? "stands" : "stand"} at the end of the reel.`, { action: { name: "Open the reel", run: () => go(`/projects/${project}/reel`) } });
}

/** Out of the project, with their shots, and back again. */
export async function removeMany(pieces: readonly Piece[], { queries, say }: Around) {
  const each = async (how: (params: { params: { path: { footage_id: string } } }) => Promise<unknown>) => {
    for (const piece of pieces) await how({ params: { path: { footage_id: piece.id } } });
    await queries.invalidateQueries({ queryKey: ["project"] });
  };
  await each((params) => ask(client.DELETE("/api/footage/{footage_id}", params)));
  const back = () => each((params) => ask(client.POST("/api/footage/{footage_id}/restore", params))).catch((error: Error) => say(error.message, { bad: true }));
  say(`${counted(pieces)} removed, with ${pieces.length === 1 ? "its" : "their"} shots.`, { action: { name: "Undo", run: () => void back() } });
}

/** A look on their shots, its keys fitted again; what was there becomes a take of each. */
export async function putLookOn(pieces: readonly Piece[], shots: ShotsOf, column: string, name: string, { project, queries, say }: Around) {
  const seen = pieces.filter((p) => !p.facts.wave && p.state === "here");
  const had = seen.flatMap((p) => shots.get(p.id) ?? []);
  const ids = [...had.map((s) => s.id), ...(await shotsOf(seen.filter((p) => !shots.get(p.id)?.length), shots)).map((s) => s.id)];
  const path = { params: { path: { project_id: project } } };
  const answer = await ask(client.POST("/api/projects/{project_id}/carry", { ...path, body: { shots: ids, column, shapes: false, sure: false } }));
  await queries.invalidateQueries({ queryKey: ["project"] });
  const made = Object.keys(answer.made).length;
  const back = () => ask(client.POST("/api/projects/{project_id}/carry/back", { ...path, body: { made: answer.made } })).then(() => queries.invalidateQueries({ queryKey: ["project"] }), (error: Error) => say(error.message, { bad: true }));
  if (made) say(`“${name}” is on ${made === 1 ? "one shot" : `${made} shots`}; what was there is kept as a take.`, { action: { name: "Undo", run: () => void back() } });
  for (const message of new Set(Object.values(answer.refused))) say(message, { bad: true });
}

/** Its shot on the Bench; where it has none, a new one. */
export async function openOnBench(piece: Piece, shots: ShotsOf, { project, queries, go }: Around) {
  const [shot] = await shotsOf([piece], shots);
  if (!shots.get(piece.id)?.length) await queries.invalidateQueries({ queryKey: ["project"] });
  go(`/projects/${project}/shots/${shot!.id}`);
}
