/**
 * A document as the page has it: the newest state of the server, edits on their way, one gesture under way, projected together.
 * Requests go out one at a time, in order; each edit has an id of its own and is stored once, however often it is sent.
 */
import { createStore, type StoreApi } from "zustand/vanilla";

import type { Command, ReelView, ShotView } from "../api/types";
import { applyCommands } from "./commands";
import { equal } from "./equal";

export type Path = "edits" | "picks" | "fit" | "renewed" | "fences" | "outlines" | "objects" | "dress" | "likeness" | "palette" | "paste" | "look" | "undo" | "redo" | "head";

/** A request on its way. base: the revision an edit was made on; null: whatever is the newest when it is sent. */
export type Item = { id: string; author: string; base: number | null; path: Path; body: Record<string, unknown>; words: string };

/** What the server says to a request. made: the revision that it made. */
/** A document with its history, as the server tells it: a shot, or a reel. */
export type AnyView = ShotView | ReelView;

/** What names a document. */
export const subjectOf = (view: AnyView) => ("reel_id" in view ? view.reel_id : view.shot.id);

export type Answer<V extends AnyView = ShotView> = { view: V; made: number | null } & Record<string, unknown>;

/** The server said no. newest: the state as it stands, where the edit does not fit it. */
export type Refused = Error & { kind?: string; newest?: AnyView | null };

export interface Server<V extends AnyView = ShotView> {
  send(subject: string, path: Path, body: Record<string, unknown>): Promise<Answer<V>>;
  read(subject: string): Promise<V>;
  /** Whether an error means that there was no answer at all. */
  unreachable(error: unknown): boolean;
  /** Resolves when the server can be reached again. */
  back(): Promise<void>;
}

/** Where what has not been answered is kept over a reload of the page. */
export interface Outbox {
  save(subject: string, items: Item[]): void;
  /** What pages that are gone have left. */
  left(subject: string): Promise<Item[]>;
}

/** How an edit that was refused is told. again: does it once more on the newest state. */
export type Telling = { refused(subject: string, error: Refused, again: (() => void) | null): void; resent(count: number): void };

export type DocumentState<V extends AnyView = ShotView> = {
  view: V;
  /** Not answered yet, in order. */
  waiting: Item[];
  gesture: Command[] | null;
  /** With edits on their way. */
  stored: V["document"];
  /** With the gesture too: what is on screen. */
  shown: V["document"];
  /** What makes `shown` of the server's state. */
  draft: Command[];
};

/** Requests that move along the history: they are told by the revision they go from. */
const STEPS: ReadonlySet<Path> = new Set(["undo", "redo", "head"]);

type Waiter<V extends AnyView> = { resolve: (answer: Answer<V>) => void; reject: (error: unknown) => void };

const commandsOf = (item: Item) => (item.path === "edits" ? (item.body["commands"] as Command[]) : []);

/** The document with what is laid over it; what does not fit any more is left out: the server will say so. */
export function project<D>(document: D, waiting: readonly Item[], gesture: readonly Command[] | null): { stored: D; shown: D; draft: Command[] } {
  const draft: Command[] = [];
  const laid = (on: D, commands: readonly Command[]) => {
    try {
      const next = commands.length ? applyCommands(on, commands) : on;
      draft.push(...commands);
      return next;
    } catch {
      return on;
    }
  };
  const stored = waiting.reduce((on, item) => laid(on, commandsOf(item)), document);
  return { stored, shown: gesture ? laid(stored, gesture) : stored, draft };
}

export class Document<V extends AnyView = ShotView> {
  readonly state: StoreApi<DocumentState<V>>;
  private waiters = new Map<string, Waiter<V>>();
  private round: Promise<void> | null = null; // what is being sent and read, until nothing is left
  private stale = false; // the newest state is to be read
  private heard: number | null = null; // the revision that the server last told to be the newest
  private seen: number | null = null; // the revision that the gesture under way began on

  constructor(
    view: V,
    private server: Server<V>,
    private outbox: Outbox,
    private telling: Telling,
    private author: string,
    private newId: () => string,
  ) {
    this.state = createStore<DocumentState<V>>(() => ({ view, waiting: [], gesture: null, ...project<V["document"]>(view.document, [], null) }));
  }

  get subject() {
    return subjectOf(this.state.getState().view);
  }
  get view() {
    return this.state.getState().view;
  }
  get shown() {
    return this.state.getState().shown;
  }
  get stored() {
    return this.state.getState().stored;
  }
  get busy() {
    return this.round !== null || this.state.getState().waiting.length > 0;
  }

  private put(change: Partial<Pick<DocumentState<V>, "view" | "waiting" | "gesture">>) {
    const { view, waiting, gesture } = { ...this.state.getState(), ...change };
    this.state.setState({ view, waiting, gesture, ...project<V["document"]>(view.document, waiting, gesture) });
    if (change.waiting) this.outbox.save(subjectOf(view), waiting);
  }

  /** Show a change without storing it: the gesture under way. One that is back where it began is none. */
  show(commands: Command[]) {
    this.seen ??= this.view.revision;
    const { stored } = this.state.getState();
    const { shown } = project(stored, [], commands);
    this.put({ gesture: equal(shown, stored) ? null : commands });
  }

  /** Give the gesture up. */
  drop() {
    this.seen = null;
    if (this.state.getState().gesture) this.put({ gesture: null });
  }

  /** Store a change as one step of history; it is shown at once and takes the place of the gesture. What changes nothing is no step. */
  async edit(commands: Command[], words: string): Promise<Answer<V> | null> {
    const { stored, waiting } = this.state.getState();
    // What is edited after a step back that is not answered yet is seen as it will be then.
    const base = waiting.some((item) => STEPS.has(item.path)) ? null : (this.seen ?? this.view.revision);
    this.drop();
    const { stored: after } = project(stored, [{ id: "", author: "", base, path: "edits", body: { commands }, words }], null);
    if (!commands.length || (after !== stored && equal(after, stored))) return null;
    try {
      return await this.push({ id: this.newId(), author: this.author, base, path: "edits", body: { commands, words }, words });
    } catch (error) {
      this.telling.refused(this.subject, error as Refused, () => void this.edit(commands, words));
      return null;
    }
  }

  /** Ask the server for an edit that it works out itself. Rejects where it says no. */
  ask(path: Exclude<Path, "edits">, body: Record<string, unknown> = {}): Promise<Answer<V>> {
    this.drop();
    return this.push({ id: this.newId(), author: this.author, base: null, path, body, words: "" });
  }

  private push(item: Item): Promise<Answer<V>> {
    const answered = new Promise<Answer<V>>((resolve, reject) => this.waiters.set(item.id, { resolve, reject }));
    this.put({ waiting: [...this.state.getState().waiting, item] });
    void this.run();
    return answered;
  }

  /** Send what pages that are gone have left. */
  async resume() {
    const left = (await this.outbox.left(this.subject)).filter((item) => !this.state.getState().waiting.some((w) => w.id === item.id));
    if (!left.length) return;
    this.put({ waiting: [...left, ...this.state.getState().waiting] });
    this.telling.resent(left.length);
    await this.run();
  }

  /** The server says that a revision is the newest. It is read where what is on its way does not bring it. */
  told(revision: number) {
    this.heard = revision;
    void this.run();
  }

  private get behind() {
    return this.stale || (this.heard !== null && this.heard !== this.view.revision);
  }

  /** Read the newest state, once what is under way is answered. */
  refresh() {
    this.stale = true;
    void this.run();
  }

  /** Resolves when the newest state is here. */
  async newest() {
    this.refresh();
    await this.idle();
  }

  /** Resolves when nothing is on its way. */
  async idle() {
    while (this.busy) await this.round;
  }

  private run(): Promise<void> {
    this.round ??= this.everything().finally(() => {
      this.round = null;
      if (this.state.getState().waiting.length || this.behind) void this.run(); // came while the last answer was being taken
    });
    return this.round;
  }

  private async everything() {
    for (;;) {
      const item = this.state.getState().waiting[0];
      if (item) await this.send(item);
      else if (this.behind) await this.read();
      else return;
    }
  }

  /** Do something, again and again until the server can be reached. */
  private async reach<T>(work: () => Promise<T>): Promise<T> {
    for (;;) {
      try {
        return await work();
      } catch (error) {
        if (!this.server.unreachable(error)) throw error;
        await this.server.back();
      }
    }
  }

  private async send(item: Item) {
    const step = STEPS.has(item.path);
    const stamp = step ? {} : { id: item.id, author: item.author };
    const base = item.base ?? this.view.revision;
    // Where a step goes from is kept with it: sent once more after a reload, it is not taken twice.
    if (step && item.base === null) this.put({ waiting: this.state.getState().waiting.map((w) => (w.id === item.id ? { ...w, base } : w)) });
    const waiter = this.waiters.get(item.id);
    this.waiters.delete(item.id);
    try {
      const answer = await this.reach(() => this.server.send(this.subject, item.path, { ...item.body, ...stamp, base }));
      this.settle(item, answer.view);
      waiter?.resolve(answer);
    } catch (error) {
      const { newest } = error as Refused;
      if (!newest) this.stale = true;
      this.settle(item, (newest as V | null | undefined) ?? this.view);
      if (waiter) waiter.reject(error);
      else this.telling.refused(this.subject, error as Refused, item.path === "edits" ? () => void this.edit(commandsOf(item), item.words) : null);
    }
  }

  /** A request is answered: it goes, and what the server says it has become comes, in one step. */
  private settle(item: Item, view: V) {
    if (subjectOf(view) !== this.subject) throw new Error(`An answer for ${subjectOf(view)} came to ${this.subject}.`);
    this.put({ view, waiting: this.state.getState().waiting.filter((w) => w.id !== item.id) });
  }

  private async read() {
    this.stale = false;
    this.heard = null;
    try {
      const view = await this.reach(() => this.server.read(this.subject));
      this.put({ view });
    } catch {
      // The shot is gone, or the server is in trouble: the next event or edit says so.
    }
  }
}
