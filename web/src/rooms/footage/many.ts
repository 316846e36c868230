/** What is done with several pieces of footage at once: each has a way back. */
import { footage, shots as shotCalls } from "../../api/footage";
import { projects } from "../../api/projects";
import { reels } from "../../api/reels";
import type { Command, Footage as Piece, ShotRow } from "../../api/types";
import { newId } from "../../engine/ids";
import type { Doing } from "../../panels/doing";

type ShotsOf = ReadonlyMap<string, ShotRow[]>;

const counted = (pieces: readonly Piece[]) => (pieces.length === 1 ? `“${pieces[0]!.name}”` : `${pieces.length} files`);

/** The first shot of each piece; one is made of those that have none. */
async function shotsOf(pieces: readonly Piece[], shots: ShotsOf): Promise<ShotRow[]> {
  const found: ShotRow[] = [];
  for (const piece of pieces) found.push(shots.get(piece.id)?.[0] ?? (await shotCalls.make(piece.id)));
  return found;
}

/** At the end of the reel, in the order in which they are shown. Sound without pictures is left out. */
export async function putInReel(pieces: readonly Piece[], shots: ShotsOf, { project, say, go, carryOut }: Doing) {
  const seen = pieces.filter((p) => !p.facts.wave && p.state === "here");
  if (!seen.length) return say("Sound goes below the reel: choose it there as its sound track.");
  const put = async () => {
    const rows = await shotsOf(seen, shots);
    const views = await Promise.all(rows.map((row) => shotCalls.view(row.id)));
    const reel = await projects.reel(project);
    const commands: Command[] = views.map(({ shot, document }) => ({ do: "add", target: "items", value: { id: newId(), shot: shot.id, first: document.first, last: document.last }, before: null }));
    await reels.edit(reel, newId(), commands, `${rows.length === 1 ? rows[0]!.name : `${rows.length} shots`} put into the reel`);
    return true;
  };
  if (await carryOut(put(), "everything")) say(`${counted(seen)} ${seen.length === 1 ? "stands" : "stand"} at the end of the reel.`, { action: { name: "Open the reel", run: () => go(`/projects/${project}/reel`) } });
}

/** Out of the project, with their shots, and back again. Whether they are. */
export async function removeMany(pieces: readonly Piece[], { say, carryOut }: Doing): Promise<boolean> {
  const each = async (how: (id: string) => Promise<unknown>) => {
    for (const piece of pieces) await how(piece.id);
    return true;
  };
  if (!(await carryOut(each(footage.remove)))) return false;
  say(`${counted(pieces)} removed, with ${pieces.length === 1 ? "its" : "their"} shots.`, { action: { name: "Undo", run: () => void carryOut(each(footage.restore)) } });
  return true;
}

/** A look on their shots, its keys fitted again; what was there becomes a take of each. */
export async function putLookOn(pieces: readonly Piece[], shots: ShotsOf, column: string, name: string, { project, say, carryOut }: Doing) {
  const seen = pieces.filter((p) => !p.facts.wave && p.state === "here");
  const put = async () => {
    const had = seen.flatMap((p) => shots.get(p.id) ?? []);
    const made = await shotsOf(seen.filter((p) => !shots.get(p.id)?.length), shots);
    return projects.carry(project, { shots: [...had, ...made].map((s) => s.id), column, shapes: false, sure: false });
  };
  const answer = await carryOut(put());
  if (!answer) return;
  const made = Object.keys(answer.made).length;
  if (made) say(`“${name}” is on ${made === 1 ? "one shot" : `${made} shots`}; what was there is kept as a take.`, { action: { name: "Undo", run: () => void carryOut(projects.carryBack(project, answer.made)) } });
  for (const message of new Set(Object.values(answer.refused))) say(message, { bad: true });
}

/** Its shot on the Bench; where it has none, a new one. */
export async function openOnBench(piece: Piece, shots: ShotsOf, { project, go, carryOut }: Doing) {
  const known = shots.get(piece.id)?.[0];
  const shot = known ?? (await carryOut(shotCalls.make(piece.id)));
  if (shot) go(`/projects/${project}/shots/${shot.id}`);
}
