/** Hue bands: the user's own hues, each with what becomes of it. */
import type { Command, Lane, ParamInfo, Pass, ShotDocument } from "../api/types";
import { hueOf } from "../colour/oklch";
import type { BenchSession } from "./bench";
import { laneOf, valueAt } from "./lanes";
import { passesOf } from "./scene";
import type { Change, Changed } from "./target";

export type Band = { id: string; hue: number } & Record<string, number | string>;

export const MOST_BANDS = 12;

const listOf = (engine: BenchSession, pass: Pass) => engine.target.of("passes", pass.id, "params", "bands");

const bandTarget = (pass: string, id: string, key: string) => `passes/${pass}/params/bands/${id}/${key}`;

/** The bands of a pass as they are at a frame of a document. */
export function bandsOf(document: ShotDocument, pass: string, infos: ParamInfo[], { frame, rate }: { frame: number; rate: number }): Band[] {
  const bands = (passesOf(document).find((p) => p.id === pass)?.params?.["bands"] ?? []) as Band[];
  return bands.map((band) => {
    const animated = infos.flatMap((info) => {
      const lane = laneOf(document, bandTarget(pass, band.id, info.key));
      return lane ? [[info.key, valueAt(lane, info, frame, rate)]] : [];
    });
    return { ...band, ...Object.fromEntries(animated) } as Band;
  });
}

/** What changes values of bands: no more than those that differ, at the frame on screen where they are animated. */
export function changeBands(engine: Pick<BenchSession, "document" | "target" | "timeline">, pass: { id: string }, infos: ParamInfo[], change: Change<Band[]>): Changed {
  const before = bandsOf(engine.document.stored, pass.id, infos, engine.timeline);
  const old = new Map(before.map((b) => [b.id, b]));
  return engine.target.commands(change(before).flatMap((band) => infos.filter((i) => band[i.key] !== old.get(band.id)?.[i.key]).map((info) => ({ target: bandTarget(pass.id, band.id, info.key), info, value: band[info.key] }))));
}

/** A band as it is declared to begin. */
export const newBand = (engine: BenchSession, infos: ParamInfo[], hue: number): Band => ({ id: engine.around.newId(), ...Object.fromEntries(infos.map((i) => [i.key, Number(i.default)])), hue: Math.round(hue) }) as Band;

export function addBand(engine: BenchSession, pass: Pass, infos: ParamInfo[], hue: number): string {
  const band = newBand(engine, infos, hue);
  void engine.document.edit([{ do: "add", target: listOf(engine, pass), value: band }], `${pass.name}: band at ${band.hue}°`);
  return band.id;
}

export function removeBand(engine: BenchSession, pass: Pass, band: Band) {
  void engine.document.edit([{ do: "remove", target: `${listOf(engine, pass)}/${band.id}` }], `${pass.name}: band at ${Math.round(band.hue)}° removed`);
}

/** A band at each of the frame's main colours, in the order of their hues; none where it has none. */
export async function bandsOfFrame(engine: BenchSession, infos: ParamInfo[]): Promise<Band[]> {
  const found = await engine.around.server.colours(engine.view.shot.id, engine.timeline.frame);
  const hues = found.slice(0, MOST_BANDS).map((c) => hueOf(c.colour));
  return hues.sort((a, b) => a - b).map((hue) => newBand(engine, infos, hue));
}

/** Bands at the frame's main colours, in place of those that are there. */
export async function bandsFromFrame(engine: BenchSession, pass: Pass, infos: ParamInfo[]) {
  try {
    const value = await bandsOfFrame(engine, infos);
    if (!value.length) return engine.around.say("This frame has no colours to make bands of.");
    await engine.document.edit([{ do: "set", target: listOf(engine, pass), value }], `${pass.name}: bands at the frame's main colours`);
  } catch (error) {
    engine.around.say(error instanceof Error ? error.message : "The frame's colours were not found.", { bad: true });
  }
}

/** Bands as text, one a line: the hue, then what becomes of it, in the order in which that is declared. */
export const bandsText = (bands: readonly Band[], infos: readonly ParamInfo[]): string => bands.map((band) => [`${Math.round(band.hue)}°`, ...infos.filter((i) => i.key !== "hue").map((i) => String(band[i.key]))].join("  ")).join("\n");

/** Bands as they are typed: a hue in degrees or a colour to each line, with values after it or without. hueOfWord: of a colour; null where it is none. */
export function readBands(text: string, infos: readonly ParamInfo[], hueOfWord: (word: string) => number | null): { found: Omit<Band, "id">[] } | { wrong: string } {
  const rest = infos.filter((i) => i.key !== "hue");
  const found: Omit<Band, "id">[] = [];
  for (const line of text.split(/[\n;]/).filter((l) => l.trim())) {
    const [first, ...values] = line.match(/[a-z-]+\([^)]*\)|[^\s,]+/gi) ?? [];
    const degrees = /^(\d+(?:\.\d+)?)°?$/.exec(first ?? "");
    const hue = degrees ? Number(degrees[1]) % 360 : hueOfWord(first ?? "");
    if (hue === null) return { wrong: `“${first}” is neither a hue in degrees nor a colour.` };
    const numbers = values.map((v) => Number(v.replace(/[%°]$/, "").replace("−", "-")));
    const bad = numbers.findIndex((v, n) => !Number.isFinite(v) || !rest[n] || v < rest[n].low || v > rest[n].high);
    if (bad >= 0) return { wrong: rest[bad] ? `${rest[bad].name} of ${Math.round(hue)}° goes from ${rest[bad].low} to ${rest[bad].high}; “${values[bad]}” does not.` : `After ${Math.round(hue)}° there are more values than a band has: ${rest.map((i) => i.name.toLowerCase()).join(", ")}.` };
    found.push({ ...Object.fromEntries(rest.map((i, n) => [i.key, numbers[n] ?? Number(i.default)])), hue: Math.round(hue) });
  }
  if (!found.length) return { wrong: "There is no hue in it." };
  return found.length > MOST_BANDS ? { wrong: `These are ${found.length} bands; there are ${MOST_BANDS} at most.` } : { found };
}

/** Bands in place of those that are there. */
export function putBands(engine: BenchSession, pass: Pass, bands: readonly Omit<Band, "id">[]) {
  const value = bands.map((band) => ({ ...band, id: engine.around.newId() }));
  void engine.document.edit([{ do: "set", target: listOf(engine, pass), value }], `${pass.name}: ${value.length === 1 ? "1 band" : `${value.length} bands`} typed`);
}

/** When each of some bands begins to come back, and when it is back: one after another from a frame on, all of them by the last. */
export function returning(count: number, from: number, last: number): [number, number][] {
  const each = (last - from) / count;
  return Array.from({ length: count }, (_, n) => [Math.round(from + n * each), Math.round(from + (n + 1) * each)]);
}

/** Bring the bands of a pass back one after another, between the playhead and the out frame. */
export function returnOneByOne(engine: BenchSession, pass: Pass, bands: Band[]) {
  const { frame, ends } = engine.timeline;
  if (ends.last - frame < bands.length) return engine.around.say(`From here to out there are too few frames for ${bands.length} bands: go further back, or set out later.`);
  const times = returning(bands.length, frame, ends.last);
  const lanes = bands.map((band, n): Lane => {
    const keyframes = times[n]!.map((at, k) => ({ frame: at, value: k * 100, how: "smooth" as const, ease: 100 }));
    return { target: `passes/${pass.id}/params/bands/${band.id}/saturation`, keyframes, drift: 0, start: 0, way: "as typed" };
  });
  const commands: Command[] = engine.target.lanes(lanes);
  void engine.document.edit(commands, `Colours return one by one from frame ${frame} to ${ends.last}`);
}
