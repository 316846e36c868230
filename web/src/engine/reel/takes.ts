/** Takes of the reel: saved states, made in one press, returned to. */
import { ask, client } from "../../api/client";
import type { Take } from "../../api/types";
import { nextName } from "../takes";
import type { ReelEngine } from "./reel";

const path = (reel: ReelEngine) => ({ params: { path: { reel_id: reel.view.reel_id } } });

export const reelTakes = (reel: ReelEngine): Promise<Take[]> => ask(client.GET("/api/reels/{reel_id}/takes", path(reel)));

/** Save the state in work as a take, with what is still being typed. It can be renamed afterwards. */
export async function newReelTake(reel: ReelEngine): Promise<void> {
  reel.around.settle();
  await reel.document.idle();
  try {
    const takes = await reelTakes(reel);
    const same = takes.find((t) => t.revision === reel.view.revision);
    if (same) return reel.around.say(`This state is “${same.name}” already.`);
    const name = nextName(takes);
    await ask(client.POST("/api/reels/{reel_id}/takes", { ...path(reel), body: { revision: reel.view.revision, name } }));
    reel.around.say(`“${name}” is saved.`);
  } catch (error) {
    reel.around.say(error instanceof Error ? error.message : "The take was not saved.", { bad: true });
  }
}

/** Return to a state of the reel. */
export const goToState = (reel: ReelEngine, revision: number, words: string) =>
  reel.document.ask("head", { revision }).then(
    () => reel.around.say(words),
    (error: Error) => reel.around.say(error.message, { bad: true }),
  );
