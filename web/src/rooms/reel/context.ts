/** How the panels of the reel come by it. */
import { createContext, useContext } from "react";
import { useStore } from "zustand";

import type { ReelChoice, ReelSession } from "../../engine/reel/reel";
import { shownAt, type Placed, type ReelLayout } from "../../engine/reel/layout";

export const ReelContext = createContext<ReelSession | null>(null);

export function useReel(): ReelSession {
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

/** Where an item is on the Bench: its shot, at the frames that the item shows, and the one that is seen now. */
export function benchOfItem(reel: ReelSession, placed: Placed) {
  const into = Math.min(Math.max(reel.timeline.frame - placed.first, 0), placed.frames - 1);
  const { item } = placed;
  return `/projects/${reel.view.project_id}/shots/${item.shot}?frames=${item.first}-${item.last}&frame=${shownAt(placed, reel.layout.fps, into)}`;
}

/** Where a span, or a reveal, is on the Bench. */
export const benchOf = (reel: ReelSession, list: "spans" | "transitions", id: string) => `/projects/${reel.view.project_id}/shots/${reel.view.reel_id}.${list}.${id}`;

/** The reel's own track of sound. */
export const useTrack = () => useStore(useReel().document.state, (s) => s.shown.track ?? null);
