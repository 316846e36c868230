/** Takes of the reel: saved states, made in one press, returned to. */
import type { Take } from "../../api/types";
import { saveTake } from "../takes";
import type { ReelEngine } from "./reel";

export const reelTakes = (reel: ReelEngine): Promise<Take[]> => reel.around.server.takes("reels", reel.view.reel_id);

export const newReelTake = (reel: ReelEngine) =>
  saveTake(reel, () => reelTakes(reel), (body) => reel.around.server.saveTake("reels", reel.view.reel_id, body));

/** Return to a state of the reel. */
export const goToState = (reel: ReelEngine, revision: number, words: string) =>
  reel.document.ask("head", { revision }).then(
    () => reel.around.say(words),
    (error: Error) => reel.around.say(error.message, { bad: true }),
  );
