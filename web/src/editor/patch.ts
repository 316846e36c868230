/** The few JSON Patch operations that the page applies by itself, to show a draft before the server has stored it. */
import type { Operation } from "../api/types";

/** A copy of `document` with "replace" operations applied; paths that do not exist are left alone. */
export function withDraft<T>(document: T, draft: Operation[]): T {
  return draft.reduce((d, op) => (op.op === "replace" ? (replaceAt(d, op.path.split("/").slice(1), op.value) as T) : d), document);
}

function replaceAt(node: unknown, path: string[], value: unknown): unknown {
  const [head, ...rest] = path;
  if (head === undefined) return value;
  if (Array.isArray(node)) return node.map((item, n) => (n === Number(head) ? replaceAt(item, rest, value) : item));
  if (node && typeof node === "object" && head in node) return { ...node, [head]: replaceAt((node as Record<string, unknown>)[head], rest, value) };
  return node;
}
