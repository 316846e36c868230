/** Takes of the reel: saved states, made in one press, returned to. */
import { ask, client } from "../../api/client";
import type { Take } from "../../api/types";
import { saveTake } from "../takes";
import type { ReelEngine } from "./reel";

const path = (reel: ReelEngine) => ({ params: { path: { reel_id: reel.view.reel_id } } });

export const reelTakes = (reel: ReelEngine): Promise<Take[]> => ask(client.GET("/api/reels/{reel_id}/takes", path(reel)));

export const newReelTake = (reel: ReelEngine) =>
  saveTake(reel, () => reelTakes(reel), (body) => ask(client.POST("/api/reels/{reel_id}/takes", { ...path(reel), body })));

/** Return to a state of the reel. */
export const goToState = (reel: ReelEngine, revision: number, words: string) =>
  reel.document.ask("head", { revision }).then(
    () => reel.around.say(words),
    (error: Error) => reel.around.say(error.message, { bad: true }),
  );
