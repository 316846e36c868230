import fc from "fast-check";
import { describe, expect, it } from "vitest";

import cases from "../../../tests/core/commands.json";
import type { Command } from "../api/types";
import { applyCommands, join, split, TargetGone } from "./commands";
import { equal } from "./equal";
import { Document, project, type Answer, type Item, type Refused } from "./document";
import { noOutbox, numbered, Shots, silent, Unsteady, viewOf } from "./testing";

const amount = (id: string, value: number): Command => ({ do: "set", target: `look/passes/${id}/amount`, value });
const remove = (id: string): Command => ({ do: "remove", target: `look/passes/${id}` });
const amounts = (document: { look: { passes?: unknown[] } }) => (document.look.passes as { id: string; amount: number }[]).map((p) => [p.id, p.amount]);

const open = (server = new Shots(), telling = silent, author = "me") => new Document(server.newest, server, noOutbox, telling, author, numbered(author));

/** The server's own cases: see tests/core/commands.json. */
type Case = { it: string; commands: Command[]; gone?: boolean; first?: number; passes?: string[]; lanes?: string[]; frames?: number[]; changes?: Record<string, unknown> };
const CASES = cases as Case[];

describe("commands", () => {
  const lane = { target: "passes/a/amount", keyframes: [{ frame: 0, value: 1 }, { frame: 24, value: 2 }] };
  const start = () => ({
    first: 0,
    look: {
      passes: [{ id: "a", amount: 10, params: { stops: [0, 1, 2].map((n) => ({ id: `s${n + 1}`, position: 50 * n })) } }, { id: "b", amount: 20 }, { id: "c", amount: 30 }],
      selections: [{ id: "s", keys: [{ id: "k1", tolerance: 9 }, { id: "k2", tolerance: 9 }] }],
      lanes: [lane],
    },
  });
  it.each(CASES)("as the server: $it", (c) => {
    const before = start();
    if (c.gone) {
      expect(() => applyCommands(before, c.commands)).toThrow(TargetGone);
      expect(before).toEqual(start());
      return;
    }
    const { first, look } = applyCommands(before, c.commands);
    expect(before).toEqual(start());
    expect(first).toBe(c.first ?? 0);
    expect(look.passes.map((p) => p.id)).toEqual(c.passes ?? ["a", "b", "c"]);
    expect(look.lanes.map((l) => l.target)).toEqual(c.lanes ?? ["passes/a/amount"]);
    if (c.frames) expect(look.lanes[0]!.keyframes.map((k) => k.frame)).toEqual(c.frames);
    for (const [place, value] of Object.entries(c.changes ?? {})) expect(place.split("/").reduce<unknown>((node, word) => (node as Record<string, unknown>)[word], look)).toEqual(value);
  });
  it("write a slash in a name as RFC 6901 does", () => {
    expect(join("look", "lanes", "passes/a/on", "m~n")).toBe("look/lanes/passes~1a~1on/m~0n");
    expect(split("a/m~0n/c~1d/~01")).toEqual(["a", "m~n", "c/d", "~1"]);
  });
});

describe("a document", () => {
  it("shows an edit at once, and what the server made of it when it answers", async () => {
    const document = open();
    const done = document.edit([amount("a", 40)], "Amount");
    expect(amounts(document.shown)).toEqual([["a", 40], ["b", 100]]);
    expect(document.view.revision).toBe(1);
    expect((await done)!.made).toBe(2);
    await document.idle();
    expect([document.view.revision, document.busy]).toEqual([2, false]);
  });
  it("shows all edits that are on their way, and the gesture over them", () => {
    const document = open();
    void document.edit([amount("a", 40)], "A");
    void document.edit([amount("b", 50)], "B");
    document.show([amount("a", 41)]);
    expect(amounts(document.shown)).toEqual([["a", 41], ["b", 50]]);
    expect(amounts(document.stored)).toEqual([["a", 40], ["b", 50]]);
    expect(document.state.getState().draft.length).toBe(3);
  });
  it("keeps a drag while an answer comes", async () => {
    const document = open();
    const done = document.edit([amount("a", 40)], "A");
    document.show([amount("b", 7)]);
    await done;
    expect(amounts(document.shown)).toEqual([["a", 40], ["b", 7]]);
  });
  it("removes one pass however quickly it is removed twice", async () => {
    const document = open(new Shots(viewOf({ passes: ["a", "b", "c"] })));
    void document.edit([remove("a")], "A removed");
    void document.edit([remove("a")], "A removed");
    await document.idle();
    expect(amounts(document.view.document).map(([id]) => id)).toEqual(["b", "c"]);
  });
  it("hits the pass that it names, wherever that has gone", async () => {
    const server = new Shots();
    const [mine, other] = [open(server), open(server, silent, "you")];
    await other.edit([{ do: "move", target: "look/passes/b", before: "a" }], "Moved");
    await mine.edit([amount("a", 5)], "A");
    expect(amounts(server.newest.document)).toEqual([["b", 100], ["a", 5]]);
  });
  it("stores nothing where nothing changes: a gesture that ends where it began is none", async () => {
    const server = new Shots();
    const document = open(server);
    document.show([amount("a", 40)]);
    document.show([amount("a", 100)]);
    expect(document.state.getState().gesture).toBeNull();
    expect(await document.edit([amount("a", 100)], "A")).toBeNull();
    document.show([amount("a", 40)]);
    document.drop();
    expect([server.revisions.length, document.state.getState().draft]).toEqual([1, []]);
  });
  it("is refused what another has changed, tells so with a way to do it again, and shows the newest", async () => {
    const server = new Shots();
    const told: { error: Refused; again: (() => void) | null }[] = [];
    const mine = open(server, { ...silent, refused: (_, error, again) => told.push({ error, again }) });
    await open(server, silent, "you").edit([amount("a", 1)], "A");
    await mine.edit([amount("a", 2)], "A");
    expect([told.length, amounts(mine.shown)[0]]).toEqual([1, ["a", 1]]);
    told[0]!.again!();
    await mine.idle();
    expect(amounts(server.newest.document)[0]).toEqual(["a", 2]);
  });
  it("is refused a drag that began before another's change of the same", async () => {
    const server = new Shots();
    const mine = open(server);
    mine.show([amount("a", 30)]);
    await open(server, silent, "you").edit([amount("a", 1)], "A");
    mine.refresh();
    await mine.idle();
    await mine.edit([amount("a", 31)], "A");
    expect(amounts(server.newest.document)[0]).toEqual(["a", 1]);
  });
  it("undoes what was edited before, in the order in which it was asked", async () => {
    const server = new Shots();
    const document = open(server);
    void document.edit([amount("a", 40)], "A");
    void document.edit([amount("a", 50)], "A");
    void document.ask("undo");
    void document.edit([amount("a", 45)], "A");
    await document.idle();
    expect(amounts(server.newest.document)[0]).toEqual(["a", 45]);
    await document.ask("undo");
    expect(amounts(server.newest.document)[0]).toEqual(["a", 40]);
  });
  it("sends what a page that is gone has left, as that page's", async () => {
    const server = new Shots();
    const left: Item[] = [{ id: "old1", author: "gone", base: 1, path: "edits", body: { commands: [amount("a", 9)], words: "A" }, words: "A" }];
    server.answer("edits", { ...left[0]!.body, base: 1, id: "old1", author: "gone" }); // it had arrived, but for its answer
    const counts: number[] = [];
    const document = new Document(viewOf(), server, { save: () => undefined, left: () => Promise.resolve(left) }, { ...silent, resent: (n) => counts.push(n) }, "me", numbered("me"));
    await document.resume();
    await document.idle();
    expect([counts, server.revisions.length, document.view.revision]).toEqual([[1], 2, 2]);
  });
  it("does not take a step twice that a page which is gone had taken", async () => {
    const server = new Shots();
    const kept = new Map<string, Item[]>();
    const outbox = { save: (subject: string, items: Item[]) => void kept.set(subject, items), left: (subject: string) => Promise.resolve(kept.get(subject) ?? []) };
    const page = (author: string) => new Document(server.newest, server, outbox, silent, author, numbered(author));
    const gone = page("gone");
    await gone.edit([amount("a", 40)], "A");
    await gone.edit([amount("a", 50)], "A");
    await gone.idle();
    server.send = (_, path, body) => (server.answer(path, body), new Promise(() => undefined)); // it arrives, but its answer never does
    void gone.ask("undo");
    await Promise.resolve();
    expect(amounts(server.newest.document)[0]).toEqual(["a", 40]);
    server.send = (_, path, body) => Promise.resolve().then(() => server.answer(path, body));
    const next = page("next");
    await next.resume();
    await next.idle();
    expect(amounts(server.newest.document)[0]).toEqual(["a", 40]);
  });
  it("reads nothing anew where the answer to its own edit has brought what the server tells of", async () => {
    const server = new Shots();
    const document = open(server);
    let reads = 0;
    server.read = () => Promise.resolve((reads++, server.newest));
    server.changed = (revision) => document.told(revision);
    await document.edit([amount("a", 40)], "A");
    await document.idle();
    expect(reads).toBe(0);
    await open(server, silent, "you").edit([amount("b", 1)], "B");
    await document.idle();
    expect([reads, amounts(document.shown)]).toEqual([1, [["a", 40], ["b", 1]]]);
  });
  it("leaves out of the picture what does not fit any more", () => {
    const item = (commands: Command[]): Item => ({ id: "x", author: "", base: 1, path: "edits", body: { commands }, words: "" });
    const { shown, draft } = project(viewOf().document, [item([remove("zz")]), item([amount("a", 3)])], [amount("gone", 1)]);
    expect([amounts(shown), draft]).toEqual([[["a", 3], ["b", 100]], [amount("a", 3)]]);
  });
});

const passes = ["a", "b", "c", "d"];
const what = fc.oneof(
  fc.record({ do: fc.constant("set" as const), id: fc.constantFrom(...passes), value: fc.integer({ min: 0, max: 99 }) }),
  fc.record({ do: fc.constant("gesture" as const), id: fc.constantFrom(...passes), value: fc.integer({ min: 0, max: 99 }), end: fc.constantFrom("stored", "dropped", "left") }),
  fc.record({ do: fc.constant("remove" as const), id: fc.constantFrom(...passes) }),
  fc.record({ do: fc.constant("move" as const), id: fc.constantFrom(...passes), before: fc.option(fc.constantFrom(...passes)) }),
  fc.record({ do: fc.constant("add" as const), before: fc.option(fc.constantFrom(...passes)) }),
  fc.record({ do: fc.constantFrom("undo" as const, "redo" as const) }),
);
type What = typeof what extends fc.Arbitrary<infer T> ? T : never;

function perform(document: Document, action: What, fresh: () => string): Promise<unknown> {
  if (action.do === "set") return document.edit([amount(action.id, action.value)], "Set");
  if (action.do === "remove") return document.edit([remove(action.id)], "Removed");
  if (action.do === "move") return document.edit([{ do: "move", target: `look/passes/${action.id}`, before: action.before }], "Moved");
  if (action.do === "add") return document.edit([{ do: "add", target: "look/passes", value: { id: fresh(), amount: 1 }, before: action.before }], "Added");
  if (action.do === "gesture") {
    document.show([amount(action.id, action.value / 2)]);
    document.show([amount(action.id, action.value)]);
    if (action.end === "stored") return document.edit([amount(action.id, action.value)], "Dragged");
    if (action.end === "dropped") document.drop();
    return Promise.resolve();
  }
  return document.ask(action.do).catch(() => null);
}

describe("whatever the order in which answers, refusals and lost connections come", () => {
  const actions = fc.array(fc.tuple(fc.nat(1), what), { minLength: 1, maxLength: 14 });
  const outcomes = fc.array(fc.constantFrom("lost" as const, "unanswered" as const, "answered" as const), { maxLength: 10 });

  it("two pages end where the server is, and no edit is lost or stored twice", async () => {
    await fc.assert(
      fc.asyncProperty(fc.scheduler(), actions, outcomes, async (s, todo, lost) => {
        const server = new Unsteady((label) => s.schedule(Promise.resolve(), label), lost, viewOf({ passes }));
        const refused: Record<string, number> = {};
        const pages = ["one", "two"].map((author) => open(server, { ...silent, refused: () => void (refused[author] = (refused[author] ?? 0) + 1) }, author));
        server.changed = (revision) => void s.schedule(Promise.resolve(), "event").then(() => pages.forEach((page) => page.told(revision)));
        const fresh = numbered("new");
        const edits: Promise<unknown>[] = [];
        const results: { page: number; answer: Answer | null }[] = [];
        for (const [page, action] of todo) {
          s.schedule(Promise.resolve(), "a hand moves").then(() => {
            const sent = perform(pages[page]!, action, fresh);
            edits.push(sent.then((answer) => void (action.do !== "undo" && action.do !== "redo" && results.push({ page, answer: (answer ?? null) as Answer | null }))));
          });
        }
        await s.waitIdle();
        for (const page of pages) {
          page.drop();
          page.refresh();
        }
        await s.waitIdle();
        await Promise.all(edits);
        for (const page of pages) {
          expect(page.busy).toBe(false);
          expect(page.view.revision).toBe(server.head);
          expect(page.shown).toEqual(server.newest.document);
          expect(page.state.getState().draft).toEqual([]);
        }
        const ids = server.revisions.map((r) => r.edit).filter((id) => id !== null);
        expect(new Set(ids).size).toBe(ids.length);
        const stored = results.filter((r) => r.answer !== null).map((r) => r.answer!.made);
        expect(stored.every((made) => server.revisions.some((r) => r.id === made))).toBe(true);
        expect(new Set(stored).size).toBe(stored.length);
        expect(stored.length).toBe(ids.length); // each that is stored was told to the page that made it
      }),
      { numRuns: 300 },
    );
  });
});

describe("equal values", () => {
  it("are told as JSON tells them", () => {
    fc.assert(fc.property(fc.jsonValue(), fc.jsonValue(), (a, b) => equal(a, b) === (JSON.stringify(sorted(a)) === JSON.stringify(sorted(b)))), { numRuns: 300 });
    fc.assert(fc.property(fc.jsonValue(), (a) => equal(a, structuredClone(a))));
  });
});

/** The same value with the keys of its objects in order, and without the sign of zero, as JSON has none. */
function sorted(value: unknown): unknown {
  if (Array.isArray(value)) return value.map(sorted);
  if (typeof value === "number") return Object.is(value, -0) ? "-0" : value;
  if (typeof value !== "object" || value === null) return value;
  return { object: Object.entries(value).sort(([a], [b]) => (a < b ? -1 : 1)).map(([key, v]) => [key, sorted(v)]) };
}
