import { useQuery } from "@tanstack/react-query";
import { useEffect, useState, type ReactNode } from "react";
import { useParams } from "react-router";

import { ask, client } from "../../api/client";
import type { ReelView } from "../../api/types";
import type { ReelSession } from "../../engine/reel/reel";
import { PANES } from "../../engine/layout";
import { useApp, useLayout } from "../../panels/app";
import { Pane, Panes, Rest, useLength } from "../../ui/panes";
import { useLow } from "../../ui/low";
import { TimedContext } from "../../panels/engine";
import { LinesContext } from "../../panels/lines";
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

const BELOW = 29; // pixels of the line under the picture
const LEAST = { width: 300, height: 120 }; // pixels of the picture's pane

function Panels() {
  useReelKeys();
  const left = useLength("--reel-left"); // time's own column is as wide as the shots
  const foot = useLength("--foot"); // what is said stays above time and the line under the picture
  return (
    <main className="h-full">
      <Panes upright>
        <Rest least={LEAST.height}>
          <Panes>
            <Part pane="shots" name="Shots" edge="right" onShown={(width) => left(width + 1)}>
              <section aria-label="Shots" data-area className="flex min-h-0 flex-1 flex-col">
                <Shots />
              </section>
            </Part>
            <Rest least={LEAST.width}>
              <section aria-label="Picture" data-area className="flex min-h-0 min-w-0 flex-1 flex-col bg-ground">
                <FirstSteps />
                <ReelPicture />
                <Here />
              </section>
            </Rest>
            <Part pane="chosen" name="the details" edge="left">
              <section aria-label="What is chosen" data-area className="flex min-h-0 flex-1 flex-col">
                <div className="pane min-h-0 flex-1 overflow-y-auto px-3.5 pb-3">
                  <What />
                </div>
              </section>
            </Part>
          </Panes>
        </Rest>
        <Part pane="cut" name="When" edge="top" most="60%" onShown={(height) => foot(height + BELOW)}>
          <section aria-label="When" data-area className="min-h-0 min-w-0 flex-1">
            <ReelTime />
          </section>
        </Part>
      </Panes>
    </main>
  );
}

/** A pane of the reel's, whose size is remembered. */
function Part({ pane, children, ...rest }: { pane: "shots" | "chosen" | "cut"; name: string; edge: "left" | "right" | "top"; most?: string; onShown?: (size: number) => void; children: ReactNode }) {
  const { layout } = useApp();
  const low = useLow();
  const size = useLayout((s) => s.sizes[pane]) ?? (pane === "cut" && low ? PANES.cut.least : PANES[pane].first!);
  return (
    <Pane size={size} {...PANES[pane]} onSize={(to) => layout.size(pane, to)} {...rest}>
      {() => children}
    </Pane>
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
