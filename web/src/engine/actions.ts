import { found } from "./search";

/**
 * What can be done with the keyboard: one table for each room, which drives the keys and the list of them.
 *
 * A key is named as it types ("s", "arrowleft", ","), or by where it lies ("Digit1"), since what it types there may need Shift on other keyboards.
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

/** Keys named by where they lie, and what they bear on most keyboards. */
const LIES = /^(?:Digit|Key|Bracket)(?=[A-Z0-9])/;

/** A key as it is told. */
export const keyName = (key: string) => NAMES[key] ?? (LIES.test(key) ? key.replace(LIES, "") : key.toUpperCase());

/** The keys of an action as they are told: those that type something else on other keyboards once. */
export const toldOf = <S, A>(action: Action<S, A>) => action.told ?? [...new Set(action.keys.map(keyName))].join("  ");

/** The ways to press a key: with Shift or without, as its action itself asks; and as what AltGr types, with which some systems tell Ctrl and Alt. */
export const presses = (key: string) => ["", "Control+Alt+"].flatMap((held) => [`${held}${key}`, `${held}Shift+${key}`]);

type Bindings = Record<string, (e: KeyboardEvent) => void>;

/** What each press does: `does` is told the action. What a key types goes before where it lies, since a key can do both. */
export function bindingsOf<S, A>(actions: readonly Action<S, A>[], does: (action: Action<S, A>, e: KeyboardEvent) => void): Bindings {
  const keys = actions.flatMap((action) => action.keys.map((key) => ({ key, action })));
  const inOrder = [...keys.filter(({ key }) => !LIES.test(key)), ...keys.filter(({ key }) => LIES.test(key))];
  return Object.fromEntries(inOrder.flatMap(({ key, action }) => presses(key).map((press) => [press, (e: KeyboardEvent) => does(action, e)])));
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
