/** Numbers in words. */
export function bytes(n: number): string {
  if (n < 1000) return `${n} bytes`;
  const units = ["kB", "MB", "GB"];
  let value = n / 1000;
  let unit = 0;
  while (value >= 1000 && unit < 2) {
    value /= 1000;
    unit++;
  }
  return `${value.toFixed(value < 10 ? 1 : 0)} ${units[unit]}`;
}

export function duration(seconds: number): string {
  if (seconds < 60) return `${seconds.toFixed(seconds < 10 ? 1 : 0)} s`;
  const minutes = Math.floor(seconds / 60);
  return `${minutes} min ${Math.round(seconds - minutes * 60)} s`;
}

export function rateWords(rate: string): string {
  const [n, d] = rate.split("/").map(Number);
  const value = (n ?? 0) / (d ?? 1);
  return `${Number(value.toFixed(3))} fps`;
}

/** Frame number as minutes:seconds:frames, from an hour on with hours before. */
export function timecode(frame: number, rate: number): string {
  const whole = Math.round(rate);
  const pad = (n: number) => String(n).padStart(2, "0");
  const seconds = Math.floor(frame / whole);
  const hours = Math.floor(seconds / 3600);
  return `${hours ? `${hours}:` : ""}${pad(Math.floor(seconds / 60) % 60)}:${pad(seconds % 60)}:${pad(frame % whole)}`;
}

/** How a place in time may be typed. */
export const TIME_FORMS = "A frame (120), a timecode (3:04, 1:02:03:04), seconds (2.5s), or how far from here (+12, -2s, +1:00)";

const UNITS: Record<string, number> = { "": 0, f: 0, fr: 0, s: 1, sec: 1, m: 60, min: 60 };

/** A typed place in time as a frame, `now` being where one is (see `TIME_FORMS`). Null where it is none. */
export function frameOf(text: string, rate: number, now = 0): number | null {
  const [, sign = "", body = ""] = /^([+\-\u2212]?)(.*)$/.exec(text.trim().toLowerCase().replaceAll(/\s+/g, "")) ?? [];
  const frames = countOf(body, rate);
  if (frames === null) return null;
  return sign ? now + (sign === "+" ? frames : -frames) : frames;
}

function countOf(body: string, rate: number): number | null {
  const single = /^(\d+(?:[.,]\d+)?)([a-z]*)$/.exec(body);
  if (single) {
    const [value, unit] = [Number(single[1]!.replace(",", ".")), UNITS[single[2]!]];
    if (unit === undefined || (!unit && !Number.isInteger(value))) return null;
    return unit ? Math.round(value * unit * rate) : value;
  }
  const parts = body.split(/[:;]/);
  if (parts.length < 2 || parts.length > 4 || parts.some((p) => !/^\d+$/.test(p))) return null;
  const [last, seconds = 0, minutes = 0, hours = 0] = parts.map(Number).reverse() as [number, number?, number?, number?];
  return ((hours * 60 + minutes) * 60 + seconds) * Math.round(rate) + last;
}
