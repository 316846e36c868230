import { useQuery } from "@tanstack/react-query";
import { useEffect, useState } from "react";
import { Link, useParams } from "react-router";

import { ask, client } from "../../api/client";
import { onServerEvent, useConnection } from "../../api/events";
import { useProject } from "../../api/queries";
import { refetch, resume } from "../../editor/edits";
import { lanesOf } from "../../editor/lanes";
import { usePins } from "../../editor/pins";
import { bench, resetBench, setBench, useBench, useDocument } from "../../editor/store";
import { useKeys } from "./keys";
import { GRAPH_HEIGHT, LANE_HEIGHT } from "./LaneTrack";
import { Picture } from "./Picture";
import { Shelf } from "./Shelf";
import { StageStrip } from "./StageStrip";
import { What } from "./What";
import { When } from "./When";
import { Where } from "./Where";

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
  const ready = useBench((s) => s.view?.shot.id === shotId);
  const [loaded, setLoaded] = useState(false);
  useEffect(() => {
    if (!data || loaded) return;
    resetBench(data);
    setLoaded(true);
    localStorage.setItem(`wenditas-shot-${projectId}`, shotId);
    resume(shotId);
  }, [data, loaded, projectId, shotId]);
  useEffect(() => () => setBench({ view: null, playing: false }), []);
  useOtherWindows(shotId);
  if (error)
    return (
      <main className="p-10">
        {error.message} <Link className="underline" to={`/projects/${projectId}/footage`}>Go to the footage</Link>
      </main>
    );
  if (!ready) return <p className="p-8 text-quiet">Opening the shot…</p>;
  return <Panels shotId={shotId} />;
}

/** Follow edits made elsewhere while nothing is being edited here, and catch up after a lost connection. */
function useOtherWindows(shotId: string) {
  const online = useConnection((s) => s.online);
  useEffect(
    () =>
      onServerEvent((event) => {
        const { view, saving, draft } = bench();
        if (event.kind === "shot" && event.id === shotId && view && !saving && !draft.length && event.revision !== view.revision) void refetch(shotId);
      }),
    [shotId],
  );
  useEffect(() => {
    if (online && bench().view?.shot.id === shotId && !bench().saving) void refetch(shotId);
  }, [online, shotId]);
}

const MOST_LANES = 5; // lanes that the panel grows for; more are scrolled to

function Panels({ shotId }: { shotId: string }) {
  useKeys();
  const lanes = lanesOf(useDocument());
  const graph = usePins((s) => lanes.some((l) => l.target === s.open));
  const height = 151 + Math.min(lanes.length, MOST_LANES) * LANE_HEIGHT + (graph ? GRAPH_HEIGHT - LANE_HEIGHT : 0);
  return (
    <main className="grid h-full grid-cols-[268px_minmax(0,1fr)_284px]" style={{ gridTemplateRows: `102px minmax(0,1fr) ${height}px` }}>
      <div className="col-span-3 min-w-0 border-b border-line">
        <StageStrip />
      </div>
      <section aria-label="Where" className="min-h-0 overflow-auto border-r border-line bg-panel px-3.5 pb-2">
        <Where />
      </section>
      <Picture shotId={shotId} />
      <section aria-label="What" className="min-h-0 border-l border-line bg-panel">
        <What />
      </section>
      <section aria-label="When" className="col-span-3 min-w-0 border-t border-line bg-panel">
        <When />
      </section>
      <Shelf />
    </main>
  );
}
