/** A copied pass, kept in the browser so that it can be pasted on any shot, in any window. */
import { create } from "zustand";

import { ask, client } from "../api/client";
import type { Look, Pass } from "../api/types";
import { say } from "../ui/notices";
import { againstNewest, enqueue, step } from "./edits";
import { acceptView, bench, documentOf, selectionsOf, setBench } from "./store";

export type Pocket = { name: string; look: Look };

const KEY = "wenditas-copied-pass";

const read = (): Pocket | null => {
  try {
    return JSON.parse(localStorage.getItem(KEY) ?? "null") as Pocket | null;
  } catch {
    return null;
  }
};

export const usePocket = create<Pocket | null>(() => read());
window.addEventListener("storage", (e) => e.key === KEY && usePocket.setState(read(), true));

/** Copy a pass with the selection that it uses, and the lanes of both. */
export function copyPass(pass: Pass) {
  const owners = [`passes/${pass.id}/`, `selections/${pass.selection}/`];
  const lanes = (documentOf(bench())?.look.lanes ?? []).filter((lane) => owners.some((owner) => lane.target.startsWith(owner)));
  const selections = selectionsOf(documentOf(bench())).filter((s) => s.id === pass.selection).map((s) => ({ ...s, reads: null }));
  const pocket: Pocket = { name: pass.name, look: { schema_version: 1, selections, passes: [pass], lanes } as Look };
  localStorage.setItem(KEY, JSON.stringify(pocket));
  usePocket.setState(pocket, true);
  say(`${pass.name} copied. Paste it behind + on this or another shot.`);
}

export function pastePass(pocket: Pocket): Promise<void> {
  return enqueue(async () => {
    const view = bench().view;
    if (!view) return;
    try {
      const body = (base: number) => ({ base, look: pocket.look as unknown as Record<string, never>, words: `${pocket.name} pasted` });
      const answer = await againstNewest((base) => client.POST("/api/shots/{shot_id}/paste", { params: { path: { shot_id: view.shot.id } }, body: body(base) }));
      if (!answer) return;
      acceptView(answer.view);
      setBench({ passId: answer.view.document.look.passes?.at(-1)?.id ?? null });
    } catch (error) {
      say(error instanceof Error ? error.message : "The pass was not pasted.", { bad: true });
    }
  });
}

/** Put something from the shelf on the shot; the selection in work serves where the look asks for a pick. */
export function putOn(item: string, name: string): Promise<void> {
  return enqueue(async () => {
    const { view, selectionId } = bench();
    if (!view) return;
    try {
      const answer = await againstNewest((base) => client.POST("/api/shots/{shot_id}/dress", { params: { path: { shot_id: view.shot.id } }, body: { base, item, selection: selectionId, frame: bench().frame } }));
      if (!answer) return;
      acceptView(answer.view);
      const passes = answer.view.document.look.passes ?? [];
      setBench({ passId: passes[0]?.id ?? null, upTo: false, solo: false, show: "result" });
      if (answer.selection) setBench({ selectionId: answer.selection, keyNumber: 0 });
      if (answer.asks) setBench({ asks: answer.asks, tool: "add" });
      if (answer.warning) say(answer.warning, { bad: true });
      say(`${name} is on.`, { action: { name: "Undo", run: () => void step("undo") } });
    } catch (error) {
      say(error instanceof Error ? error.message : "The look was not put on.", { bad: true });
    }
  });
}

/** Save the look, or one pass, on the shelf. */
export async function saveOnShelf(name: string, words: string, only: string | null) {
  const view = bench().view;
  if (!view) return;
  try {
    await ask(client.POST("/api/shelf", { body: { shot: view.shot.id, revision: view.revision, name, words, only } }));
    say(`“${name}” is on the shelf.`);
  } catch (error) {
    say(error instanceof Error ? error.message : "Nothing was saved.", { bad: true });
  }
}
