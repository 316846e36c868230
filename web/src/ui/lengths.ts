/** Lengths as they are shown: documents hold them in pixels of a picture of 1080 lines, screens tell them in the picture's own. */
import { clampTo, format, type NumberInfo } from "./numbers";

const LINES = 1080;

/** A number as it is declared for a picture of so many lines, and the way from what is stored to what is shown and back. */
export type Told<I> = { info: I; shown: (stored: number) => number; stored: (shown: number) => number };

const rounded = (value: number) => Number(value.toFixed(4));

export function toldIn<I extends NumberInfo>(info: I, lines: number): Told<I> {
  const same = (value: number) => value;
  if (info.unit !== "px" || lines === LINES) return { info, shown: same, stored: same };
  const per = lines / LINES;
  const own = { ...info, low: rounded(info.low * per), high: rounded(info.high * per), default: rounded(Number(info.default) * per) };
  return { info: own, shown: (stored) => rounded(stored * per), stored: (shown) => clampTo(info, shown / per) };
}

/** A stored number in words. */
export function valueWords(info: NumberInfo, stored: number, lines: number): string {
  const told = toldIn(info, lines);
  return format(told.info, told.shown(stored));
}

/** A stored number in words, with its unit. */
export const numberWords = (info: NumberInfo, stored: number, lines: number): string => `${valueWords(info, stored, lines)}${info.unit && ` ${info.unit}`}`;

/** What share of the picture's height a length is; empty for what is no length. */
export const shareWords = (info: NumberInfo, shown: number, lines: number): string =>
  info.unit === "px" ? ` Pixels of this picture: ${format({ ...info, step: 1 }, shown)} ${Math.abs(shown) === 1 ? "is" : "are"} ${Number(((Math.abs(shown) / lines) * 100).toFixed(2))} % of its height.` : "";
