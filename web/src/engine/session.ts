/** What a room with a picture works with: one document, its time, the stage with the picture of it, and what is chosen in them. */
import type { Command } from "../api/types";
import type { Answer, AnyView, Document, Path } from "./document";
import type { Around, Film } from "./scene";
import type { Slice } from "./slice";
import { Stage } from "./stage/stage";
import type { StageState, Want } from "./stage/state";
import type { Timeline, TimelineState } from "./timeline";

/** What goes along the history, not into it. */
type Step = "undo" | "redo";

export abstract class Session<V extends AnyView, C extends object> implements Film {
  readonly stage: Stage;
  abstract readonly timeline: Timeline;
  abstract readonly choice: Slice<C>;
  /** Where the server has the document. */
  abstract readonly path: string;
  /** Of the picture, in pixels. */
  abstract readonly size: { width: number; height: number };
  abstract readonly heard: Film["heard"];
  private readonly unfollow: () => void;
  /** What `now` was put together of: it is asked for many times between two changes. */
  private together: { timeline: TimelineState; stage: StageState; choice: C; all: TimelineState & StageState & C } | null = null;

  constructor(
    readonly document: Document<V>,
    readonly around: Around,
    kept: Partial<StageState> = {},
  ) {
    this.stage = new Stage(() => this, kept);
    this.unfollow = document.state.subscribe((now, then) => {
      if (now.shown !== then.shown) this.follow();
    });
  }

  /** What is to be seen now, at a width. */
  abstract want(width: number): Want;
  /** What that is compared with. */
  abstract before(want: Want): Want;
  /** A selection of the moment whose pixels are hatched. */
  abstract lit(): { command: Command; selection: string } | null;
  /** The document has changed: what is gone is not chosen any more. */
  protected abstract follow(): void;

  /** End it; what is being typed is stored first. */
  dispose() {
    this.around.settle();
    this.document.drop();
    this.unfollow();
  }

  /** What is looked at, as it is now. */
  get now(): TimelineState & StageState & C {
    const { timeline, stage, choice, together } = this;
    if (together?.timeline === timeline.now && together.stage === stage.now && together.choice === choice.now) return together.all;
    const parts = { timeline: timeline.now, stage: stage.now, choice: choice.now };
    this.together = { ...parts, all: { ...parts.timeline, ...parts.stage, ...parts.choice } };
    return this.together.all;
  }
  get view(): V {
    return this.document.view;
  }
  get shown(): V["document"] {
    return this.document.shown;
  }

  /** Go to a frame. What was typed or stepped belongs to the one that is left. */
  go(frame: number) {
    this.around.settle();
    if (this.timeline.now.playing) this.stage.pause();
    this.timeline.moveTo(frame);
  }

  /** Store a change as one step of history. */
  edit(commands: Command[], words: string) {
    return this.document.edit(commands, words);
  }

  /** Ask the server for something that it works out itself; where it says no, that is said. Null then. */
  async ask(path: Exclude<Path, "edits">, body: Record<string, unknown> = {}, otherwise = "That did not work."): Promise<Answer<V> | null> {
    this.around.settle();
    try {
      return await this.document.ask(path, body);
    } catch (error) {
      this.around.say(error instanceof Error && error.message ? error.message : otherwise, { bad: true });
      return null;
    }
  }

  /** Undo or redo, after what is being typed or dragged is stored. */
  async step(which: Step) {
    this.around.settle();
    const words = this.document.busy ? null : this.view[which];
    if (words === null && !this.document.busy) return;
    const answer = await this.ask(which);
    const told = words ?? (answer && (which === "undo" ? answer.view.redo : answer.view.undo));
    if (answer) this.around.say(`${which === "undo" ? "Undone" : "Done again"}: ${told}`);
  }
}
