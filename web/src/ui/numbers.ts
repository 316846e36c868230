/** Arithmetic of number fields: everything comes from what is declared of the number. */

/** What a number field is told of its number. */
export type NumberInfo = { name: string; help: string; unit: string; low: number; high: number; step: number; default?: unknown; period?: number | null };

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

/** A typed number: with a comma or a point, a true minus, a unit after it or not, or a simple sum like `1/3` or `2*4+1`. Null where it is none. */
export function parseNumber(text: string, unit = ""): number | null {
  const units = ["%", "°", "px", "fr", "fps", "K", "EV", unit].filter(Boolean).map((u) => u.replace(/[.*+?^${}()|[\]\\/]/g, "\\$&"));
  const plain = text.trim().replace(/[−–]/g, "-").replace(/×/g, "*").replace(/÷/g, "/").replace(/(\d),(?=\d)/g, "$1.").replace(/^([+-]?),(?=\d)/, "$1.");
  const sum = plain.replace(new RegExp(`(?<=[\\d.)])\\s*(?:${units.join("|")})(?![a-zA-Z])`, "g"), "");
  const tokens = sum.match(/\d+\.?\d*|\.\d+|[-+*/()]|\S/g) ?? [];
  if (!tokens.length || tokens.some((t) => !/^(\d+\.?\d*|\.\d+|[-+*/()])$/.test(t))) return null;
  const found = added(tokens);
  return found !== null && !tokens.length && Number.isFinite(found) ? found : null;
}

/** Sums are read from the front of the tokens, which are taken away as they are read. */
function added(tokens: string[]): number | null {
  let total = multiplied(tokens);
  while (total !== null && (tokens[0] === "+" || tokens[0] === "-")) {
    const minus = tokens.shift() === "-";
    const next = multiplied(tokens);
    total = next === null ? null : total + (minus ? -next : next);
  }
  return total;
}

function multiplied(tokens: string[]): number | null {
  let product = single(tokens);
  while (product !== null && (tokens[0] === "*" || tokens[0] === "/")) {
    const divided = tokens.shift() === "/";
    const next = single(tokens);
    product = next === null ? null : divided ? product / next : product * next;
  }
  return product;
}

function single(tokens: string[], signed = false): number | null {
  const token = tokens.shift();
  if ((token === "-" || token === "+") && !signed) {
    const value = single(tokens, true);
    return value === null ? null : token === "-" ? -value : value;
  }
  if (token === "(") {
    const value = added(tokens);
    return tokens.shift() === ")" ? value : null;
  }
  return token !== undefined && /\d/.test(token) ? Number(token) : null;
}

/** A typed number as the parameter takes it, with what is to be said of it; or why it cannot be taken. */
export type Entry = { value: number; words: string | null } | { wrong: string };

const rangeOf = (info: NumberInfo) => `${told(info, info.low)} to ${told(info, info.high)}${info.unit && ` ${info.unit}`}`;
const told = (info: NumberInfo, value: number) => format(info, value).replace(/^-/, "−");

/**
 * What was typed, for a parameter. Out of its range it is limited, and that is said; with a sign that makes no sense
 * there it is a change from neutral: −0.08 for a gamma, whose neutral is 1, is 0.92.
 */
export function readEntry(text: string, info: NumberInfo): Entry {
  const typed = parseNumber(text, info.unit);
  if (typed === null) return { wrong: `“${text.trim()}” is not a number. ${info.name} goes from ${rangeOf(info)}.` };
  if (typed >= info.low && typed <= info.high && !(/^\s*[+]/.test(text) && changes(info))) return { value: clampTo(info, typed), words: null };
  const neutral = Number(info.default);
  const changed = clampTo(info, neutral + typed);
  if (/^\s*[-−+]/.test(text) && changes(info) && changed === Number((neutral + typed).toFixed(6)))
    return { value: changed, words: `${info.name} is ${told(info, changed)}${info.unit && ` ${info.unit}`}: ${text.trim()} was taken as a change from ${told(info, neutral)}, where it is neutral.` };
  const value = clampTo(info, typed);
  return { value, words: `${info.name} goes from ${rangeOf(info)}; it is ${told(info, value)} now.` };
}

/** Whether a signed entry is a change: numbers of which none is below nought, and whose neutral is not at their lower end. */
const changes = (info: NumberInfo) => info.low >= 0 && Number(info.default) > info.low;
