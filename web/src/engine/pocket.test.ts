import { beforeEach, describe, expect, it, vi } from "vitest";

import type { Pass } from "../api/types";
import type { BenchSession } from "./bench";
import { copyPass, pastePass, putOn, readPocket, saveOnShelf } from "./pocket";
import { engineOn, Shots, viewOf } from "./testing";

const answered = vi.hoisted(() => ({ now: {} as unknown }));
vi.mock("../api/client", async (original) => ({ ...(await original<object>()), client: { POST: () => Promise.resolve(answered.now) } }));

type Said = { text: string; bad: boolean };

/** A server that dresses and pastes too, as far as the page sees it. */
class Shelf extends Shots {
  asked: [string, Record<string, unknown>][] = [];
  more: Record<string, unknown> = {};
  override answer(path: Parameters<Shots["answer"]>[0], body: Record<string, unknown>): ReturnType<Shots["answer"]> {
    this.asked.push([path, body]);
    if (path !== "dress" && path !== "paste") return super.answer(path, body);
    const add = { do: "add" as const, target: "look/passes", value: { id: "fresh", name: "Fresh" } };
    return { ...super.answer("edits", { ...body, commands: [add] }), ...this.more };
  }
}

describe("what is copied, pasted and put on", () => {
  let said: Said[];
  let kept: string | null;
  let server: Shelf;
  let engine: BenchSession;
  beforeEach(() => {
    [said, kept] = [[], null];
    const lanes = ["passes/a/amount", "selections/s/cleaning/soften", "passes/b/amount"].map((target) => ({ target, keyframes: [{ frame: 0, value: 1 }] }));
    const view = viewOf({ passes: ["a", "b"], lanes });
    Object.assign(view.document.look.passes![0]!, { selection: "s", bundle: "x" });
    server = new Shelf(view);
    const say = (text: string, options: { bad?: boolean } = {}) => void said.push({ text, bad: options.bad ?? false });
    engine = engineOn(view, { say, pocket: { put: (text) => (kept = text) } }, server);
  });

  it("a pass goes with its selection and the lanes of both, out of its bundle", async () => {
    copyPass(engine, engine.passes[0] as Pass);
    const pocket = readPocket(kept)!;
    expect(pocket.look.passes!.map((p) => [p.id, p.bundle])).toEqual([["a", null]]);
    expect(pocket.look.selections!.map((s) => s.id)).toEqual(["s"]);
    expect(pocket.look.lanes!.map((l) => l.target)).toEqual(["passes/a/amount", "selections/s/cleaning/soften"]);
    await pastePass(engine, pocket);
    expect(server.asked.at(-1)).toMatchObject(["paste", { words: "a pasted", look: pocket.look }]);
    expect(engine.now.passId).toBe("fresh");
  });
  it("nothing, or what is no pass, is read as nothing", () => {
    expect([readPocket(null), readPocket("{"), readPocket("null")]).toEqual([null, null, null]);
  });
  it("a look that asks for a pick says so, chooses its selection and waits for the pick", async () => {
    server.more = { selection: "s", asks: "the red", warning: "The sky is bright." };
    engine.stage.set({ solo: true, upTo: true, show: "matte" });
    await putOn(engine, "item", "Night", "after");
    expect(server.asked.at(-1)).toMatchObject(["dress", { item: "item", where: "after" }]);
    const { passId, selectionId, asks, tool, solo, upTo, show } = engine.now;
    expect({ passId, selectionId, asks, tool, solo, upTo, show }).toEqual({ passId: "fresh", selectionId: "s", asks: { words: "the red", selection: "s" }, tool: "add", solo: false, upTo: false, show: "result" });
    expect(said.map((s) => [s.text, s.bad])).toEqual([["The sky is bright.", true], ["Night is on.", false]]);
  });
  it("a look that needs nothing asks for nothing", async () => {
    server.more = { selection: null, asks: null };
    engine.choice.set({ tool: "hand" });
    await putOn(engine, "item", "Tint");
    expect([engine.now.asks, engine.now.tool, said.map((s) => s.text)]).toEqual([null, "hand", ["Tint is on."]]);
  });
  it("what could not be saved on the shelf is said with its reason", async () => {
    answered.now = { error: { message: "The disk is full." }, response: { ok: false, status: 507 } };
    await saveOnShelf(engine, "Night", "", null);
    expect(said).toEqual([{ text: "The disk is full.", bad: true }]);
  });
  it("what was saved is said", async () => {
    answered.now = { data: {}, response: { ok: true, status: 200 } };
    await saveOnShelf(engine, "Night", "", null);
    expect(said).toEqual([{ text: "“Night” is on the shelf.", bad: false }]);
  });
});
