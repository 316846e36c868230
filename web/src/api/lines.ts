import { Refusal, Unreachable } from "./client";

/** An answer, or what it says where it is none. */
export async function answered(request: Promise<Response>): Promise<Response> {
  let response: Response;
  try {
    response = await request;
  } catch (error) {
    if (error instanceof DOMException && error.name === "AbortError") throw error;
    throw new Unreachable("The server cannot be reached.");
  }
  if (response.ok) return response;
  const body = (await response.json().catch(() => null)) as { message?: string; kind?: string } | null;
  throw new Refusal(body?.message ?? `The server answered ${response.status}.`, response.status, body?.kind ?? "");
}

/** Answers that arrive as lines of JSON. */
export async function* lines<T>(request: Promise<Response>): AsyncGenerator<T> {
  const { body } = await answered(request);
  if (!body) return;
  const reader = body.pipeThrough(new TextDecoderStream()).getReader();
  let rest = "";
  for (;;) {
    const { done, value } = await reader.read();
    if (done) return;
    const parts = (rest + value).split("\n");
    rest = parts.pop()!;
    for (const part of parts) if (part) yield JSON.parse(part) as T;
  }
}

