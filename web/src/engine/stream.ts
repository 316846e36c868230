/** Answers that arrive as lines of JSON. */
import { Refusal } from "../api/client";

export async function* lines<T>(response: Response): AsyncGenerator<T> {
  if (!response.ok || !response.body) {
    const body = (await response.json().catch(() => null)) as { message?: string; kind?: string } | null;
    throw new Refusal(body?.message ?? `The server answered ${response.status}.`, response.status, body?.kind ?? "");
  }
  const reader = response.body.pipeThrough(new TextDecoderStream()).getReader();
  let rest = "";
  for (;;) {
    const { done, value } = await reader.read();
    if (done) return;
    const parts = (rest + value).split("\n");
    rest = parts.pop()!;
    for (const part of parts) if (part) yield JSON.parse(part) as T;
  }
}
