/** Half a shot into another look: the rest of it becomes a shot of its own, into which the first half dissolves in the reel. */
import type { QueryClient } from "@tanstack/react-query";

import { ask, client } from "../../api/client";
import type { BenchSession } from "../../engine/bench";
import { halvesCommands } from "../../engine/reel/cutting";
import type { Say } from "../../engine/scene";
import { layoutOf } from "../../engine/reel/layout";

type Around = { project: string; queries: QueryClient; say: Say; go: (to: string) => void };

/** From the frame on screen on, with its look as it is now, to be changed on the Bench. One step takes it back. */
export async function splitAndDissolve(engine: BenchSession, { project, queries, say, go }: Around) {
  engine.around.settle();
  await engine.document.idle();
  const { shot, document } = engine.view;
  const { frame } = engine.timeline;
  const piece = { shot: shot.id, first: document.first, last: document.last };
  if (frame <= piece.first || frame > piece.last) return engine.around.say("Go to a frame within the shot first: from there on it becomes another one.");
  try {
    const reel = await ask(client.GET("/api/projects/{project_id}/reel", { params: { path: { project_id: project } } }));
    const made = await ask(client.POST("/api/shots/{shot_id}/copy", { params: { path: { shot_id: shot.id } }, body: { name: `${shot.name}, later` } }));
    const commands = halvesCommands({ shown: reel.document, layout: layoutOf(reel.document, reel.shots) }, piece, frame, made.id, engine.around.newId)!;
    const path = { params: { path: { reel_id: reel.reel_id } } };
    const drop = () => ask(client.DELETE("/api/shots/{shot_id}", { params: { path: { shot_id: made.id } } }));
    const edit = { base: reel.revision, commands, words: `${shot.name} split at frame ${frame}, and dissolved`, id: engine.around.newId(), author: "" };
    const edited = await ask(client.POST("/api/reels/{reel_id}/edits", { ...path, body: edit })).catch(async (error: Error) => {
      await drop(); // the reel has changed meanwhile, say: the copy is not left behind
      throw error;
    });
    await queries.invalidateQueries();
    const back = async () => {
      await ask(client.POST("/api/reels/{reel_id}/undo", { ...path, body: { base: edited.revision } }));
      await drop();
      await queries.invalidateQueries();
      go(`/projects/${project}/shots/${shot.id}`);
    };
    const fail = (error: Error) => say(error.message, { bad: true });
    go(`/projects/${project}/shots/${made.id}?frame=${frame}`);
    say(`From frame ${frame} on it is the shot “${made.name}”: give it its own look here. In the reel one dissolves into the other.`, { action: { name: "Undo", run: () => void back().catch(fail) } });
  } catch (error) {
    engine.around.say((error as Error).message, { bad: true });
  }
}
