/** What the engine's own tests stand on: shots, a server that is as strict as the real one, and an engine without a screen. */
import { calls } from "../api/calls";
import type { Command, ShotView } from "../api/types";
import { Background } from "./background";
import { applyCommands, join, split, TargetGone } from "./commands";
import { Document, type Answer, type Item, type Path, type Server, type Telling } from "./document";
import { BenchSession } from "./bench";
import type { Around } from "./scene";
import { Pace } from "./stage/pace";

export const viewOf = (more: { passes?: string[]; selections?: string[]; revision?: number; rate?: string; last?: number; lanes?: unknown[] } = {}) => {
  const { passes = ["a", "b"], selections = ["s"], revision = 1, rate = "24", last = 119, lanes = [] } = more;
  return {
    shot: { id: "shot", footage_id: "f", name: "Shot", head: revision },
    footage: { id: "f", name: "f.mp4", bytes: 1, seconds: 5, facts: { rate, length: last + 1, width: 320, height: 180, sound: null } },
    revision,
    document: {
      first: 0,
      last,
      look: { schema_version: 3, selections: selections.map((id) => ({ id, name: id, keys: [], shapes: [], objects: [] })), passes: passes.map((id) => ({ id, name: id, on: true, amount: 100, params: {} })), lanes },
    },
    undo: null,
    redo: null,
  } as unknown as ShotView;
};

export class Lost extends Error {}
export class No extends Error {
  kind = "StaleRevision";
  constructor(readonly newest: ShotView) {
    super("This shot was changed elsewhere.");
  }
}

type Revision = { id: number; parent: number | null; view: ShotView; touched: string[]; edit: string | null; author: string };

const overlap = (one: string, other: string) => {
  const [a, b] = [one.split("/"), other.split("/")];
  const n = Math.min(a.length, b.length);
  return a.slice(0, n).join("/") === b.slice(0, n).join("/");
};

/** The targets that commands change. */
const touched = (commands: Command[]) =>
  commands.map((c) => (c.do === "add" ? `${c.target}/${join(String((c.value as { id: string }).id))}` : c.do === "move" ? `${c.target}/@place` : c.target));

/** A server of one shot: edits by target, each stored once; undo and redo along the tree. */
export class Shots implements Server {
  revisions: Revision[];
  head: number;
  /** Called whenever the shot has changed. */
  changed: (revision: number) => void = () => undefined;

  constructor(view: ShotView = viewOf()) {
    this.head = view.revision;
    this.revisions = [{ id: view.revision, parent: null, view, touched: [], edit: null, author: "" }];
  }

  at = (id: number) => this.revisions.find((r) => r.id === id)!;
  get newest(): ShotView {
    const { view } = this.at(this.head);
    return { ...view, revision: this.head };
  }

  private line(id: number): Revision[] {
    const found: Revision[] = [];
    for (let at: number | null = id; at !== null; at = this.at(at).parent) found.push(this.at(at));
    return found;
  }

  answer(path: Path, body: Record<string, unknown>): Answer {
    const base = body["base"] as number;
    if (path === "undo" || path === "redo") {
      const to = path === "undo" ? this.at(base).parent : (this.revisions.findLast((r) => r.parent === base)?.id ?? null);
      if (to !== null && to === this.head) return { view: this.newest, made: null };
      if (base !== this.head || to === null) throw new No(this.newest);
      this.move(to);
      return { view: this.newest, made: null };
    }
    const [commands, edit, author] = [body["commands"] as Command[], body["id"] as string, body["author"] as string];
    const stored = this.revisions.find((r) => r.edit === edit);
    if (stored) return { view: this.newest, made: stored.id };
    const [mine, seen] = [this.line(this.head), this.line(base)];
    const told = [...seen.filter((r) => !mine.includes(r)), ...mine.filter((r) => !seen.includes(r) && r.author !== author)];
    if (told.some((r) => r.touched.some((t) => touched(commands).some((m) => overlap(m, t))))) throw new No(this.newest);
    let document;
    try {
      document = applyCommands(this.newest.document, commands);
    } catch (error) {
      if (error instanceof TargetGone) throw new No(this.newest);
      throw error;
    }
    const id = this.revisions.length + 1;
    this.revisions.push({ id, parent: this.head, view: { ...this.newest, document, undo: String(body["words"]) }, touched: touched(commands), edit, author });
    this.move(id);
    return { view: this.newest, made: id };
  }

  private move(to: number) {
    this.head = to;
    this.changed(to);
  }

  send(_: string, path: Path, body: Record<string, unknown>): Promise<Answer> {
    return Promise.resolve().then(() => this.answer(path, body));
  }
  read(): Promise<ShotView> {
    return Promise.resolve(this.newest);
  }
  unreachable = (error: unknown) => error instanceof Lost;
  back = () => Promise.resolve();
}

/** A server of which requests and answers are lost now and then, and come when the scheduler says. */
export class Unsteady extends Shots {
  constructor(
    private schedule: (what: string) => Promise<unknown>,
    private outcomes: ("lost" | "unanswered" | "answered")[],
    view: ShotView,
  ) {
    super(view);
  }
  private outcome() {
    return this.outcomes.pop() ?? "answered";
  }
  override async send(_: string, path: Path, body: Record<string, unknown>): Promise<Answer> {
    await this.schedule(`${path} goes`);
    const outcome = this.outcome();
    if (outcome === "lost") throw new Lost();
    let answer: Answer | null = null;
    let no: unknown = null;
    try {
      answer = this.answer(path, structuredClone(body));
    } catch (error) {
      no = error;
    }
    await this.schedule(`${path} comes back`);
    if (outcome === "unanswered") throw new Lost();
    if (no) throw no as Error;
    return structuredClone(answer!);
  }
  override async read() {
    await this.schedule("reading");
    if (this.outcome() === "lost") throw new Lost();
    const { newest } = this;
    await this.schedule("read");
    return structuredClone(newest);
  }
  override back = async () => void (await this.schedule("the server is back"));
}

export const silent: Telling = { refused: () => undefined, resent: () => undefined };

/** Nothing is kept over a reload. */
export const noOutbox = { save: () => undefined, left: () => Promise.resolve([] as Item[]) };

export const numbered = (stem: string) => {
  let n = 0;
  return () => `${stem}${++n}`;
};

export const around = (more: Partial<Around> = {}): Around => ({
  say: () => undefined,
  catalogue: () => null,
  settle: () => false,
  newId: numbered("new"),
  track: () => null,
  back: () => Promise.resolve(),
  pocket: { put: () => undefined },
  server: calls,
  background: new Background(),
  pace: new Pace({ getItem: () => "1", setItem: () => undefined }),
  ...more,
});

/** An engine on a server of its own. */
export function engineOn(view: ShotView = viewOf(), more: Partial<Around> = {}, server: Server = new Shots(view), author = "page"): BenchSession {
  const document = new Document(view, server, noOutbox, silent, author, numbered(author));
  return new BenchSession(document, around(more));
}

/** The name of a pass, in a target. */
export const passOf = (command: Command) => split(command.target)[2];
