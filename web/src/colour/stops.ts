/** Edits of gradient stops: each is named by its id, wherever it stands. */
export type Stop = { id: string; position: number; colour: string };

/** Stops as a palette or a file has them. */
export type Loose = Omit<Stop, "id"> & { id?: string };

const channels = (hex: string) => [1, 3, 5].map((n) => parseInt(hex.slice(n, n + 2), 16));
const hex = (values: number[]) => `#${values.map((v) => Math.round(Math.min(Math.max(v, 0), 255)).toString(16).padStart(2, "0")).join("")}`;

export const inOrder = <S extends Loose>(stops: S[]) => [...stops].sort((a, b) => a.position - b.position);

/** The stops from left to right, those without an id named as the server does it: by the first that is free of s1, s2 … */
export function named(stops: Loose[]): Stop[] {
  const taken = new Set(stops.flatMap((s) => s.id || []));
  let n = 0;
  const free = () => {
    do n++;
    while (taken.has(`s${n}`));
    return `s${n}`;
  };
  return inOrder(stops).map((s) => ({ ...s, id: s.id || free() }));
}

/** The colour at a place, mixed straight between the stops around it. */
export function colourAt(stops: Loose[], position: number): string {
  const sorted = inOrder(stops);
  const right = sorted.findIndex((s) => s.position >= position);
  if (right === 0) return sorted[0]!.colour;
  if (right < 0) return sorted.at(-1)!.colour;
  const [a, b] = [sorted[right - 1]!, sorted[right]!];
  const t = b.position > a.position ? (position - a.position) / (b.position - a.position) : 1;
  const [from, to] = [channels(a.colour), channels(b.colour)];
  return hex(from.map((v, n) => v + (to[n]! - v) * t));
}

/** The stops with one more of this id; they stay as they are where it is there. */
export const addStop = (stops: Stop[], id: string, position: number): Stop[] =>
  stops.some((s) => s.id === id) ? stops : inOrder([...stops, { id, position: round(position), colour: colourAt(stops, position) }]);

/** The stops with one at another place, or of another colour. */
export const changeStop = (stops: Stop[], id: string, change: Partial<Omit<Stop, "id">>): Stop[] =>
  inOrder(stops.map((s) => (s.id === id ? { ...s, ...change, position: round(Math.min(Math.max(change.position ?? s.position, 0), 100)) } : s)));

export const removeStop = (stops: Stop[], id: string) => (stops.length > 1 ? stops.filter((s) => s.id !== id) : stops);

export const reversed = (stops: Stop[]) => [...stops].reverse().map((s) => ({ ...s, position: round(100 - s.position) }));

/** Every stop as far from the next as any other, from 0 to 100 %. */
export const evenly = (stops: Stop[]) => stops.map((s, n) => ({ ...s, position: stops.length > 1 ? round((100 * n) / (stops.length - 1)) : s.position }));

const round = (v: number) => Math.round(v * 100) / 100;

/** How the stops look, as a CSS background. */
export function background(stops: Loose[], options: { mixing?: string; space?: string } = {}): string {
  const list = inOrder(stops);
  const words =
    options.mixing === "stepped"
      ? list.map((s, n) => `${s.colour} ${s.position}% ${list[n + 1]?.position ?? 100}%`)
      : list.map((s) => `${s.colour} ${s.position}%`);
  if (words.length === 1) words.push(words[0]!);
  return `linear-gradient(to right ${options.space === "Oklab" ? "in oklab" : ""}, ${words.join(", ")})`;
}

/** A colour as people type it (hex with or without #, or any CSS colour) as #rrggbb; null where it is none. */
export function parseColour(text: string): string | null {
  const word = text.trim();
  const plain = /^#?([0-9a-f]{3}|[0-9a-f]{6})$/i.exec(word)?.[1];
  if (plain) return `#${plain.length === 3 ? [...plain].map((c) => c + c).join("") : plain}`.toLowerCase();
  if (typeof CSS === "undefined" || !CSS.supports("color", word)) return null;
  const context = Object.assign(document.createElement("canvas"), { width: 1, height: 1 }).getContext("2d", { willReadFrequently: true })!;
  context.clearRect(0, 0, 1, 1);
  context.fillStyle = word;
  context.fillRect(0, 0, 1, 1);
  return hex([...context.getImageData(0, 0, 1, 1).data].slice(0, 3));
}
