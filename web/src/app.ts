/** What there is once in a window: made here, handed down, reached for nowhere else. */
import { Kept } from "./api/kept";
import type { QueryClient } from "@tanstack/react-query";
import { createStore, type StoreApi } from "zustand/vanilla";

import { calls } from "./api/calls";
import { client } from "./api/client";
import { Connection } from "./api/connection";
import { Outbox } from "./api/outbox";
import { catalogueIn, changedBy, newQueries, Tracks } from "./api/queries";
import { reelsOver, shotsOver } from "./api/documents";
import type { ReelView, ShotView } from "./api/types";
import { Uploads } from "./api/uploads";
import type { Told } from "./engine/actions";
import { Document, type Refused } from "./engine/document";
import { BenchSession } from "./engine/bench";
import { Background } from "./engine/background";
import { newBell } from "./engine/bell";
import { newId } from "./engine/ids";
import { readMarks, ReelSession } from "./engine/reel/reel";
import { Silenced } from "./engine/silenced";
import { Places } from "./engine/places";
import { Loader } from "./engine/sheet/loader";
import { Sheet } from "./engine/sheet/sheet";
import { Layout } from "./engine/layout";
import { readPocket, type Pocket } from "./engine/pocket";
import { Notices } from "./ui/notices";
import { Prompts } from "./ui/prompt";
import { Settling } from "./ui/settle";
import type { Around } from "./engine/scene";
import { Pace } from "./engine/stage/pace";

const CAN_BE_STORED_LATER = ["DiskFull", "CannotStore", "DataFolderError"];
const frameOf = (reel: string) => `wenditas-frame-${reel}`;
const marksOf = (reel: string) => `wenditas-marks-${reel}`;
const POCKET = "wenditas-copied-pass";

/** What may lie over the whole window. */
export type Dialogs = { keyboard: boolean; shelf: boolean; help: { page: string; part: string | null } | null };

export class App {
  readonly kept = new Kept(() => localStorage);
  readonly queries: QueryClient = newQueries();
  readonly connection = new Connection();
  readonly notices = new Notices();
  readonly prompts = new Prompts();
  readonly settling = new Settling(() => {
    this.open.getState().engine?.document.drop();
    this.cut.getState().reel?.document.drop();
  });
  readonly tracks = new Tracks(this.queries);
  readonly uploads = new Uploads(this.queries, (name) => this.notices.say(`“${name}” is here already: the same file is not taken in twice.`));
  readonly dialogs: StoreApi<Dialogs> = createStore<Dialogs>(() => ({ keyboard: false, shelf: false, help: null }));
  /** The keys of the room that is open. */
  readonly keysHere: StoreApi<{ rows: readonly Told[] }> = createStore(() => ({ rows: [] as readonly Told[] }));
  readonly pocket: StoreApi<{ held: Pocket | null }> = createStore(() => ({ held: readPocket(this.kept.getItem(POCKET)) }));
  readonly background = new Background();
  readonly silenced = new Silenced(this.kept);
  readonly layout = new Layout(this.kept);
  readonly told = newBell(this.kept);
  private places = new Places(this.kept);
  /** The shot on the Bench. */
  readonly open: StoreApi<{ engine: BenchSession | null }> = createStore(() => ({ engine: null as BenchSession | null }));
  /** The reel in its room. */
  readonly cut: StoreApi<{ reel: ReelSession | null }> = createStore(() => ({ reel: null as ReelSession | null }));
  private sheetsOf = new Map<string, { sheet: Sheet; loader: Loader }>();
  private documents = new Map<string, Document>();
  private reels = new Map<string, Document<ReelView>>();
  private frames = new Map<string, number>();
  private page = newId();
  private outbox = new Outbox(this.page, this.kept);
  private last: BenchSession | null = null;

  start() {
    this.connection.onEvent((event) => changedBy(this.queries, event));
    this.connection.onEvent((event) => event.kind === "shot" && event.revision !== undefined && this.documents.get(event.id)?.told(event.revision));
    this.connection.onEvent((event) => {
      if (event.kind === "reel" && event.revision !== undefined) {
        this.reels.get(event.id)?.told(event.revision);
        for (const document of this.documents.values()) if (document.view.part?.reel_id === event.id) document.told(event.revision);
      }
      // What a shot looks like, is called, or whether it is there at all, is seen in the reel too.
      if (event.kind === "shot" || event.kind === "project") for (const reel of this.reels.values()) reel.refresh();
    });
    client.use({ onResponse: () => this.connection.answered() });
    this.kept.onFull = () => this.notices.say("This browser keeps nothing more for this page: its storage is full, or switched off. What is on its way would be lost by a reload.", { bad: true });
    this.connection.follow(() => {
      for (const reel of this.reels.values()) reel.refresh();
      void this.queries.invalidateQueries();
      for (const document of this.documents.values()) document.refresh();
    });
    window.addEventListener("pagehide", () => {
      const { engine } = this.open.getState();
      if (engine) this.places.keep(engine);
      const { reel } = this.cut.getState();
      if (reel) this.kept.setItem(frameOf(reel.view.reel_id), String(reel.timeline.frame));
    });
    window.addEventListener("storage", (e) => e.key === POCKET && this.pocket.setState({ held: readPocket(e.newValue) }));
  }

  /** Put a shot on the Bench. One document for each shot, however often it is opened: what is on its way goes on. */
  bench(view: ShotView): BenchSession {
    const document = this.documentOf(view);
    const say = this.notices.of(view.shot.id, () => `“${document.view.shot.name}”`, () => this.open.getState().engine?.view.shot.id === view.shot.id);
    const engine = new BenchSession(document, { ...this.around, say }, this.last);
    this.places.find(engine);
    this.last = engine;
    this.open.setState({ engine });
    void document.resume();
    return engine;
  }

  /** Take a shot from the Bench. */
  leave(engine: BenchSession) {
    this.places.keep(engine);
    this.notices.leave(engine.view.shot.id);
    engine.dispose();
    if (this.open.getState().engine === engine) this.open.setState({ engine: null });
  }

  /** Open the reel. */
  reel(view: ReelView): ReelSession {
    const id = view.reel_id;
    const known = this.reels.get(id);
    known?.refresh();
    const document = known ?? new Document<ReelView>(view, reelsOver(this.connection), this.outbox, { refused: this.refused, resent: this.resent }, this.page, newId);
    this.reels.set(id, document);
    const say = this.notices.of(id, () => "The reel", () => this.cut.getState().reel?.view.reel_id === id);
    const reel = new ReelSession(document, { ...this.around, say }, { frame: this.frames.get(id) ?? Number(this.kept.getItem(frameOf(id)) ?? 0), marks: readMarks(this.kept.getItem(marksOf(id))) });
    reel.choice.state.subscribe((now, then) => now.marks !== then.marks && this.kept.setItem(marksOf(id), now.marks ? `${now.marks.first} ${now.marks.last}` : ""));
    this.cut.setState({ reel });
    void document.resume();
    return reel;
  }

  /** Leave the room of the reel. */
  leaveReel(reel: ReelSession) {
    this.frames.set(reel.view.reel_id, reel.timeline.frame);
    this.kept.setItem(frameOf(reel.view.reel_id), String(reel.timeline.frame));
    this.notices.leave(reel.view.reel_id);
    reel.dispose();
    if (this.cut.getState().reel === reel) this.cut.setState({ reel: null });
  }

  /** The sheet of a project: the same one as before, with what was chosen. */
  sheet(project: string): { sheet: Sheet; loader: Loader } {
    const found = this.sheetsOf.get(project) ?? { sheet: new Sheet(project, this.kept), loader: new Loader((url, init) => fetch(url, init)) };
    this.sheetsOf.set(project, found);
    return found;
  }

  /** The document of a shot, whether or not it is on the Bench: one for each, however often it is asked for. */
  documentOf(view: ShotView): Document {
    const { id } = view.shot;
    const known = this.documents.get(id);
    if (known) {
      known.refresh();
      return known;
    }
    const made = new Document(view, shotsOver(this.connection), this.outbox, { refused: this.refused, resent: this.resent }, this.page, newId);
    this.documents.set(id, made);
    return made;
  }

  private refused = (shot: string, error: Refused, again: (() => void) | null) => {
    const reel = this.reels.has(shot);
    const here = reel || this.open.getState().engine?.view.shot.id === shot;
    const view = this.documents.get(shot)?.view;
    const name = view?.shot.name ?? "A shot";
    const action = again ? { name: "Apply mine again", run: again } : undefined;
    if (error.newest) {
      const subject = reel ? "The reel" : here ? `This ${view?.part?.kind ?? "shot"}` : `“${name}”`;
      return this.notices.say(`${subject} was changed in another window. Its newest state is shown; your last edit is not in it.`, { bad: true, action });
    }
    const said = error.message || "The edit was not stored.";
    this.notices.say(here ? said : `“${name}”: ${said}`, { bad: true, action: CAN_BE_STORED_LATER.includes(error.kind ?? "") ? action : undefined });
  };

  private resent = (count: number) =>
    this.notices.say(count === 1 ? "An edit that had not reached the server was sent again." : `${count} edits that had not reached the server were sent again.`);

  private around: Around = {
    say: this.notices.say,
    catalogue: () => catalogueIn(this.queries),
    settle: this.settling.now,
    newId,
    track: (digest) => this.tracks.get(digest),
    back: () => this.connection.back(),
    server: calls,
    background: this.background,
    pace: new Pace(this.kept),
    pocket: {
      put: (text) => {
        this.kept.setItem(POCKET, text);
        this.pocket.setState({ held: readPocket(text) });
      },
    },
  };
}
