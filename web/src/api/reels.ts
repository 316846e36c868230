/** What is asked of the server about a reel that is not open: edits from elsewhere. */
import { ask, client } from "./client";
import type { Command, ReelView } from "./types";

const of = (reel: Pick<ReelView, "reel_id">) => ({ params: { path: { reel_id: reel.reel_id } } });

export const reels = {
  /** Store commands on the state that was read. id: of the edit. */
  edit: (reel: ReelView, id: string, commands: Command[], words: string) => ask(client.POST("/api/reels/{reel_id}/edits", { ...of(reel), body: { base: reel.revision, commands, words, id, author: "" } })),
  undo: (reel: Pick<ReelView, "reel_id" | "revision">) => ask(client.POST("/api/reels/{reel_id}/undo", { ...of(reel), body: { base: reel.revision } })),
};
