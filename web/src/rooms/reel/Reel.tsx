import { useQuery } from "@tanstack/react-query";
import { useEffect, useState } from "react";
import { useParams } from "react-router";

import { ask, client } from "../../api/client";
import type { ReelView } from "../../api/types";
import type { ReelEngine } from "../../engine/reel/reel";
import { useApp } from "../../panels/app";
import { TimedContext } from "../../panels/engine";
import { LinesContext } from "../../panels/lines";
import { ReelContext, useReelLayout } from "./context";
import { FirstSteps } from "./FirstSteps";
import { Here } from "./Here";
import { useReelKeys } from "./keys";
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
        <Panels />
      </TimedContext>
    </ReelContext>
  );
}

/** The engine of the reel, from when it is read until the room is left. */
function useOpened(view: ReelView | undefined): ReelEngine | null {
  const app = useApp();
  const [reel, setReel] = useState<ReelEngine | null>(null);
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
  return (
    <main className="grid h-full grid-cols-[var(--reel-left)_minmax(0,1fr)_clamp(262px,22.2vw,284px)] grid-rows-[minmax(0,1fr)_minmax(220px,272px)]">
      <section aria-label="Shots" className="flex min-h-0 flex-col border-r border-line bg-panel">
        <Shots />
      </section>
      <section aria-label="Picture" className="flex min-h-0 min-w-0 flex-col bg-ground">
        <FirstSteps />
        <ReelPicture />
        <Here />
      </section>
      <section aria-label="What is chosen" className="pane min-h-0 overflow-y-auto border-l border-line bg-panel px-3.5 pb-3">
        <LinesContext value={useReelLayout().height}>
          <ReelWhat />
        </LinesContext>
      </section>
      <section aria-label="When" className="col-span-3 min-h-0 min-w-0 border-t border-line bg-panel">
        <ReelTime />
      </section>
    </main>
  );
}
