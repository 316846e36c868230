/** How the panels of the reel come by it. */
import { createContext, useContext } from "react";
import { useStore } from "zustand";

import type { ReelChoice, ReelEngine } from "../../engine/reel/reel";
import type { ReelLayout } from "../../engine/reel/layout";

export const ReelContext = createContext<ReelEngine | null>(null);

export function useReel(): ReelEngine {
  const reel = useContext(ReelContext);
  if (!reel) throw new Error("No reel is open.");
  return reel;
}

export const useReelChoice = <T>(pick: (s: ReelChoice) => T): T => useStore(useReel().choice.state, pick);

/** Where everything lies, with what is only being dragged. */
export function useReelLayout(): ReelLayout {
  const reel = useReel();
  useStore(reel.document.state, (s) => s.shown);
  useStore(reel.document.state, (s) => s.view.shots);
  return reel.layout;
}

/** Where a span, or a reveal, is on the Bench. */
export const benchOf = (reel: ReelEngine, list: "spans" | "transitions", id: string) => `/projects/${reel.view.project_id}/shots/${reel.view.reel_id}.${list}.${id}`;

/** The reel's own track of sound. */
export const useTrack = () => useStore(useReel().document.state, (s) => s.shown.track ?? null);
