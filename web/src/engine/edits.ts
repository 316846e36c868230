/** Edits as they are listed: what changed one value again and again is one line. */
import type { EditRow } from "../api/types";
import { found } from "./search";

/** Edits that are told together, newest first, and the words for all of them. */
export type Run = { edits: EditRow[]; words: string };

const CHANGE = /^(.*?)(\S+(?: %)?) → (.*)$/;

/** Of a change of one value: what is changed, from what, to what. */
const changeOf = (words: string) => {
  const match = CHANGE.exec(words);
  return match && { what: match[1]!, from: match[2]!, to: match[3]! };
};

/** Edits in runs: next to each other, on the same branch, of the same value. */
export function runsOf(edits: readonly EditRow[]): Run[] {
  const runs: Run[] = [];
  for (const edit of edits) {
    const last = runs.at(-1);
    const [newest, oldest] = [last && changeOf(last.edits[0]!.words), changeOf(edit.words)];
    if (last && newest && oldest && newest.what === oldest.what && last.edits[0]!.current === edit.current) {
      last.edits.push(edit);
      last.words = `${newest.what}${oldest.from} → ${newest.to}`;
    } else runs.push({ edits: [edit], words: edit.words });
  }
  return runs;
}

/** Those of which every word that is looked for is in what is told of them. */
export const editsFor = (edits: readonly EditRow[], typed: string): EditRow[] =>
  typed.trim() ? found(edits.map((edit) => ({ edit, name: edit.words, summary: "", intents: [] })), typed).map(({ edit }) => edit).sort((a, b) => b.id - a.id) : [...edits];
