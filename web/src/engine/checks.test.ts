import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";

import { followChecks } from "./checks";
import { engineOn } from "./testing";

const line = (done: number) => JSON.stringify({ kind: "marks", done, total: 3, marks: [] }) + "\n";

/** An answer of these lines, whose connection then breaks, or ends. */
function answer(text: string, breaks = false): Response {
  return new Response(
    new ReadableStream({
      pull(to) {
        if (text) to.enqueue(new TextEncoder().encode(text));
        else if (breaks) to.error(new TypeError("network error"));
        else to.close();
        text = "";
      },
    }),
  );
}

describe("checks", () => {
  beforeEach(() => void vi.useFakeTimers());
  afterEach(() => {
    vi.useRealTimers();
    vi.unstubAllGlobals();
  });

  const follow = (answers: (() => Response)[]) => {
    vi.stubGlobal("window", globalThis);
    const asked = vi.fn(() => Promise.resolve(answers.shift()!()));
    vi.stubGlobal("fetch", asked);
    const engine = engineOn();
    return { engine, asked, end: followChecks(engine) };
  };

  it.each([
    ["a connection that breaks", () => answer(line(1), true)],
    ["a connection that ends too soon", () => answer(line(1))],
    ["a failure that is told", () => answer(line(1) + JSON.stringify({ kind: "failed", message: "No room." }) + "\n")],
  ])("that break off by %s say so, keep what was found, and begin again", async (_, broken) => {
    const { engine, asked, end } = follow([broken, () => answer(line(3))]);
    await vi.advanceTimersByTimeAsync(2500);
    await vi.waitFor(() => expect(engine.now.checked?.broken).toBeTruthy());
    expect(engine.now.checked?.done).toBe(1);
    await vi.advanceTimersByTimeAsync(15_000);
    await vi.waitFor(() => expect(engine.now.checked).toEqual({ revision: 1, marks: [], done: 3, total: 3 }));
    await vi.advanceTimersByTimeAsync(60_000);
    expect(asked).toHaveBeenCalledTimes(2); // the whole is known
    end();
  });

  it("that are not followed any more ask for nothing", async () => {
    const { asked, end } = follow([() => answer(line(1), true)]);
    await vi.advanceTimersByTimeAsync(2500);
    end();
    await vi.advanceTimersByTimeAsync(60_000);
    expect(asked).toHaveBeenCalledTimes(1);
  });
});
