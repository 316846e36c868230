/** Half a shot into another look: the rest of it becomes a shot of its own, into which the first half dissolves in the reel. */
import { shots } from "../../api/footage";
import { projects } from "../../api/projects";
import { reels } from "../../api/reels";
import type { BenchSession } from "../../engine/bench";
import { halvesCommands } from "../../engine/reel/cutting";
import { layoutOf } from "../../engine/reel/layout";
import type { Doing } from "../../panels/doing";

/** From the frame on screen on, with its look as it is now, to be changed on the Bench. One step takes it back. */
export async function splitAndDissolve(engine: BenchSession, { project, say, go, carryOut }: Doing) {
  engine.around.settle();
  await engine.document.idle();
  const { shot, document } = engine.view;
  const { frame } = engine.timeline;
  const { newId } = engine.around;
  const piece = { shot: shot.id, first: document.first, last: document.last };
  if (frame <= piece.first || frame > piece.last) return engine.around.say("Go to a frame within the shot first: from there on it becomes another one.");
  const split = async () => {
    const reel = await projects.reel(project);
    const made = await shots.copy(shot.id, `${shot.name}, later`);
    const commands = halvesCommands({ shown: reel.document, layout: layoutOf(reel.document, reel.shots) }, piece, frame, made.id, newId)!;
    const edited = await reels.edit(reel, newId(), commands, `${shot.name} split at frame ${frame}, and dissolved`).catch(async (error: Error) => {
      await shots.remove(made.id); // the reel has changed meanwhile, say: the copy is not left behind
      throw error;
    });
    return { made, reel: { reel_id: reel.reel_id, revision: edited.revision } };
  };
  const done = await carryOut(split(), "everything");
  if (!done) return;
  const back = async () => {
    await reels.undo(done.reel);
    await shots.remove(done.made.id);
    return true;
  };
  go(`/projects/${project}/shots/${done.made.id}?frame=${frame}`);
  say(`From frame ${frame} on it is the shot “${done.made.name}”: give it its own look here. In the reel one dissolves into the other.`, {
    action: { name: "Undo", run: () => void carryOut(back(), "everything").then((gone) => gone && go(`/projects/${project}/shots/${shot.id}`)) },
  });
}
