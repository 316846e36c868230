/** What the Bench, as it stands, wants to see. */
import type { View } from "../api/types";
import { bench, documentOf, passesOf, type Bench } from "./store";

export type Want = { revision: number; frame: number; width: number; view: View; selection: string | null; upto: number | null; alone: string | null };

export function wantOf(state: Bench, width: number): Want | null {
  if (!state.view) return null;
  const passes = passesOf(documentOf(state));
  const at = passes.findIndex((p) => p.id === state.passId);
  const view = state.peek && state.compare === "off" ? "source" : state.show;
  return {
    revision: state.view.revision,
    frame: state.frame,
    width,
    view,
    selection: state.selectionId,
    upto: state.upTo && view === "result" && at >= 0 ? at + 1 : null,
    alone: state.solo && view === "result" && at >= 0 ? state.passId : null,
  };
}

/** The scope that comes with every picture; none while it is folded. */
export const scopeOf = ({ scope }: Bench) => (scope.open ? { scope: scope.kind, of: scope.of } : {});

const SCOPES = 12; // a second, at least, while playing

/** While playing a scope comes with every nth frame of the source: always the same ones, so that they are found again. */
export const scopeEvery = (rate: number) => Math.max(1, Math.floor(rate / SCOPES));

/** What a picture is compared with: the source, or a take. */
export function beforeOf(want: Want): Want {
  const { against } = bench();
  return against ? { ...want, revision: against.revision, view: "result", upto: null, alone: null } : { ...want, view: "source" };
}
