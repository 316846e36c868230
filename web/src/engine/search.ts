/** Finding things by what people call them. */

export type Findable = { name: string; summary: string; intents?: string[] };

/** How well something answers to what was typed: 0 not at all. Every word must be found; a name counts more than what it is looked for by, that more than what is told of it. */
export function matches({ name, summary, intents = [] }: Findable, typed: string): number {
  const words = typed.toLowerCase().split(/\s+/).filter(Boolean);
  if (!words.length) return 1;
  const places: [string, number][] = [[name.toLowerCase(), 8], [intents.join(" · ").toLowerCase(), 3], [summary.toLowerCase(), 1]];
  const starts = (text: string, word: string) => new RegExp(`(^|[^\\p{L}])${word.replace(/[.*+?^${}()|[\]\\/]/g, "\\$&")}`, "u").test(text);
  let total = 0;
  for (const word of words) {
    const best = Math.max(...places.map(([text, worth]) => (starts(text, word) ? worth * 2 : text.includes(word) ? worth : 0)));
    if (!best) return 0;
    total += best;
  }
  return name.toLowerCase() === words.join(" ") ? total + 100 : total;
}

/** What answers, the best first; of the same worth in the order in which it was. */
export const found = <T extends Findable>(all: T[], typed: string): T[] =>
  all
    .map((item) => ({ item, worth: matches(item, typed) }))
    .filter(({ worth }) => worth > 0)
    .sort((a, b) => b.worth - a.worth)
    .map(({ item }) => item);
