/** Palettes put into passes. */
import type { Treatment } from "../api/types";
import type { BenchSession } from "./bench";
import { addPass } from "./passes";

export type Palette = { name: string; colours: string[] };

/** Put a palette into a pass that takes one. */
export async function putPalette(engine: BenchSession, of: string, palette: Palette) {
  const answer = await engine.ask("palette", { of, ...palette }, "The palette was not put in.");
  if (answer) engine.done(`${palette.name} is in ${engine.passes.find((p) => p.id === of)?.name ?? "the pass"}.`, answer.made);
}

/** Put a palette from the shelf into the chosen pass, or where that takes none into a new gradient map. */
export async function takePalette(engine: BenchSession, treatments: Treatment[], palette: Palette) {
  const takes = treatments.find((t) => t.id === engine.pass?.treatment)?.takes_palette;
  const map = treatments.find((t) => t.id === "gradient-map");
  if (!takes && map) await addPass(engine, map);
  if (engine.pass) await putPalette(engine, engine.pass.id, palette);
}
