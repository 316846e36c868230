import { found } from "./search";

/**
 * What can be done with the keyboard: one table for each room, which drives the keys and the list of them.
 *
 * A key is named as it types ("S", "←", ","), or by where it is ("@Digit1"), since what it types there may need Shift on other keyboards.
 */
export type Action<S, A = undefined> = {
  id: string;
  group: string;
  words: string;
  keys: string[];
  /** How the keys are told, where that is other than what they are. */
  told?: string;
  /** Whether Shift makes it something else: it then is the same key's other action, told in its words. */
  run: (session: S, e: KeyboardEvent, around: A) => unknown;
};

/** What is told of keys that belong to controls and to the picture, not to a room. */
export type Told = { id?: string; group: string; told: string; words: string };

const NAMES: Record<string, string> = {
  arrowleft: "←", arrowright: "→", arrowup: "↑", arrowdown: "↓", pageup: "Page up", pagedown: "Page down", home: "Home", end: "End", delete: "Delete", backspace: "Backspace", escape: "Esc", enter: "Enter",
};

/** A key as it is told. */
export const keyName = (key: string) => NAMES[key] ?? (key.startsWith("@") ? key.replace(/^@(Digit|Key|Bracket)?/, "") : key.toUpperCase());

/** The keys of an action as they are told: those that type something else on other keyboards once. */
export const toldOf = <S, A>(action: Action<S, A>) => action.told ?? [...new Set(action.keys.map(keyName))].join("  ");

/** The action of a key, if it has one. */
export function actionOf<S, A>(actions: readonly Action<S, A>[], e: Pick<KeyboardEvent, "key" | "code">): Action<S, A> | undefined {
  const typed = e.key.toLowerCase();
  return actions.find((a) => a.keys.includes(typed)) ?? actions.find((a) => a.keys.includes(`@${e.code}`));
}

/** Keys in groups, in the order in which these come. */
export function grouped(rows: readonly Told[]): [string, Told[]][] {
  const found = new Map<string, Told[]>();
  for (const row of rows) found.set(row.group, [...(found.get(row.group) ?? []), row]);
  return [...found];
}

/** The key of something that can be done, as it is told; null where no key does it. */
export const keyFor = (rows: readonly Told[], id: string | undefined): string | null => (id === undefined ? null : (rows.find((row) => row.id === id)?.told.split("  ")[0] ?? null));

export const rowOf = <S, A>(action: Action<S, A>): Told => ({ id: action.id, group: action.group, told: toldOf(action), words: action.words });

/** Those that answer to what is looked for, by their words, their keys or their group. */
export const foundIn = (rows: readonly Told[], typed: string): Told[] => found(rows.map((row) => ({ ...row, name: row.words, summary: row.group, intents: [row.told] })), typed);
