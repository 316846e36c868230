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

/** Frame number as minutes:seconds:frames. */
export function timecode(frame: number, rate: number): string {
  const whole = Math.round(rate);
  const pad = (n: number) => String(n).padStart(2, "0");
  const seconds = Math.floor(frame / whole);
  return `${pad(Math.floor(seconds / 60))}:${pad(seconds % 60)}:${pad(frame % whole)}`;
}

/** A typed place in time as a frame: a number, or minutes:seconds:frames (or seconds:frames). Null where it is neither. */
export function frameOf(text: string, rate: number): number | null {
  const parts = text.trim().split(/[:;]/);
  if (parts.length > 3 || parts.some((p) => !/^\d+$/.test(p))) return null;
  const [frames, seconds = 0, minutes = 0] = parts.map(Number).reverse() as [number, number?, number?];
  return (minutes * 60 + seconds) * Math.round(rate) + frames;
}
