/** A reel of three items of two shots, edited as the server would. */
import type { Command, ReelView } from "../../api/types";
import { applyCommands } from "../commands";
import { Document, type Answer, type Path, type Server } from "../document";
import { around, noOutbox, numbered, silent } from "../testing";
import { ReelSession } from "./reel";

export const shot = { name: "A", footage_id: "f", revision: 3, gone: false, fps: "24", length: 100, width: 64, height: 36, still: false, sound: true };
export const viewOf = (document: object, of = shot): ReelView => ({ reel_id: "r", project_id: "p", revision: 1, document, shots: { a: of, b: { ...of, name: "B" } }, undo: null, redo: null }) as unknown as ReelView;
export const items = ["i", "j", "k"].map((id, n) => ({ id, shot: n % 2 ? "b" : "a", first: 10, last: 29 }));

/** A server that does what it is told, and keeps the words. */
class Told implements Server<ReelView> {
  words: string[] = [];
  constructor(public view: ReelView) {}
  send(_: string, path: Path, body: Record<string, unknown>): Promise<Answer<ReelView>> {
    if (path === "edits") {
      this.words.push(body["words"] as string);
      this.view = { ...this.view, revision: this.view.revision + 1, document: applyCommands(this.view.document, body["commands"] as Command[]) };
    }
    return Promise.resolve({ view: this.view, made: this.view.revision });
  }
  read = () => Promise.resolve(this.view);
  unreachable = () => false;
  back = () => Promise.resolve();
}

export const opened = (more: object = {}, of = shot) => {
  const said: string[] = [];
  const server = new Told(viewOf({ items, transitions: [], spans: [], ...more }, of));
  const reel = new ReelSession(new Document<ReelView>(server.view, server, noOutbox, silent, "page", numbered("e")), around({ say: (text) => said.push(text) }));
  return { reel, server, said, ids: () => reel.shown.items!.map((item) => [item.id, item.first, item.last]) };
};

