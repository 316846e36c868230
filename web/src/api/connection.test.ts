import { describe, expect, it } from "vitest";

import { Connection } from "./connection";
import { Kept } from "./kept";

/** Timers that run when they are told to. */
const timers = () => {
  const waiting: (() => void)[] = [];
  return { setTimeout: (work: () => void) => void waiting.push(work), run: async () => (waiting.splice(0).forEach((work) => work()), await Promise.resolve(), await Promise.resolve()) };
};

describe("the connection", () => {
  it("comes back after one lost answer, while the events go on", async () => {
    const clock = timers();
    const answers = [false, false, true];
    const connection = new Connection(() => (answers.shift() ? Promise.resolve() : Promise.reject(new Error())), clock);
    connection.answered();
    connection.lost();
    connection.lost(); // one question at a time
    let back = false;
    void connection.back().then(() => (back = true));
    for (let n = 0; n < 2; n++) await clock.run();
    expect([connection.online, back, answers.length]).toEqual([false, false, 1]);
    await clock.run();
    expect([connection.online, back]).toEqual([true, true]);
    connection.lost(); // and again
    answers.push(true);
    await clock.run();
    expect(connection.online).toBe(true);
  });

  it("counts any answer as one", async () => {
    const connection = new Connection(() => new Promise(() => undefined), timers());
    connection.lost();
    let back = false;
    void connection.back().then(() => (back = true));
    connection.answered();
    await Promise.resolve();
    expect([connection.online, back]).toEqual([true, true]);
  });
});

describe("what the browser keeps", () => {
  const full = { getItem: () => null, removeItem: () => undefined, key: () => null, length: 0, setItem: () => {
    throw new Error("QuotaExceededError");
  } };

  it("is kept until a reload where the storage is full, and that is said once", () => {
    const kept = new Kept(() => full);
    let told = 0;
    kept.onFull = () => told++;
    kept.setItem("a", "1");
    kept.setItem("b", "2");
    expect([kept.getItem("a"), kept.getItem("b"), kept.keys(), told]).toEqual(["1", "2", ["a", "b"], 1]);
    kept.removeItem("a");
    expect(kept.getItem("a")).toBe(null);
  });

  it("is nothing where the storage is forbidden", () => {
    const kept = new Kept(() => {
      throw new Error("SecurityError");
    });
    expect([kept.getItem("a"), kept.keys()]).toEqual([null, []]);
    kept.removeItem("a");
  });
});
