import createClient from "openapi-fetch";

import type { paths } from "./schema";
import type { ShotView } from "./types";

export const client = createClient<paths>({ baseUrl: "" });

/** An answer that says no: its message is a sentence for the person at the screen. */
export class Refusal extends Error {
  constructor(
    message: string,
    readonly status: number,
    readonly kind: string,
    /** The document as it stands, where an edit does not fit it any more. */
    readonly newest: ShotView | null = null,
  ) {
    super(message);
  }
}

/** The server could not be reached. */
export class Unreachable extends Error {}

type Answer<T> = { data?: T; error?: unknown; response: Response };

/** The data of an answer; throws `Refusal`, or `Unreachable` where there was no answer. */
export async function ask<T>(call: Promise<Answer<T>>): Promise<T> {
  let answer: Answer<T>;
  try {
    answer = await call;
  } catch {
    throw new Unreachable("The server cannot be reached.");
  }
  if (answer.response.ok) return answer.data as T;
  const body = answer.error as { message?: string; kind?: string; newest?: ShotView | null } | undefined;
  throw new Refusal(body?.message ?? `The server answered ${answer.response.status}.`, answer.response.status, body?.kind ?? "", body?.newest ?? null);
}
