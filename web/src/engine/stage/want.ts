/** What the Bench, as it stands, wants to see. */
import type { Scene } from "../scene";
import type { StageState, Want } from "./state";

export function wantOf(scene: Scene, width: number): Want {
  const { passId, peek, compare, show, frame, selectionId, upTo, solo, instead } = scene.now;
  const at = scene.passes.findIndex((p) => p.id === passId);
  if (instead) return { revision: instead.revision, frame, width, view: "result", selection: null, upto: null, alone: null };
  const view = peek && compare === "off" ? "source" : show;
  return {
    revision: scene.view.revision,
    frame,
    width,
    view,
    selection: selectionId,
    upto: upTo && view === "result" && at >= 0 ? at + 1 : null,
    alone: solo && view === "result" && at >= 0 ? passId : null,
  };
}

/** The scope that comes with every picture; none while it is folded. */
export const scopeOf = ({ scope }: Pick<StageState, "scope">) => (scope.open ? { scope: scope.kind, of: scope.of } : {});

const SCOPES = 12; // a second, at least, while playing

/** While playing a scope comes with every nth frame of the source: always the same ones, so that they are found again. */
export const scopeEvery = (rate: number) => Math.max(1, Math.floor(rate / SCOPES));

/** What a picture is compared with: the source, or a take. */
export const beforeOf = (want: Want, against: StageState["against"]): Want =>
  against ? { ...want, revision: against.revision, view: "result", upto: null, alone: null } : { ...want, view: "source" };
