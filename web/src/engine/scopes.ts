/** Arithmetic of scopes: where a colour lies on one, and what a place on one stands for. Colours are R′G′B′ of BT.709, 0–1. */
import type { ScopeKind } from "./stage/state";

export type Area = { x: number; y: number; w: number; h: number };

/** The levels at the lower and upper edge of a waveform, and the colour difference at the rim of a vectorscope. */
export const LOW = -0.09;
export const HIGH = 1.09;
export const CHROMA = 0.6;

/** Luma and colour differences of ITU-R BT.709-6, 3.2 and 3.3. */
export const lumaOf = ([r, g, b]: readonly number[]) => 0.2126 * r! + 0.7152 * g! + 0.0722 * b!;
export const chromaOf = (rgb: readonly number[]): [number, number] => [(rgb[2]! - lumaOf(rgb)) / 1.8556, (rgb[0]! - lumaOf(rgb)) / 1.5748];

/** Where a level lies on a waveform. */
export const levelY = (a: Area, v: number) => a.y + (1 - (v - LOW) / (HIGH - LOW)) * a.h;

const percent = (v: number) => `${(v * 100).toFixed(1)} %`;
const PARTS = ["red", "green", "blue"];

/** What a place on a scope stands for, in words; null beside it. */
export function valueAt(kind: ScopeKind, a: Area, x: number, y: number, codes: boolean): string | null {
  const [across, up] = [(x - a.x) / a.w, 1 - (y - a.y) / a.h];
  if (across < 0 || across >= 1 || up < 0 || up > 1) return null;
  const level = LOW + up * (HIGH - LOW);
  const told = codes ? `code ${Math.round(16 + 219 * level)}` : percent(level);
  if (kind === "waveform") return `${told} at ${percent(across)} of the width`;
  if (kind === "parade") return `${PARTS[Math.floor(across * 3)]} ${told}`;
  if (kind === "histogram") return `${percent(across)} of the range`;
  const [cb, cr] = [(across * 2 - 1) * CHROMA, (up * 2 - 1) * CHROMA];
  const angle = ((Math.atan2(cr, cb) * 180) / Math.PI + 360) % 360;
  return `${angle.toFixed(0)}°, ${percent(Math.hypot(cb, cr))}`;
}
