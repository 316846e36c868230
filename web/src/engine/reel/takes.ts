/** Takes of the reel: saved states, made in one press, returned to. */
import type { Take } from "../../api/types";
import { saveTake } from "../takes";
import type { ReelSession } from "./reel";

export const reelTakes = (reel: ReelSession): Promise<Take[]> => reel.around.server.takes("reels", reel.view.reel_id);

export const newReelTake = (reel: ReelSession) =>
  saveTake(reel, () => reelTakes(reel), (body) => reel.around.server.saveTake("reels", reel.view.reel_id, body));

/** Return to a state of the reel; what came after it stays in the history. */
export async function goToState(reel: ReelSession, revision: number, words: string) {
  const before = reel.view.revision;
  if (before === revision) return;
  try {
    await reel.document.ask("head", { revision });
    reel.around.say(words, { action: { name: "Back again", run: () => void goToState(reel, before, "Back at the newer state.") } });
  } catch (error) {
    reel.around.say(error instanceof Error ? error.message : "That did not work.", { bad: true });
  }
}
