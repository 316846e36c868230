/** A copied pass, kept in the browser so that it can be pasted on any shot, in any window; looks from the shelf and from files. */
import type { Look, Pass } from "../api/types";
import type { BenchSession } from "./bench";

export type Pocket = { name: string; look: Look };

export function readPocket(text: string | null): Pocket | null {
  try {
    return JSON.parse(text ?? "null") as Pocket | null;
  } catch {
    return null;
  }
}

/** Copy a pass with the selection that it uses, and the lanes of both. */
export function copyPass(engine: BenchSession, pass: Pass) {
  const owners = [`passes/${pass.id}/`, `selections/${pass.selection}/`];
  const lanes = (engine.shown.look.lanes ?? []).filter((lane) => owners.some((owner) => lane.target.startsWith(owner)));
  const selections = engine.selections.filter((s) => s.id === pass.selection).map((s) => ({ ...s, reads: null }));
  const { schema_version } = engine.shown.look;
  engine.around.pocket.put(JSON.stringify({ name: pass.name, look: { schema_version, selections, passes: [{ ...pass, bundle: null }], lanes } }));
  engine.around.say(`${pass.name} copied. Paste it behind + on this or another shot.`);
}

/** Copy an address that opens the shot with a pass chosen. */
export async function copyLink(engine: BenchSession, pass: Pass) {
  const link = new URL(location.href);
  link.searchParams.set("at", engine.target.of("passes", pass.id));
  await navigator.clipboard.writeText(link.href).then(
    () => engine.around.say(`A link to ${pass.name} is on the clipboard.`),
    () => engine.around.say(link.href),
  );
}

export async function pastePass(engine: BenchSession, pocket: Pocket) {
  const answer = await engine.ask("paste", { look: pocket.look, words: `${pocket.name} pasted` }, "The pass was not pasted.");
  if (answer) engine.choosePass(answer.view.document.look.passes?.at(-1)?.id ?? null);
}

/** Where a look goes: in place of the shot's passes, after or before them. */
export type Where = "instead" | "after" | "before";

/** Put something from the shelf on the shot; the selection in work serves where the look asks for a pick. */
export async function putOn(engine: BenchSession, item: string, name: string, where: Where = "instead") {
  const { selectionId, frame } = engine.now;
  const had = new Set(engine.passes.map((p) => p.id));
  const answer = await engine.ask("dress", { item, where, selection: selectionId, frame }, "The look was not put on.");
  if (!answer) return;
  const chosen = answer["selection"] as string | null;
  const asks = answer["asks"] as string | null;
  engine.choosePass(answer.view.document.look.passes?.find((p) => !had.has(p.id))?.id ?? null, true);
  engine.stage.set({ upTo: false, solo: false });
  engine.choice.set({
    asks: asks && chosen ? { words: asks, selection: chosen } : null,
    ...(chosen ? { selectionId: chosen, keyId: null } : {}),
    ...(asks ? { tool: "add" as const } : {}),
  });
  if (answer["warning"]) engine.around.say(String(answer["warning"]), { bad: true, seen: true });
  engine.done(`${name} is on.`, answer.made);
}

export async function loadLook(engine: BenchSession, text: string) {
  const answer = await engine.ask("look", { text }, "The look was not loaded.");
  if (answer) engine.done("Look loaded.", answer.made);
}

/** Save the look, or one pass, on the shelf: with what is still being typed, once it is stored. */
export async function saveOnShelf(engine: BenchSession, name: string, words: string, only: string | null) {
  engine.around.settle();
  await engine.document.idle();
  const { shot, revision } = engine.view;
  try {
    await engine.around.server.putOnShelf({ shot: shot.id, revision, name, words, only });
    engine.around.say(`“${name}” is on the shelf.`);
  } catch (error) {
    engine.around.say(error instanceof Error ? error.message : "Nothing was saved.", { bad: true });
  }
}

/** Make any state of the shot the one in work. What came after it stays in the history. touched: targets, of which the first is chosen then. */
export async function goTo(engine: BenchSession, revision: number, words: string, touched: string[] = []) {
  const before = engine.view.revision;
  if (before === revision) return;
  const answer = await engine.ask("head", { revision }, "That did not work.");
  if (answer) for (const target of touched.slice(0, 1)) engine.reveal(target);
  if (answer) engine.around.say(words, { action: { name: "Back again", run: () => void goTo(engine, before, "Back at the newer state.") } });
}
