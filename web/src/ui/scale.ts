/** Where a number stands on its slider: fine where it is used, its full range at the ends. All of it follows from the declaration. */
import type { NumberInfo } from "./numbers";

type Info = NumberInfo;

const FINE = 2; // the power by which a curved scale leaves its anchor
const FEW = 40; // steps that fit a slider as they are
const EVEN = 200; // the widest range in percent that is told evenly

/** Shares and angles are told evenly, and so is what has few steps. */
function isEven(info: Info): boolean {
  const span = info.high - info.low;
  return span / info.step <= FEW || (info.unit === "%" && span <= EVEN) || (!!info.period && info.unit === "°" && span >= 180);
}

/** The value around which a scale is finest: nought of signed numbers, one of factors, else the lower end. */
function anchorOf(info: Info): number {
  const usual = Number(info.default ?? info.low);
  const middle = (info.low + info.high) / 2;
  if (info.low < 0) return Math.abs(usual - middle) < info.step ? usual : Math.min(0, info.high);
  const factor = (info.unit === "" && usual === 1) || (info.unit === "%" && usual === 100) || info.unit === "K";
  return factor && usual > info.low && usual < info.high ? usual : info.low;
}

/** Where a value stands, 0–1 along the slider. */
export function placeOf(info: Info, value: number): number {
  const { low, high } = info;
  const limited = Math.min(Math.max(value, low), high);
  if (isEven(info)) return (limited - low) / (high - low);
  const anchor = anchorOf(info);
  const middle = middleOf(info, anchor);
  if (limited === anchor) return middle;
  if (limited > anchor) return middle + (1 - middle) * ((limited - anchor) / (high - anchor)) ** (1 / FINE);
  return middle - middle * ((anchor - limited) / (anchor - low)) ** (1 / FINE);
}

/** Where the anchor stands. */
const middleOf = ({ low, high }: Info, anchor: number) => (anchor <= low ? 0 : anchor >= high ? 1 : 0.5);

/** The value at a place along the slider, in whole steps. */
export function valueAt(info: Info, place: number, step = info.step): number {
  const { low, high } = info;
  const at = Math.min(Math.max(place, 0), 1);
  if (at === 0 || at === 1) return at ? high : low;
  const exact = exactAt(info, at);
  return Number(Math.min(Math.max(Math.round(exact / step) * step, low), high).toFixed(6));
}

function exactAt(info: Info, at: number): number {
  const { low, high } = info;
  if (isEven(info)) return low + at * (high - low);
  const anchor = anchorOf(info);
  const middle = middleOf(info, anchor);
  if (at === middle) return anchor;
  if (at > middle) return anchor + ((at - middle) / (1 - middle)) ** FINE * (high - anchor);
  return anchor - ((middle - at) / middle) ** FINE * (anchor - low);
}
