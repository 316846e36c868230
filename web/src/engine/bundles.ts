/** Edits of bundles, in words: runs of passes that are laid over what was there as one. */
import type { Bundle, Command, Pass } from "../api/types";
import type { BenchSession } from "./bench";
import { SWITCH } from "./lanes";

const target = (engine: BenchSession, bundle: Bundle, ...more: string[]) => engine.target.of("bundles", bundle.id, ...more);
const put = (engine: BenchSession, pass: Pass, bundle: string | null): Command => ({ do: "set", target: engine.target.of("passes", pass.id, "bundle"), value: bundle });

export const membersOf = (engine: BenchSession, bundle: string): Pass[] => engine.passes.filter((p) => p.bundle === bundle);

/** The strip's units: passes that stand alone, and bundles with theirs. */
export type Unit = { bundle: Bundle | null; passes: Pass[] };
export function unitsOf(passes: readonly Pass[], bundles: readonly Bundle[]): Unit[] {
  const units: Unit[] = [];
  for (const pass of passes) {
    const bundle = bundles.find((b) => b.id === pass.bundle) ?? null;
    const last = units.at(-1);
    if (bundle && last?.bundle?.id === bundle.id) last.passes.push(pass);
    else units.push({ bundle, passes: [pass] });
  }
  return units;
}

/** Make a bundle of the passes from one to another; bundles that they touch are taken in whole. */
export function bundle(engine: BenchSession, from: string, to: string) {
  const { passes, bundles } = engine;
  const ends = [from, to].map((id) => passes.findIndex((p) => p.id === id)).sort((a, b) => a - b);
  if (ends[0]! < 0) return;
  const touched = new Set(passes.slice(ends[0], ends[1]! + 1).map((p) => p.bundle).filter(Boolean));
  const run = passes.filter((p, n) => (n >= ends[0]! && n <= ends[1]!) || touched.has(p.bundle));
  const id = engine.around.newId();
  const taken = new Set(bundles.map((b) => b.name));
  let name = "Bundle";
  for (let n = 2; taken.has(name); n++) name = `Bundle ${n}`;
  const value: Bundle = { id, name, on: true, selection: null, side: "everywhere", blend: "normal", amount: 100 };
  const gone = [...touched].map((b): Command => ({ do: "remove", target: engine.target.of("bundles", b!) }));
  const add: Command = { do: "add", target: engine.target.of("bundles"), value };
  void engine.document.edit([...gone, add, ...run.map((p) => put(engine, p, id))], `${run.length} passes bundled`);
  engine.choice.chooseBundle(id, run.at(-1)!.id);
  engine.stage.set({ upTo: false });
}

/** Let the passes of a bundle stand alone again. */
export function unbundle(engine: BenchSession, of: Bundle) {
  const freed = membersOf(engine, of.id).map((p) => put(engine, p, null));
  void engine.document.edit([...freed, { do: "remove", target: target(engine, of) }], `${of.name} taken apart`);
}

/** Take a pass out of its bundle: it stands after it then. */
export function takeOut(engine: BenchSession, pass: Pass, of: Bundle) {
  const { passes } = engine;
  const members = membersOf(engine, of.id);
  const behind = passes[passes.findIndex((p) => p.id === members.at(-1)!.id) + 1]?.id ?? null;
  const gone: Command[] = members.length === 1 ? [{ do: "remove", target: target(engine, of) }] : [{ do: "move", target: engine.target.of("passes", pass.id), before: behind }];
  void engine.document.edit([put(engine, pass, null), ...gone], `${pass.name} taken out of ${of.name}`);
}

export function removeBundle(engine: BenchSession, of: Bundle) {
  const members = membersOf(engine, of.id);
  const readers = engine.selections.filter((s) => members.some((p) => p.id === s.reads));
  const freed = readers.map((s): Command => ({ do: "set", target: engine.target.of("selections", s.id, "reads"), value: null }));
  const gone = members.map((p): Command => ({ do: "remove", target: engine.target.of("passes", p.id) }));
  void engine.document.edit([...freed, ...gone, { do: "remove", target: target(engine, of) }], `${of.name} removed`);
}

export const renameBundle = (engine: BenchSession, of: Bundle, name: string) => void engine.document.edit([{ do: "set", target: target(engine, of, "name"), value: name }], `${of.name} renamed to ${name}`);

export const setBlend = (engine: BenchSession, of: Bundle, blend: string) => void engine.document.edit([{ do: "set", target: target(engine, of, "blend"), value: blend }], `${of.name}: ${blend}`);

export function setBundleSide(engine: BenchSession, of: Bundle, side: Bundle["side"], selection: string | null) {
  const where = side === "everywhere" ? null : (selection ?? of.selection ?? engine.now.selectionId);
  void engine.document.edit(
    [
      { do: "set", target: target(engine, of, "selection"), value: where },
      { do: "set", target: target(engine, of, "side"), value: side },
    ],
    `${of.name}: ${side}`,
  );
}

export function switchBundle(engine: BenchSession, of: Bundle) {
  const on = engine.target.value(`bundles/${of.id}/on`, SWITCH, of.on) === true;
  void engine.target.write([{ target: `bundles/${of.id}/on`, info: SWITCH, value: !on }], `${of.name} ${on ? "bypassed" : "switched on"}`);
}

/** Move a bundle with its passes one place earlier or later. */
export function shiftBundle(engine: BenchSession, of: Bundle, by: -1 | 1) {
  const units = unitsOf(engine.passes, engine.bundles);
  const at = units.findIndex((u) => u.bundle?.id === of.id);
  if (at < 0 || !units[at + by]) return;
  const before = by < 0 ? units[at - 1]!.passes[0]!.id : (units[at + 2]?.passes[0]!.id ?? null);
  void engine.document.edit(units[at]!.passes.map((p): Command => ({ do: "move", target: engine.target.of("passes", p.id), before })), `${of.name} moved`);
}

/** The bundle that a pass belongs to between two others: that of both, or its own where one of them is of it. */
export function bundleBetween(pass: Pass, before: Pass | undefined, after: Pass | undefined, alone: boolean): string | null {
  if (before?.bundle && before.bundle === after?.bundle) return before.bundle;
  if (pass.bundle && (before?.bundle === pass.bundle || after?.bundle === pass.bundle || alone)) return pass.bundle;
  return null;
}
