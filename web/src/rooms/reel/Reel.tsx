import { useQuery } from "@tanstack/react-query";
import { useEffect, useRef, useState, type CSSProperties } from "react";
import { useParams } from "react-router";

import { ask, client } from "../../api/client";
import type { ReelView } from "../../api/types";
import type { ReelSession } from "../../engine/reel/reel";
import { PANES } from "../../engine/layout";
import { useApp, useLayout } from "../../panels/app";
import { Gutter } from "../../ui/gutter";
import { useLow } from "../../ui/low";
import { TimedContext } from "../../panels/engine";
import { LinesContext } from "../../panels/lines";
import { useSize } from "../../ui/size";
import { ReelContext, useReelLayout } from "./context";
import { FirstSteps } from "./FirstSteps";
import { Here } from "./Here";
import { useReelKeys } from "./keys";
import { ReelBar } from "./ReelBar";
import { ReelPicture } from "./ReelPicture";
import { ReelTime } from "./ReelTime";
import { ReelWhat } from "./ReelWhat";
import { Shots } from "./Shots";

/** Several shots, one after another. */
export function Reel() {
  const { projectId } = useParams();
  const { data, error } = useQuery({
    queryKey: ["reel", projectId],
    staleTime: 0,
    gcTime: 0,
    queryFn: () => ask(client.GET("/api/projects/{project_id}/reel", { params: { path: { project_id: projectId! } } })),
  });
  const reel = useOpened(data);
  if (error) return <main className="p-10">{error.message}</main>;
  if (!reel) return <p className="p-8 text-quiet">Opening the reel…</p>;
  return (
    <ReelContext value={reel}>
      <TimedContext value={reel}>
        <ReelBar />
        <Panels />
      </TimedContext>
    </ReelContext>
  );
}

/** The engine of the reel, from when it is read until the room is left. */
function useOpened(view: ReelView | undefined): ReelSession | null {
  const app = useApp();
  const [reel, setReel] = useState<ReelSession | null>(null);
  const id = view?.reel_id;
  useEffect(() => {
    if (!view) return;
    const opened = app.reel(view);
    setReel(opened);
    const [list, part] = (new URLSearchParams(location.search).get("at") ?? "").split("/");
    if (part && (list === "spans" || list === "transitions")) opened.reveal(list, part);
    return () => app.leaveReel(opened);
    // oxlint-disable-next-line react-hooks/exhaustive-deps -- what is read later is told to the document
  }, [app, id]);
  return reel;
}

function Panels() {
  useReelKeys();
  const { layout } = useApp();
  const sizes = useLayout((s) => s.sizes);
  const low = useLow();
  const of = (pane: "shots" | "chosen" | "cut") => sizes[pane] ?? (pane === "cut" && low ? PANES.cut.least : PANES[pane].first!);
  const edge = (pane: "shots" | "chosen" | "cut", name: string, side: "left" | "right" | "top") => <Gutter name={name} edge={side} size={of(pane)} {...PANES[pane]} onSize={(to) => layout.size(pane, to)} />;
  const when = useRef<HTMLElement>(null);
  const { height } = useSize(when, { width: 0, height: 240 });
  useEffect(() => {
    document.documentElement.style.setProperty("--foot", `${height + 29}px`);
    return () => void document.documentElement.style.removeProperty("--foot");
  }, [height]);
  return (
    <main className="grid h-full" style={{ "--reel-left": `${of("shots")}px`, gridTemplateColumns: `var(--reel-left) minmax(0,1fr) ${of("chosen")}px`, gridTemplateRows: `minmax(0,1fr) min(${of("cut")}px, 60%)` } as CSSProperties}>
      <section aria-label="Shots" className="relative flex min-h-0 flex-col border-r border-line bg-panel">
        <Shots />
        {edge("shots", "Shots", "right")}
      </section>
      <section aria-label="Picture" className="flex min-h-0 min-w-0 flex-col bg-ground">
        <FirstSteps />
        <ReelPicture />
        <Here />
      </section>
      <section aria-label="What is chosen" className="relative flex min-h-0 flex-col border-l border-line bg-panel">
        <div className="pane min-h-0 flex-1 overflow-y-auto px-3.5 pb-3">
          <What />
        </div>
        {edge("chosen", "the details", "left")}
      </section>
      <section ref={when} aria-label="When" className="relative col-span-3 min-h-0 min-w-0 border-t border-line bg-panel">
        <ReelTime />
        {edge("cut", "When", "top")}
      </section>
    </main>
  );
}

/** What is chosen, with the height of the frame that its sizes are told in. */
function What() {
  return (
    <LinesContext value={useReelLayout().height}>
      <ReelWhat />
    </LinesContext>
  );
}
