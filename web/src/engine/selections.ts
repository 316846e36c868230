/** Edits of selections and their keys, in words; picks. */
import type { Command, Key, KeyInfo, Pass, Pick, Selection } from "../api/types";
import type { BenchSession } from "./bench";

export const usersOf = (engine: BenchSession, id: string): Pass[] => engine.passes.filter((p) => p.selection === id);

export const renameSelection = (engine: BenchSession, selection: Selection, name: string) =>
  void engine.document.edit([{ do: "set", target: engine.target.of("selections", selection.id, "name"), value: name }], `${selection.name} renamed to ${name}`);

export function duplicateSelection(engine: BenchSession, selection: Selection) {
  const id = engine.around.newId();
  const taken = new Set(engine.selections.map((s) => s.name));
  let name = `${selection.name} copy`;
  for (let n = 2; taken.has(name); n++) name = `${selection.name} copy ${n}`;
  void engine.document.edit([{ do: "add", target: engine.target.of("selections"), value: { ...selection, id, name } }], `${selection.name} duplicated`);
  engine.choice.set({ selectionId: id });
}

/** Remove a selection; passes that used it then apply everywhere and are bypassed, so that nothing changes unseen. */
export function removeSelection(engine: BenchSession, selection: Selection) {
  const freed = usersOf(engine, selection.id).flatMap((p) =>
    (
      [
        ["selection", null],
        ["side", "everywhere"],
        ["on", false],
      ] as const
    ).map(([field, value]): Command => ({ do: "set", target: engine.target.of("passes", p.id, field), value })),
  );
  void engine.document.edit([...freed, { do: "remove", target: engine.target.of("selections", selection.id) }], `Selection ${selection.name} removed`);
}

export const setReads = (engine: BenchSession, selection: Selection, id: string | null, name: string) =>
  void engine.document.edit([{ do: "set", target: engine.target.of("selections", selection.id, "reads"), value: id }], `${selection.name} reads ${name}`);

/** The key that is chosen, or the first. */
export const keyOf = (selection: Selection | null, keyId: string | null): Key | null => selection?.keys?.find((k) => k.id === keyId) ?? selection?.keys?.[0] ?? null;

const keyTarget = (engine: BenchSession, selection: Selection, key: Key, ...more: string[]) => engine.target.of("selections", selection.id, "keys", key.id!, ...more);

export function addKey(engine: BenchSession, selection: Selection, info: KeyInfo) {
  const id = engine.around.newId();
  const params = Object.fromEntries(info.params.map((p) => [p.key, p.kind === "switch" ? !!p.default : p.default]));
  const picks = info.id === "hue" || info.id === "colour" ? { picks: [], refused: [] } : {};
  const value = { id, type: info.id, on: true, combine: selection.keys?.length ? "intersect" : "add", ...picks, ...params };
  void engine.document.edit([{ do: "add", target: engine.target.of("selections", selection.id, "keys"), value }], `Key ${info.name.toLowerCase()} added`);
  engine.choice.set({ keyId: id });
}

export const setOfKey = (engine: BenchSession, selection: Selection, key: Key, field: "on" | "combine", value: unknown, words: string) =>
  void engine.document.edit([{ do: "set", target: keyTarget(engine, selection, key, field), value }], words);

/** Move a key one place earlier or later. */
export function shiftKey(engine: BenchSession, selection: Selection, key: Key, by: -1 | 1, words: string) {
  const keys = selection.keys ?? [];
  const at = keys.findIndex((k) => k.id === key.id);
  const before = by < 0 ? keys[at - 1]?.id : keys[at + 2]?.id;
  if (at + by < 0 || at + by >= keys.length) return;
  void engine.document.edit([{ do: "move", target: keyTarget(engine, selection, key), before: before ?? null }], words);
}

export const removeKey = (engine: BenchSession, selection: Selection, key: Key, words: string) =>
  void engine.document.edit([{ do: "remove", target: keyTarget(engine, selection, key) }], words);

export const removePick = (engine: BenchSession, selection: Selection, key: Key, field: "picks" | "refused", pick: Pick) =>
  void engine.document.edit([{ do: "remove", target: `${keyTarget(engine, selection, key, field)}/${pick.id}` }], field === "picks" ? "Pick removed" : "Not-this pick removed");

/** Show what one pick alone selects, until the function that is given back is called. */
export function showPickAlone(engine: BenchSession, selection: Selection, key: Key, pick: Pick): () => void {
  const { show } = engine.now;
  const commands: Command[] = [
    { do: "set", target: keyTarget(engine, selection, key, "picks"), value: [pick] },
    { do: "set", target: keyTarget(engine, selection, key, "refused"), value: [] },
  ];
  engine.document.show(commands);
  engine.stage.set({ show: "selected" });
  return () => {
    engine.document.drop();
    engine.stage.set({ show });
  };
}

/** A click in the picture (or a dragged box) with one of the pick tools. */
export async function pick(engine: BenchSession, x: number, y: number, refuse: boolean, selection: string | null, box = { width: 0, height: 0 }, name: string | null = null) {
  const { frame, patch, keyId } = engine.now;
  const answer = await engine.ask("picks", { frame, x, y, patch, ...box, selection, refuse, key: keyId, name }, "The pick was not stored.");
  if (!answer) return;
  engine.choice.set({ selectionId: String(answer["selection"]), tool: refuse ? "refuse" : "add", ...(selection === null ? { keyId: null, shapeId: null } : {}) });
  if (answer["note"]) engine.done(String(answer["note"]), answer.made);
}


/** Fit a key by hue to its picks. Where that would select much more than before, it is shown and asked about first. */
export async function fit(engine: BenchSession, selection: Selection, key: Key, sure = false) {
  leaveFit(engine);
  const answer = await engine.ask("fit", { selection: selection.id, key: key.id, frame: engine.timeline.frame, sure }, "That did not work.");
  if (!answer) return;
  const words = String(answer["words"]);
  if (answer["asks"]) {
    const commands = answer["commands"] as Command[];
    engine.choice.set({ fitting: { selection: selection.id, key: key.id!, words, before: Number(answer["before"]), after: Number(answer["after"]), commands } });
    engine.document.show(commands);
    return;
  }
  if (answer["apart"] || !("refused" in key && key.refused?.length)) return engine.done(words, answer.made);
  engine.around.say(words, { action: { name: "Draw a shape", run: () => engine.choice.set({ drawing: "ellipse", shapeId: null }) }, bad: true, seen: true });
}

/** Whether a selection is keyed by colour as older versions did: its edge does not follow the picture's. */
export const keyedTheOlderWay = (selection: Selection) => selection.cleaning?.follow === 0 && !!selection.keys?.some((k) => k.on !== false && k.type !== "alpha");

/** Key a selection as new ones are, and show both: as it was on the left, as it is on the right. */
export async function renew(engine: BenchSession, selection: Selection) {
  const before = engine.view.revision;
  const answer = await engine.ask("renewed", { selection: selection.id }, "That did not work.");
  if (!answer) return;
  engine.stage.set({ against: { revision: before, name: "as it was" }, compare: "wipe", show: "result" });
  engine.done(`${selection.name} is keyed the newer way: as it was on the left, as it is on the right.`, answer.made);
}

/** Leave a fit that was asked about. */
export function leaveFit(engine: BenchSession) {
  if (!engine.now.fitting) return;
  engine.choice.set({ fitting: null });
  engine.document.drop();
}
