/** Arithmetic of number fields: everything comes from what is declared of the number. */

/** What a number field is told of its number. */
export type NumberInfo = { name: string; help: string; unit: string; low: number; high: number; step: number; default?: unknown };

export function clampTo(info: NumberInfo, value: number): number {
  const limited = Math.min(Math.max(value, info.low), info.high);
  return Number(limited.toFixed(6));
}

/** Arrow keys step; Shift makes it ten times, Alt a tenth. */
export function stepOf(info: NumberInfo, keys: { shiftKey: boolean; altKey: boolean }): number {
  return info.step * (keys.shiftKey ? 10 : keys.altKey ? 0.1 : 1);
}

export function format(info: NumberInfo, value: number): string {
  const digits = Math.max(0, Math.ceil(-Math.log10(info.step)));
  const rounded = Number(value.toFixed(digits + 1));
  return rounded.toFixed(Number.isInteger(rounded * 10 ** digits) ? digits : digits + 1);
}

/** A typed number, with a comma or a point, a unit after it or not. Null where it is none. */
export function parseNumber(text: string): number | null {
  const match = /^\s*([+\-−]?(?:\d+(?:[.,]\d*)?|[.,]\d+))\s*(?:%|°|px)?\s*$/.exec(text);
  return match ? Number(match[1]!.replace(",", ".").replace("−", "-")) : null;
}
