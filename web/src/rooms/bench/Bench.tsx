import { useQuery } from "@tanstack/react-query";
import { useEffect, useState } from "react";
import { Link, useParams } from "react-router";

import { ask, client } from "../../api/client";
import { useProject } from "../../api/queries";
import type { ShotView } from "../../api/types";
import { GRAPH_HEIGHT, LANE_HEIGHT } from "../../panels/LaneTrack";
import { WithHelp } from "../../panels/HelpLine";
import { Picture } from "../../panels/Picture";
import { StageStrip } from "../../panels/StageStrip";
import { What } from "../../panels/What";
import { When } from "../../panels/When";
import { Where } from "../../panels/Where";
import { DropperContext } from "../../ui/colour";
import { useKeys } from "./keys";
import { Shelf } from "./Shelf";
import { type Engine } from "../../engine/engine";
import { lanesOf } from "../../engine/lanes";
import { useApp } from "../../panels/app";
import { EngineContext, useDocument, usePins, useStage } from "../../panels/engine";

/** One shot's look: where, what, when. */
export function Bench() {
  const { projectId, shotId } = useParams();
  if (!shotId) return <NoShot />;
  return <Shot key={shotId} projectId={projectId!} shotId={shotId} />;
}

function NoShot() {
  const { projectId } = useParams();
  const { data } = useProject(projectId);
  return (
    <main className="p-10 text-center">
      <p className="text-[16px] font-bold">No shot is on the Bench yet.</p>
      <p className="mt-1 text-quiet">
        <Link className="underline" to={`/projects/${projectId}/footage`}>
          {data?.footage.length ? "Open a piece of footage" : "Bring in some footage first"}
        </Link>
      </p>
    </main>
  );
}

function Shot({ projectId, shotId }: { projectId: string; shotId: string }) {
  const { data, error } = useQuery({
    queryKey: ["shot", shotId],
    staleTime: 0,
    gcTime: 0,
    queryFn: () => ask(client.GET("/api/shots/{shot_id}", { params: { path: { shot_id: shotId } } })),
  });
  const engine = useOpened(projectId, data);
  if (error)
    return (
      <main className="p-10">
        {error.message} <Link className="underline" to={`/projects/${projectId}/footage`}>Go to the footage</Link>
      </main>
    );
  if (!engine) return <p className="p-8 text-quiet">Opening the shot…</p>;
  return (
    <EngineContext value={engine}>
      <DropperContext value={(dropper) => engine.put({ dropper, tool: "pick" })}>
        <Panels />
      </DropperContext>
    </EngineContext>
  );
}

/** The engine of a shot, from when it is read until the room is left. */
function useOpened(projectId: string, view: ShotView | undefined): Engine | null {
  const app = useApp();
  const [engine, setEngine] = useState<Engine | null>(null);
  const ready = view !== undefined;
  useEffect(() => {
    if (!view) return;
    const opened = app.bench(view);
    setEngine(opened);
    const at = new URLSearchParams(location.search).get("at");
    if (at) opened.reveal(at);
    localStorage.setItem(`wenditas-shot-${projectId}`, view.shot.id);
    return () => app.leave(opened);
    // oxlint-disable-next-line react-hooks/exhaustive-deps -- what is read later is told to the document
  }, [app, projectId, ready]);
  return engine;
}

const MOST_LANES = 5; // lanes that the panel grows for; more are scrolled to

function Panels() {
  useKeys();
  useWhole();
  const lanes = lanesOf(useDocument());
  const open = usePins((s) => s.open);
  const whole = useStage((s) => s.whole);
  const graph = lanes.some((l) => l.target === open);
  const height = 151 + Math.min(lanes.length, MOST_LANES) * LANE_HEIGHT + (graph ? GRAPH_HEIGHT - LANE_HEIGHT : 0);
  const rows = whole ? `minmax(0,1fr) ${height}px` : `102px minmax(0,1fr) ${height}px`;
  const columns = whole ? "minmax(0,1fr) 284px" : "268px minmax(0,1fr) 284px";
  return (
    <main className="grid h-full" style={{ gridTemplateRows: rows, gridTemplateColumns: columns }}>
      {!whole && (
        <div className="col-span-3 min-w-0 border-b border-line">
          <StageStrip />
        </div>
      )}
      {!whole && (
        <section aria-label="Where" className="flex min-h-0 flex-col border-r border-line bg-panel">
          <WithHelp className="min-h-0 flex-1 overflow-auto px-3.5 pb-2">
            <Where />
          </WithHelp>
        </section>
      )}
      <Picture />
      <section aria-label="What" className="min-h-0 border-l border-line bg-panel">
        <What />
      </section>
      <section aria-label="When" className="min-w-0 border-t border-line bg-panel" style={{ gridColumn: "1 / -1" }}>
        <When />
      </section>
      <Shelf />
    </main>
  );
}

/** While the window is the whole screen the picture has its room, with what it is worked on with. */
function useWhole() {
  const { open } = useApp();
  useEffect(() => {
    const follow = () => open.getState().engine?.put({ whole: document.fullscreenElement !== null });
    follow();
    document.addEventListener("fullscreenchange", follow);
    return () => document.removeEventListener("fullscreenchange", follow);
  }, [open]);
}
