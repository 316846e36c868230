/** What the panels of the Bench work with: a document, its time, the picture of it, and what is chosen. One for each shot that is opened. */
import type { Bundle, Command, Pass, Selection, ShotDocument, ShotView } from "../api/types";
import { Choice } from "./choice";
import { Document, type Answer, type Path } from "./document";
import { Pins } from "./pins";
import { bundlesOf, passesOf, selectionsOf, type Around, type Film, type Looking, type Scene } from "./scene";
import { Stage } from "./stage/stage";
import type { Want } from "./stage/state";
import { beforeOf, wantOf } from "./stage/want";
import { Target } from "./target";
import { rateOf, Timeline } from "./timeline";

export class Engine implements Scene, Film {
  readonly timeline: Timeline;
  readonly stage: Stage;
  readonly choice: Choice;
  readonly target: Target;
  readonly pins = new Pins();
  private stop: () => void;

  /** before: the engine of the shot that was open before; how one works stays as it was. */
  constructor(
    readonly document: Document,
    readonly around: Around,
    before: Engine | null = null,
  ) {
    const facts = () => document.view.footage.facts; // those of a part of a reel change with it
    const kept = before?.now;
    this.timeline = new Timeline({ length: () => facts().length, rate: () => rateOf(facts().rate), ends: () => document.shown }, kept ? { loop: kept.loop, sound: kept.sound, full: kept.full } : {});
    this.stage = new Stage(() => this, kept ? { scope: kept.scope } : {});
    this.choice = new Choice(document.shown, kept ? { patch: kept.patch } : {});
    this.target = new Target(this, "look");
    this.stop = document.state.subscribe((now, then) => {
      if (now.shown === then.shown) return;
      this.choice.follow(now.shown);
      if (this.now.instead) this.put({ instead: null }); // what is changed is what is seen
    });
  }

  dispose() {
    this.around.settle();
    this.document.drop();
    this.choice.state.getState().tracking?.stop();
    this.stop();
  }

  /** What is looked at, as it is now. */
  get now(): Looking {
    return { ...this.timeline.state.getState(), ...this.stage.state.getState(), ...this.choice.state.getState() };
  }

  /** Look at something else: whatever of time, stage and choice is named. */
  put(change: Partial<Looking>) {
    if ("passId" in change && !("bundleId" in change)) change = { ...change, bundleId: null };
    const parts: [Record<string, unknown>, Record<string, unknown>, Record<string, unknown>] = [{}, {}, {}];
    const choice = this.choice.state.getState();
    for (const [key, value] of Object.entries(change)) parts[key in this.timeline.state.getState() ? 0 : key in choice ? 2 : 1][key] = value;
    const [time, stage, chosen] = parts;
    if (Object.keys(chosen).length) this.choice.state.setState(chosen);
    if (Object.keys(stage).length) this.stage.state.setState(stage);
    if (Object.keys(time).length) this.timeline.state.setState(time);
  }

  get view(): ShotView {
    return this.document.view;
  }
  get shown(): ShotDocument {
    return this.document.shown;
  }
  get passes(): Pass[] {
    return passesOf(this.shown);
  }
  get bundles(): Bundle[] {
    return bundlesOf(this.shown);
  }
  get selections(): Selection[] {
    return selectionsOf(this.shown);
  }
  get pass(): Pass | null {
    return this.passes.find((p) => p.id === this.now.passId) ?? null;
  }
  /** The bundle that is chosen, where one is. */
  get bundle(): Bundle | null {
    return this.bundles.find((b) => b.id === this.now.bundleId) ?? null;
  }
  get selection(): Selection | null {
    return this.selections.find((s) => s.id === this.now.selectionId) ?? null;
  }

  get path() {
    return `/api/shots/${this.view.shot.id}`;
  }
  get size() {
    const { width, height } = this.view.footage.facts;
    return { width, height };
  }
  get heard() {
    const { part, revision, footage } = this.view;
    if (part?.kind === "span") return { url: `/api/reels/${part.reel_id}/sound/${revision}.webm`, from: part.begins / this.timeline.rate };
    return footage.facts.sound ? { url: `/api/footage/${footage.id}/sound.webm`, from: 0 } : null;
  }
  want(width: number): Want {
    return wantOf(this, width);
  }
  before(want: Want): Want {
    return beforeOf(want, this.now.against);
  }
  lit(): { command: Command; selection: string } | null {
    const { lit } = this.now;
    return lit && { command: { do: "add", target: this.target.of("selections"), value: lit }, selection: lit.id };
  }

  /** Go to a frame. What was typed or stepped belongs to the one that is left. */
  go(frame: number) {
    this.around.settle();
    if (this.now.playing) this.stage.pause();
    this.timeline.put(frame);
  }

  /** Choose what a target names, where it is there. */
  reveal(target: string) {
    this.choice.reveal(target, this.shown);
  }

  /** Ask the server for something that it works out itself; where it says no, that is said. Null then. */
  async ask(path: Exclude<Path, "edits">, body: Record<string, unknown>, otherwise: string): Promise<Answer | null> {
    this.around.settle();
    try {
      return await this.document.ask(path, body);
    } catch (error) {
      this.around.say(error instanceof Error && error.message ? error.message : otherwise, { bad: true });
      return null;
    }
  }

  /** Say what was done, with a way back: it takes back that edit, or says that it no longer can. */
  done(words: string, made: number | null) {
    this.around.say(words, made === null ? {} : { action: { name: "Undo", run: () => void this.takeBack(made) } });
  }

  private async takeBack(made: number) {
    this.around.settle();
    if (this.document.busy || this.document.view.revision !== made) {
      const where = this.document.view.shot.name;
      return this.around.say(`“${where}” was changed since then, so this cannot be taken back by itself. Its History has the state before.`, { bad: true });
    }
    await this.step("undo");
  }

  /** Undo or redo, after what is being typed or dragged is stored. */
  async step(which: "undo" | "redo") {
    this.around.settle();
    const words = this.document.busy ? null : this.view[which];
    if (words === null && !this.document.busy) return;
    const answer = await this.ask(which, {}, "That did not work.");
    const told = words ?? (answer && (which === "undo" ? answer.view.redo : answer.view.undo));
    if (answer) this.around.say(`${which === "undo" ? "Undone" : "Done again"}: ${told}`);
  }
}
