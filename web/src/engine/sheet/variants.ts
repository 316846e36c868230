/** Variants of a shot's look: what is varied, and the values that are tried. */
import type { Command, ParamInfo, Pass, Treatment } from "../../api/types";
import type { Document } from "../document";
import type { Palette } from "../palettes";

/** of: a parameter's key, or "presets" or "palettes". */
export type VariantOf = { shot: string | null; pass: string | null; of: string | null; count: number };
/** palette: the colours of one that is put into the pass. */
export type Variant = { name: string; sets: [string, unknown][]; palette?: string[] };

const SETS = new Set(["inks", "palettes"]); // finished sets, which say more than one number

const at = (pass: Pass, key: string) => `look/passes/${pass.id}/params/${key}`;
const told = (value: number, info: ParamInfo) => `${Number(value.toFixed(info.step < 1 ? 2 : 0))}${info.unit ? ` ${info.unit}` : ""}`;

/** What of a pass can be varied: its numbers, two inks where it has a dark and a light colour, its presets, the palettes that are kept. */
export function variable(treatment: Treatment | undefined, palettes: number): { of: string; name: string }[] {
  if (!treatment) return [];
  const numbers = treatment.params.filter((p) => p.kind === "number").map((p) => ({ of: p.key, name: p.name }));
  const choices = treatment.params.filter((p) => p.kind === "choice").map((p) => ({ of: p.key, name: p.name }));
  const inks = inksOf(treatment) ? [{ of: "inks", name: "Every pair of inks" }] : [];
  const presets = Object.keys(treatment.presets).length ? [{ of: "presets", name: "Every preset" }] : [];
  return [...inks, ...(treatment.takes_palette && palettes ? [{ of: "palettes", name: "Every palette" }] : []), ...presets, ...choices, ...numbers];
}

/** The dark and the light colour of a treatment that prints with two. */
function inksOf(treatment: Treatment): [string, string] | null {
  const named = (word: string) => treatment.params.find((p) => p.kind === "colour" && p.key.startsWith(word))?.key;
  const [dark, light] = [named("dark"), named("light")];
  return dark && light ? [dark, light] : null;
}

/** What of a look is varied: what is chosen where it is there, else the pass that says most. offered: all that could be; counted: whether it goes in as many steps as one likes. */
export function varied(passes: readonly Pass[], treatments: readonly Treatment[], palettes: number, chosen: Pick<VariantOf, "pass" | "of">) {
  const treatmentOf = (pass: Pass | undefined) => treatments.find((t) => t.id === pass?.treatment);
  const offeredBy = (pass: Pass | undefined) => variable(treatmentOf(pass), palettes);
  const pass = passes.find((p) => p.id === chosen.pass) ?? passes.find((p) => SETS.has(offeredBy(p)[0]?.of ?? "")) ?? passes.find((p) => offeredBy(p).length);
  const treatment = treatmentOf(pass);
  const offered = offeredBy(pass);
  const of = offered.some((o) => o.of === chosen.of) ? chosen.of : (offered[0]?.of ?? null);
  return { pass, treatment, offered, of, counted: treatment?.params.find((p) => p.key === of)?.kind === "number" };
}

/** Make a variant the look of its shot: one edit, like any other. The revision that it made; null where it was refused, which is said. */
export async function makeVariant(document: Document, variant: Variant, pass: Pass): Promise<number | null> {
  const commands = variant.sets.map(([target, value]): Command => ({ do: "set", target, value }));
  const answer = variant.palette ? await document.ask("palette", { of: pass.id, colours: variant.palette, name: variant.name }) : await document.edit(commands, `Variant: ${variant.name}`);
  return answer?.made ?? null;
}

/** The variants of a pass. palettes: those that are kept; pairs: of a dark and a light ink; words: how a number is told. */
export function variantsOf(pass: Pass, treatment: Treatment | undefined, { of, count }: Pick<VariantOf, "of" | "count">, palettes: Palette[], pairs: Palette[], words = told): Variant[] {
  if (!treatment || !of) return [];
  const sets = (values: Record<string, unknown>) => Object.entries(values).map(([key, value]): [string, unknown] => [at(pass, key), value]);
  if (of === "presets") return Object.entries(treatment.presets).map(([name, values]) => ({ name, sets: sets(values) }));
  if (of === "palettes") return palettes.map((p) => ({ name: p.name, sets: [], palette: p.colours }));
  const inks = inksOf(treatment);
  if (of === "inks") return inks ? pairs.map(({ name, colours }) => ({ name, sets: sets({ [inks[0]]: colours[0], [inks[1]]: colours[1] }) })) : [];
  const info = treatment.params.find((p) => p.key === of);
  if (!info) return [];
  if (info.kind === "choice") return (info.choices ?? []).map((value) => ({ name: value, sets: sets({ [of]: value }) }));
  const steps = Math.max(2, count);
  return Array.from({ length: steps }, (_, n) => {
    const raw = info.low + ((info.high - info.low) * n) / (steps - 1);
    const value = Number((Math.round(raw / info.step) * info.step).toFixed(6));
    return { name: words(value, info), sets: sets({ [of]: value }) };
  });
}
