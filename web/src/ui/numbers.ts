/** Arithmetic of number fields: everything comes from the parameter's metadata. */
import type { ParamInfo } from "../api/types";

export function clampTo(info: ParamInfo, value: number): number {
  const limited = Math.min(Math.max(value, info.low), info.high);
  return Number(limited.toFixed(6));
}

/** Arrow keys step; Shift makes it ten times, Alt a tenth. */
export function stepOf(info: ParamInfo, keys: { shiftKey: boolean; altKey: boolean }): number {
  return info.step * (keys.shiftKey ? 10 : keys.altKey ? 0.1 : 1);
}

export function format(info: ParamInfo, value: number): string {
  const digits = Math.max(0, Math.ceil(-Math.log10(info.step)));
  const rounded = Number(value.toFixed(digits + 1));
  return rounded.toFixed(Number.isInteger(rounded * 10 ** digits) ? digits : digits + 1);
}

/** A typed number, with a comma or a point, a unit after it or not. Null where it is none. */
export function parseNumber(text: string): number | null {
  const match = /^\s*([+-]?(?:\d+(?:[.,]\d*)?|[.,]\d+))\s*(?:%|°|px)?\s*$/.exec(text);
  return match ? Number(match[1]!.replace(",", ".")) : null;
}
