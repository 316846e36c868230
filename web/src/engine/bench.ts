/** What the panels of the Bench work with: a session on one shot, or on the look of a part of a reel. */
import type { Bundle, Command, Pass, Selection, ShotView } from "../api/types";
import { Choice, type ChoiceState } from "./choice";
import type { Document } from "./document";
import { Pins } from "./pins";
import { bundlesOf, passesOf, selectionsOf, type Around, type Scene } from "./scene";
import { Session } from "./session";
import type { Want } from "./stage/state";
import { beforeOf, wantOf } from "./stage/want";
import { Target } from "./target";
import { rateOf, Timeline } from "./timeline";

export class BenchSession extends Session<ShotView, ChoiceState> implements Scene {
  readonly timeline: Timeline;
  readonly choice: Choice;
  readonly target: Target;
  readonly pins = new Pins();

  /** before: the session of the shot that was open before; how one works stays as it was. */
  constructor(document: Document, around: Around, before: BenchSession | null = null) {
    const kept = before?.now;
    super(document, around, kept ? { scope: kept.scope } : {});
    const facts = () => document.view.footage.facts; // those of a part of a reel change with it
    this.timeline = new Timeline({ length: () => facts().length, rate: () => rateOf(facts().rate), ends: () => document.shown }, kept ? { loop: kept.loop, sound: kept.sound, full: kept.full } : {});
    this.choice = new Choice(document.shown, kept ? { patch: kept.patch } : {});
    this.target = new Target(this, "look");
  }

  protected follow() {
    this.choice.follow(this.shown);
    if (this.stage.now.instead) this.stage.set({ instead: null }); // what is changed is what is seen
  }

  override dispose() {
    super.dispose();
    this.choice.now.tracking?.stop();
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
    return this.passes.find((p) => p.id === this.choice.now.passId) ?? null;
  }
  /** The bundle that is chosen, where one is. */
  get bundle(): Bundle | null {
    return this.bundles.find((b) => b.id === this.choice.now.bundleId) ?? null;
  }
  get selection(): Selection | null {
    return this.selections.find((s) => s.id === this.choice.now.selectionId) ?? null;
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
    if (part?.kind === "span") return { url: `/api/reels/${part.reel_id}/sound/${revision}.wav`, from: part.begins / this.timeline.rate };
    return footage.facts.sound ? { url: `/api/footage/${footage.id}/sound.wav`, from: 0 } : null;
  }
  want(width: number): Want {
    return wantOf(this, width);
  }
  before(want: Want): Want {
    return beforeOf(want, this.stage.now.against);
  }
  lit(): { command: Command; selection: string } | null {
    const { lit } = this.stage.now;
    return lit && { command: { do: "add", target: this.target.of("selections"), value: lit }, selection: lit.id };
  }

  /** Choose a pass, and see it in the finished picture where `seen` says so. */
  choosePass(id: string | null, seen = false) {
    this.choice.choosePass(id);
    if (seen) this.stage.set({ show: "result" });
  }

  /** Choose what a target names, where it is there. */
  reveal(target: string) {
    this.choice.reveal(target, this.shown);
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
}
