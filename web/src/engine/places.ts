/** Where one was in each shot: its frame, pass, selection, view and zoom, found again when it is opened the next time. */
import type { BenchSession } from "./bench";
import type { Looking } from "./scene";
import type { Geometry } from "./stage/viewport";

export type Place = Pick<Looking, "frame" | "passId" | "selectionId" | "show"> & { zoom: Geometry | null };

type Kept = Pick<Storage, "getItem" | "setItem">;
const name = (shot: string) => `wenditas-place-${shot}`;

export class Places {
  constructor(private kept: Kept) {}

  /** Remember where one is in the shot of an engine. */
  keep(engine: BenchSession) {
    const { frame, passId, selectionId, show } = engine.now;
    const place: Place = { frame, passId, selectionId, show, zoom: engine.stage.zoom };
    try {
      this.kept.setItem(name(engine.view.shot.id), JSON.stringify(place));
    } catch {
      // Without room it is only not found again.
    }
  }

  /** Go to where one was, as far as it is still there. */
  find(engine: BenchSession) {
    const place = this.read(engine.view.shot.id);
    if (!place) return;
    const { frame, passId, selectionId, show, zoom } = place;
    if (Number.isFinite(frame)) engine.timeline.moveTo(frame!);
    if (passId && engine.passes.some((p) => p.id === passId)) engine.choosePass(passId);
    if (engine.selections.some((s) => s.id === selectionId)) engine.choice.set({ selectionId });
    if (show === "source" || show === "result") engine.stage.set({ show });
    if (zoom && [zoom.scale, zoom.x, zoom.y].every(Number.isFinite)) engine.stage.zoom = zoom;
  }

  private read(shot: string): Partial<Place> | null {
    try {
      return JSON.parse(this.kept.getItem(name(shot)) ?? "null") as Partial<Place> | null;
    } catch {
      return null;
    }
  }
}
