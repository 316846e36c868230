/** Edits of passes, in words. */
import type { Command, Lane, ParamInfo, Pass, Side, Treatment } from "../api/types";
import { bandsOfFrame } from "./bands";
import { bundleBetween, membersOf } from "./bundles";
import { meanHex } from "../colour/oklch";
import type { BenchSession } from "./bench";
import { SWITCH } from "./lanes";

/** The pass after a pass; null where it is the last, or none is given. Behind a chosen bundle stands what follows all of it. */
const after = (engine: BenchSession, id: string | null) => {
  const at = engine.passes.findIndex((p) => p.id === id);
  return at < 0 ? null : (engine.passes[at + 1]?.id ?? null);
};

/** A new pass after the chosen one, on the side of the selection that most looks want. */
export async function addPass(engine: BenchSession, treatment: Treatment, side?: Side) {
  const { selectionId, passId, bundleId, open } = engine.now;
  // It joins the bundle of the chosen pass where that is open; else it stands behind all of it.
  const own = engine.pass?.bundle ?? null;
  const joins = own !== null && !bundleId && open.includes(own);
  const behind = own !== null && !joins ? membersOf(engine, own).at(-1)!.id : passId;
  const where = selectionId ? (side ?? treatment.begins) : "everywhere";
  const id = engine.around.newId();
  const bands = treatment.params.find((p) => p.kind === "bands");
  const found = bands ? await bandsOfFrame(engine, bands.fields as ParamInfo[]).catch(() => []) : [];
  const started = bands && found.length ? { [bands.key]: found } : {};
  const params = { ...Object.fromEntries(treatment.params.map((p) => [p.key, p.default])), ...started, ...startOf(engine, treatment, where === "everywhere" ? null : selectionId) };
  const value = { id, name: treatment.name, on: true, treatment: treatment.id, params, selection: where === "everywhere" ? null : selectionId, side: where, reads: "running", blend: "normal", amount: 100, bundle: joins ? own : null };
  void engine.document.edit([{ do: "add", target: engine.target.of("passes"), value, before: after(engine, behind) }], `${treatment.name} added`);
  engine.choosePass(id);
  engine.stage.set({ upTo: false });
}

/** Parameters that a new pass begins with: the one that follows picks is the mean of its selection's. */
function startOf(engine: BenchSession, treatment: Treatment, selectionId: string | null): Record<string, unknown> {
  const param = treatment.follows_picks;
  if (!param || !selectionId) return {};
  const selection = engine.selections.find((s) => s.id === selectionId);
  const colours = (selection?.keys ?? []).flatMap((k) => ("picks" in k ? (k.picks ?? []).map((p) => p.colour) : []));
  return colours.length ? { [param]: meanHex(colours) } : {};
}

export function removePass(engine: BenchSession, pass: Pass) {
  const readers = engine.selections.filter((s) => s.reads === pass.id);
  const commands = readers.map((s) => ({ do: "set" as const, target: engine.target.of("selections", s.id, "reads"), value: null }));
  void engine.document.edit([...commands, { do: "remove", target: engine.target.of("passes", pass.id) }], `${pass.name} removed`);
}

export function duplicatePass(engine: BenchSession, pass: Pass) {
  const id = engine.around.newId();
  const lanes = (engine.shown.look.lanes ?? []).filter((lane) => lane.target.startsWith(`passes/${pass.id}/`));
  const copies = lanes.map((lane): Lane => ({ ...lane, target: `passes/${id}/${lane.target.slice(`passes/${pass.id}/`.length)}` }));
  const add: Command = { do: "add", target: engine.target.of("passes"), value: { ...pass, id }, before: after(engine, pass.id) };
  void engine.document.edit([add, ...engine.target.lanes(copies)], `${pass.name} duplicated`);
  engine.choosePass(id);
}

export const renamePass = (engine: BenchSession, pass: Pass, name: string) =>
  void engine.document.edit([{ do: "set", target: engine.target.of("passes", pass.id, "name"), value: name }], `${pass.name} renamed to ${name}`);

/** Set a value of a pass that cannot be animated. */
export const setOfPass = (engine: BenchSession, pass: Pass, field: "blend" | "reads" | "params", value: unknown, words: string) =>
  void engine.document.edit([{ do: "set", target: engine.target.of("passes", pass.id, field), value }], words);

export function switchPass(engine: BenchSession, pass: Pass) {
  const target = `passes/${pass.id}/on`;
  const on = engine.target.value(target, SWITCH, pass.on) === true;
  void engine.target.write([{ target, info: SWITCH, value: !on }], `${pass.name} ${on ? "bypassed" : "switched on"}`);
}

/** Move a pass before another, to the end where there is none. Between two passes of a bundle it belongs to that. */
export function movePass(engine: BenchSession, pass: Pass, before: string | null) {
  const others = engine.passes.filter((p) => p.id !== pass.id);
  const at = before === null ? others.length : others.findIndex((p) => p.id === before);
  const bundle = bundleBetween(pass, others[at - 1], others[at], !others.some((p) => p.bundle === pass.bundle));
  const joins: Command[] = bundle === (pass.bundle ?? null) ? [] : [{ do: "set", target: engine.target.of("passes", pass.id, "bundle"), value: bundle }];
  void engine.document.edit([{ do: "move", target: engine.target.of("passes", pass.id), before }, ...joins], `${pass.name} moved`);
}

/** Move a pass one place earlier or later. */
export function shiftPass(engine: BenchSession, pass: Pass, by: -1 | 1) {
  const passes = engine.passes;
  const at = passes.findIndex((p) => p.id === pass.id);
  if (at < 0 || at + by < 0 || at + by >= passes.length) return;
  movePass(engine, pass, by < 0 ? passes[at - 1]!.id : (passes[at + 2]?.id ?? null));
}

/** Where a pass applies: its side, and the selection that this needs. */
export function setSide(engine: BenchSession, pass: Pass, side: Pass["side"], selection: string | null) {
  const where = side === "everywhere" ? null : (selection ?? pass.selection ?? engine.now.selectionId);
  const target = (field: string) => engine.target.of("passes", pass.id, field);
  void engine.document.edit(
    [
      { do: "set", target: target("selection"), value: where },
      { do: "set", target: target("side"), value: side },
    ],
    `${pass.name}: ${side}`,
  );
}
