import { describe, expect, it } from "vitest";

import { lines } from "./lines";

describe("streams", () => {
  const response = (parts: string[], status = 200) =>
    new Response(new ReadableStream({ start: (c) => (parts.forEach((p) => c.enqueue(new TextEncoder().encode(p))), c.close()) }), { status });
  it("give lines however they were cut", async () => {
    const found = [];
    for await (const line of lines<{ n: number }>(Promise.resolve(response(['{"n":1}\n{"n"', ":2}\n", '\n{"n":3}\n'])))) found.push(line.n);
    expect(found).toEqual([1, 2, 3]);
  });
  it("throw what the server says", async () => {
    const bad = lines(Promise.resolve(response(['{"message":"There is no shot.","kind":"NotFound"}'], 404)));
    await expect(bad.next()).rejects.toThrow("There is no shot.");
  });
});
