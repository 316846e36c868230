/** Shots as they go into the reel. */
import { ask, client } from "../../api/client";
import { addPieces, insertPieces, replaceWith, type Piece } from "../../engine/reel/cutting";
import type { ReelSession } from "../../engine/reel/reel";

/** Shots from their ins to their outs. */
export const piecesOf = (ids: readonly string[]): Promise<Piece[]> =>
  Promise.all(
    ids.map(async (id) => {
      const { document } = await ask(client.GET("/api/shots/{shot_id}", { params: { path: { shot_id: id } } }));
      return { shot: id, first: document.first, last: document.last };
    }),
  );

/** What is done with shots once they are read; what fails is said. */
const withPieces = (reel: ReelSession, ids: readonly string[], then: (pieces: Piece[]) => Promise<unknown> | void) => {
  reel.around.settle();
  return piecesOf(ids).then(then).catch((error: Error) => reel.around.say(error.message, { bad: true }));
};

/** Shots put in before an item, or at the end. */
export const putIn = (reel: ReelSession, ids: readonly string[], before: string | null) => withPieces(reel, ids, (pieces) => addPieces(reel, pieces, before));

/** Shots put in at the playhead. */
export const putAtPlayhead = (reel: ReelSession, ids: readonly string[]) => withPieces(reel, ids, (pieces) => insertPieces(reel, pieces));

/** A shot in place of what is at the playhead. */
export const putInPlace = (reel: ReelSession, id: string) => withPieces(reel, [id], ([piece]) => replaceWith(reel, piece!));
