/** Edits as commands that name targets, carried out on a plain document: the same as the server's, which is held to the same cases. */
import type { Command } from "../api/types";

/** What names the items of a list; an id in all others. */
const NAMED_BY: Record<string, string> = { lanes: "target", keyframes: "frame" };

/** What some lists are ordered by, whatever is done in them. */
const ORDERED_BY: Record<string, string> = { keyframes: "frame", stops: "position" };

/** What an edit names is not in the document. */
export class TargetGone extends Error {}

const escaped = (word: string) => word.replaceAll("~", "~0").replaceAll("/", "~1");
const plain = (word: string) => word.replaceAll("~1", "/").replaceAll("~0", "~");

/** The target of some words. */
export const join = (...words: (string | number)[]) => words.map((w) => escaped(String(w))).join("/");
export const split = (target: string) => (target ? target.split("/").map(plain) : []);

type Item = Record<string, unknown>;

const nameOf = (item: unknown, key: string) => {
  const name = typeof item === "object" && item !== null ? (item as Item)[NAMED_BY[key] ?? "id"] : undefined;
  return name === undefined || name === null ? "" : String(name);
};

const placeOf = (items: unknown[], key: string, name: string) => items.findIndex((item) => nameOf(item, key) === name);

type Change = (holder: unknown, key: string, word: string) => unknown;

/** A copy of `node` in which the place that the words lead to is changed; what is not on the way is shared. */
function within(node: unknown, words: string[], key: string, change: Change): unknown {
  const [word, ...rest] = words as [string, ...string[]];
  if (!rest.length) return change(node, key, word);
  if (Array.isArray(node)) {
    const at = placeOf(node, key, word);
    if (at < 0) throw new TargetGone(word);
    return node.with(at, within(node[at], rest, word, change));
  }
  if (typeof node !== "object" || node === null || !(word in node)) throw new TargetGone(word);
  return { ...node, [word]: inOrder(within((node as Item)[word], rest, word, change), word) };
}

function before(items: unknown[], key: string, name: string | null | undefined): number {
  if (name === null || name === undefined) return items.length;
  const at = placeOf(items, key, name);
  if (at < 0) throw new TargetGone(name);
  return at;
}

function takenOut(holder: unknown, key: string, word: string): { item: unknown; others: unknown[] } {
  const at = Array.isArray(holder) ? placeOf(holder, key, word) : -1;
  if (at < 0) throw new TargetGone(word);
  return { item: (holder as unknown[])[at], others: (holder as unknown[]).toSpliced(at, 1) };
}

/** A list in its order, where it has one. */
function inOrder(items: unknown, key: string): unknown {
  const by = ORDERED_BY[key];
  if (!by || !Array.isArray(items)) return items;
  const place = (item: unknown) => Number((item as Item)[by]);
  return items.every((item, n) => n === 0 || place(items[n - 1]) <= place(item)) ? items : items.toSorted((a, b) => place(a) - place(b));
}

function changeOf(command: Command): Change {
  switch (command.do) {
    case "set":
      return (holder, key, word) => {
        if (!Array.isArray(holder)) {
          if (typeof holder !== "object" || holder === null) throw new TargetGone(word);
          return { ...holder, [word]: command.value };
        }
        const at = placeOf(holder, key, word);
        if (at < 0 && !(key in NAMED_BY)) throw new TargetGone(word);
        return at < 0 ? [...holder, command.value] : holder.with(at, command.value);
      };
    case "add":
      return (holder, _, word) => {
        const items = (holder as Item | null)?.[word];
        if (!Array.isArray(items)) throw new TargetGone(word);
        return { ...(holder as Item), [word]: inOrder(items.toSpliced(before(items, word, command.before), 0, command.value), word) };
      };
    case "remove":
      return (holder, key, word) => takenOut(holder, key, word).others;
    case "move":
      return (holder, key, word) => {
        if (command.before === word) return holder;
        const { item, others } = takenOut(holder, key, word);
        return others.toSpliced(before(others, key, command.before), 0, item);
      };
  }
}

/** The value that a target names; undefined where it is not there. */
export const valueIn = (document: unknown, target: string): unknown =>
  split(target).reduce<{ node: unknown; key: string }>(
    ({ node, key }, word) => ({ node: Array.isArray(node) ? node[placeOf(node, key, word)] : typeof node === "object" && node !== null ? (node as Item)[word] : undefined, key: word }),
    { node: document, key: "" },
  ).node;

/** The document after the commands, one after another. Throws `TargetGone`; the document given is never changed. */
export const applyCommands = <T>(document: T, commands: readonly Command[]): T =>
  commands.reduce<unknown>((d, command) => within(d, split(command.target), "", changeOf(command)), document) as T;
