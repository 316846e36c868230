/** Edits of passes and selections, in words. */
import type { Pass, Selection, Treatment } from "../api/types";
import { writeValues } from "./animate";
import { edit } from "./edits";
import { newId } from "./ids";
import { laneOf, SWITCH, valueAt } from "./lanes";
import { meanHex } from "./oklch";
import { bench, documentOf, passesOf, passPath, rateOf, selectionPath, selectionsOf, setBench } from "./store";

const INSIDE = new Set(["remove", "shift", "fill"]); // groups that mostly serve a selection; the others finish the whole picture

/** A new pass after the chosen one, on the side of the selection that most looks want. */
export function addPass(treatment: Treatment, side?: "inside" | "outside" | "everywhere") {
  const { selectionId, passId } = bench();
  const passes = passesOf(documentOf(bench()));
  const defaultSide = treatment.id === "monochrome" ? "outside" : INSIDE.has(treatment.group) ? "inside" : "everywhere";
  const where = selectionId ? (side ?? defaultSide) : "everywhere";
  const id = newId();
  const value = { id, name: treatment.name, treatment: treatment.id, params: startOf(treatment, where === "inside" ? selectionId : null), selection: where === "everywhere" ? null : selectionId, side: where };
  const at = passes.findIndex((p) => p.id === passId) + 1 || passes.length;
  void edit([{ op: "add", path: `/look/passes/${at}`, value }], `${treatment.name} added`).then(() => setBench({ passId: id, upTo: false }));
}

/** Parameters that a new pass begins with: a recolour inside a selection starts from the mean of its picks. */
function startOf(treatment: Treatment, selectionId: string | null): Record<string, unknown> {
  if (treatment.id !== "recolour" || !selectionId) return {};
  const selection = selectionsOf(documentOf(bench())).find((s) => s.id === selectionId);
  const colours = (selection?.keys ?? []).flatMap((k) => ("picks" in k ? (k.picks ?? []).map((p) => p.colour) : []));
  return colours.length ? { original: meanHex(colours) } : {};
}

export function removePass(pass: Pass) {
  const readers = selectionsOf(documentOf(bench())).filter((s) => s.reads === pass.id);
  const patch = readers.map((s) => ({ op: "replace" as const, path: `${selectionPath(s.id)}/reads`, value: null }));
  void edit([...patch, { op: "remove", path: passPath(pass.id) }], `${pass.name} removed`);
}

export function duplicatePass(pass: Pass) {
  const id = newId();
  const at = passesOf(documentOf(bench())).findIndex((p) => p.id === pass.id) + 1;
  void edit([{ op: "add", path: `/look/passes/${at}`, value: { ...pass, id } }], `${pass.name} duplicated`).then(() => setBench({ passId: id }));
}

export function renamePass(pass: Pass, name: string) {
  void edit([{ op: "replace", path: `${passPath(pass.id)}/name`, value: name }], `${pass.name} renamed to ${name}`);
}

export function switchPass(pass: Pass) {
  const state = bench();
  const lane = laneOf(documentOf(state), `passes/${pass.id}/on`);
  const on = lane ? valueAt(lane, SWITCH, state.frame, rateOf(state.view)) === true : pass.on;
  void writeValues([{ target: `passes/${pass.id}/on`, info: SWITCH, value: !on }], `${pass.name} ${on ? "bypassed" : "switched on"}`);
}

export function movePass(from: number, to: number) {
  const passes = passesOf(documentOf(bench()));
  if (from === to || to < 0 || to >= passes.length) return;
  void edit([{ op: "move", from: `/look/passes/${from}`, path: `/look/passes/${to}` }], `${passes[from]!.name} moved`);
}

/** Where a pass applies: its side, and the selection that this needs. */
export function setSide(pass: Pass, side: Pass["side"], selection: string | null) {
  const path = passPath(pass.id);
  const where = side === "everywhere" ? null : (selection ?? pass.selection ?? bench().selectionId);
  void edit(
    [
      { op: "replace", path: `${path}/selection`, value: where },
      { op: "replace", path: `${path}/side`, value: side },
    ],
    `${pass.name}: ${side}`,
  );
}

export const usersOf = (id: string) => passesOf(documentOf(bench())).filter((p) => p.selection === id);

export function renameSelection(selection: Selection, name: string) {
  void edit([{ op: "replace", path: `${selectionPath(selection.id)}/name`, value: name }], `${selection.name} renamed to ${name}`);
}

export function duplicateSelection(selection: Selection) {
  const id = newId();
  const taken = new Set(selectionsOf(documentOf(bench())).map((s) => s.name));
  let name = `${selection.name} copy`;
  for (let n = 2; taken.has(name); n++) name = `${selection.name} copy ${n}`;
  void edit([{ op: "add", path: "/look/selections/-", value: { ...selection, id, name } }], `${selection.name} duplicated`).then(() => setBench({ selectionId: id }));
}

/** Remove a selection; passes that used it then apply everywhere and are bypassed, so that nothing changes unseen. */
export function removeSelection(selection: Selection) {
  const patch = usersOf(selection.id).flatMap((p) => {
    const path = passPath(p.id);
    return [
      { op: "replace" as const, path: `${path}/selection`, value: null },
      { op: "replace" as const, path: `${path}/side`, value: "everywhere" },
      { op: "replace" as const, path: `${path}/on`, value: false },
    ];
  });
  void edit([...patch, { op: "remove", path: selectionPath(selection.id) }], `Selection ${selection.name} removed`);
}
