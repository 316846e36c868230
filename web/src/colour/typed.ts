/** Colours as people type or paste them: hex or CSS colours, with commas, blanks or one a line; with places in percent where there are any. */
import { parseColour, type Loose } from "./stops";

export type Read<T> = { found: T } | { wrong: string };
type Parse = (word: string) => string | null;

const WORDS = /[a-z-]+\([^)]*\)|#?[0-9a-z]+(?:\.[0-9]+)?\s*%|[^\s,;]+/gi;
const PLACE = /^([0-9]+(?:\.[0-9]+)?)\s*%$/;
/** What a gradient of CSS is told in, around its colours. */
const AROUND = /^\s*(?:background(?:-image)?\s*:)?\s*linear-gradient\(|\)\s*;?\s*$|\b(?:to (?:right|left|top|bottom)|in oklab)\b|-?[0-9.]+deg\b/gi;

/** Stops, each with its place; where none is told they lie evenly between those that have one, as in CSS. */
export function readStops(text: string, parse: Parse = parseColour): Read<Loose[]> {
  const stops: { colour: string; place: number | null }[] = [];
  for (const line of text.replace(AROUND, "\n").split(/\n/)) {
    let ahead: number | null = null; // a place that stands before its colour
    for (const word of line.match(WORDS) ?? []) {
      const place = PLACE.exec(word);
      const before = stops.at(-1);
      if (place) {
        const at = Math.min(Number(place[1]), 100);
        if (before && before.place === null && ahead === null && !line.trimStart().match(/^[0-9.]+\s*%/)) before.place = at;
        else ahead = at;
        continue;
      }
      const colour = parse(word);
      if (!colour) return { wrong: `“${word}” is no colour: type hex or CSS colours, and places like 40 %.` };
      stops.push({ colour, place: ahead });
      ahead = null;
    }
  }
  if (!stops.length) return { wrong: "There is no colour in it." };
  return { found: placed(stops).map(({ colour, place }) => ({ colour, position: Number(place!.toFixed(2)) })) };
}

/** Colours alone; places are passed over. */
export function readColours(text: string, parse: Parse = parseColour): Read<string[]> {
  const read = readStops(text, parse);
  return "wrong" in read ? read : { found: read.found.map((s) => s.colour) };
}

function placed(stops: { colour: string; place: number | null }[]) {
  const last = stops.length - 1;
  const found = stops.map((s, n) => ({ ...s, place: s.place ?? (n === 0 ? 0 : n === last ? 100 : null) }));
  for (let n = 1; n < last; n++) {
    if (found[n]!.place !== null) continue;
    const before = found[n - 1]!.place!;
    const next = found.findIndex((s, k) => k > n && s.place !== null);
    found[n]!.place = before + (found[next]!.place! - before) / (next - n + 1);
  }
  return found;
}

/** Stops as text, one a line. */
export const stopsText = (stops: readonly Loose[]): string => stops.map((s) => `${s.colour} ${s.position} %`).join("\n");

/** What became of a list of colours, in words. */
export function coloursWords(before: readonly string[], now: readonly string[]): string {
  const at = now.findIndex((c, n) => c !== before[n]);
  const many = now.length === 1 ? "1 colour" : `${now.length} colours`;
  if (now.length === before.length) {
    const others = now.filter((c, n) => c !== before[n]).length;
    return others === 1 ? `colour ${at + 1}: ${before[at]} → ${now[at]}` : `${many}, ${now.every((c, n) => c === before[before.length - 1 - n]) ? "reversed" : "anew"}`;
  }
  if (now.length === before.length + 1 && before.every((c, n) => c === now[n])) return `colour ${now.length} more: ${now.at(-1)}`;
  if (now.length === before.length - 1 && now.every((c, n) => c === before[n])) return `colour ${before.length} less: ${before.at(-1)}`;
  return `${many} in place of ${before.length}`;
}
