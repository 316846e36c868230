/** The hue of a colour, only to draw the key on the census; the server computes everything that counts. */
const decode = (v: number) => (v <= 0.04045 ? v / 12.92 : ((v + 0.055) / 1.055) ** 2.4);

/** OkLCh hue in degrees of gamma-coded R'G'B' (Ottosson 2020). */
export function hueOf(colour: readonly number[]): number {
  const [r, g, b] = colour.map(decode) as [number, number, number];
  const l = Math.cbrt(0.4122214708 * r + 0.5363325363 * g + 0.0514459929 * b);
  const m = Math.cbrt(0.2119034982 * r + 0.6806995451 * g + 0.1073969566 * b);
  const s = Math.cbrt(0.0883024619 * r + 0.2817188376 * g + 0.6299787005 * b);
  const a = 1.9779984951 * l - 2.428592205 * m + 0.4505937099 * s;
  const bb = 0.0259040371 * l + 0.7827717662 * m - 0.808675766 * s;
  return ((Math.atan2(bb, a) * 180) / Math.PI + 360) % 360;
}

const encode = (v: number) => (v <= 0.0031308 ? v * 12.92 : 1.055 * v ** (1 / 2.4) - 0.055);

/** Gamma-coded R'G'B' of an OkLCh colour (Ottosson 2020), limited to -0.5..1.5. */
export function colourOf(lightness: number, chroma: number, hue: number): [number, number, number] {
  const [a, b] = [chroma * Math.cos((hue * Math.PI) / 180), chroma * Math.sin((hue * Math.PI) / 180)];
  const l = (lightness + 0.3963377774 * a + 0.2158037573 * b) ** 3;
  const m = (lightness - 0.1055613458 * a - 0.0638541728 * b) ** 3;
  const s = (lightness - 0.0894841775 * a - 1.291485548 * b) ** 3;
  const rgb = [4.0767416621 * l - 3.3077115913 * m + 0.2309699292 * s, -1.2684380046 * l + 2.6097574011 * m - 0.3413193965 * s, -0.0041960863 * l - 0.7034186147 * m + 1.707614701 * s];
  return rgb.map((v) => Math.min(Math.max(encode(v), -0.5), 1.5)) as [number, number, number];
}

/** Lightness, chroma and hue of #rrggbb. */
export function lchOf(hex: string): [number, number, number] {
  const [r, g, b] = [1, 3, 5].map((n) => decode(parseInt(hex.slice(n, n + 2), 16) / 255)) as [number, number, number];
  const l = Math.cbrt(0.4122214708 * r + 0.5363325363 * g + 0.0514459929 * b);
  const m = Math.cbrt(0.2119034982 * r + 0.6806995451 * g + 0.1073969566 * b);
  const s = Math.cbrt(0.0883024619 * r + 0.2817188376 * g + 0.6299787005 * b);
  const light = 0.2104542553 * l + 0.793617785 * m - 0.0040720468 * s;
  const a = 1.9779984951 * l - 2.428592205 * m + 0.4505937099 * s;
  const bb = 0.0259040371 * l + 0.7827717662 * m - 0.808675766 * s;
  return [light, Math.hypot(a, bb), ((Math.atan2(bb, a) * 180) / Math.PI + 360) % 360];
}

/** #rrggbb of an OkLCh colour, each channel limited. */
export const hexOf = (lightness: number, chroma: number, hue: number) =>
  `#${colourOf(lightness, chroma, hue)
    .map((v) => Math.round(Math.min(Math.max(v, 0), 1) * 255).toString(16).padStart(2, "0"))
    .join("")}`;

/** The mean of gamma-coded R'G'B' colours in Oklab, as #rrggbb. */
export function meanHex(colours: readonly (readonly number[])[]): string {
  const hex = (c: readonly number[]) => `#${c.map((v) => Math.round(Math.min(Math.max(v, 0), 1) * 255).toString(16).padStart(2, "0")).join("")}`;
  const lch = colours.map((c) => lchOf(hex(c)));
  const mean = (f: (v: [number, number, number]) => number) => lch.reduce((sum, v) => sum + f(v), 0) / lch.length;
  const a = mean(([, c, h]) => c * Math.cos((h * Math.PI) / 180));
  const b = mean(([, c, h]) => c * Math.sin((h * Math.PI) / 180));
  return hexOf(mean(([l]) => l), Math.hypot(a, b), ((Math.atan2(b, a) * 180) / Math.PI + 360) % 360);
}
