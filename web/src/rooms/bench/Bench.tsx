import { useQuery } from "@tanstack/react-query";
import { useEffect, useState, type ReactNode } from "react";
import { Link, useParams } from "react-router";

import { ask, client } from "../../api/client";
import { useProject } from "../../api/queries";
import type { ShotView } from "../../api/types";
import { GRAPH_HEIGHT, LANE_HEIGHT } from "../../panels/LaneTrack";
import { Picture } from "../../panels/Picture";
import { StageStrip } from "../../panels/StageStrip";
import { What } from "../../panels/What";
import { FloatingScope } from "../../panels/Scope";
import { When, WhenLine } from "../../panels/When";
import { Where } from "../../panels/Where";
import { DropperContext } from "../../ui/colour";
import { useLow } from "../../ui/low";
import { FoldedPane, Pane, Panes, Rest, useLength } from "../../ui/panes";
import { BenchBar } from "./BenchBar";
import { FOLDS, useKeys } from "./keys";
import { RevealWhat } from "./RevealWhat";
import { Shelf } from "./Shelf";
import { type BenchSession } from "../../engine/bench";
import { lanesOf } from "../../engine/lanes";
import { kept } from "../../engine/timespan";
import { PANES } from "../../engine/layout";
import { useApp, useLayout } from "../../panels/app";
import { LinesContext } from "../../panels/lines";
import { EngineContext, useDoc, usePins, useShown, useStage } from "../../panels/engine";

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
      <LinesContext value={engine.view.footage.facts.height}>
        <DropperContext value={(dropper) => engine.choice.set({ dropper })}>
          <BenchBar />
          <Panels />
        </DropperContext>
      </LinesContext>
    </EngineContext>
  );
}

/** Show the frames that are asked for, and be at one of them. */
function goTo(engine: BenchSession, query: URLSearchParams) {
  const [from, to] = (query.get("frames") ?? "").split("-").map(Number);
  const frame = Number(query.get("frame") ?? NaN);
  if (Number.isFinite(from) && Number.isFinite(to)) engine.timeline.set({ stretch: kept({ from: from!, to: to! }, engine.timeline.last) });
  if (Number.isFinite(frame)) engine.timeline.moveTo(frame);
}

/** The engine of a shot, from when it is read until the room is left. */
function useOpened(projectId: string, view: ShotView | undefined): BenchSession | null {
  const app = useApp();
  const [engine, setEngine] = useState<BenchSession | null>(null);
  const ready = view !== undefined;
  useEffect(() => {
    if (!view) return;
    const opened = app.bench(view);
    setEngine(opened);
    const query = new URLSearchParams(location.search);
    const at = query.get("at");
    goTo(opened, query);
    if (at) opened.reveal(at);
    const asked = at?.startsWith("look/selections/") && query.has("asks") ? at.split("/")[2] : null;
    if (asked) opened.choice.set({ asks: { words: "Pick what is to be selected here", selection: asked }, tool: "add" });
    if (!view.part) app.kept.setItem(`wenditas-shot-${projectId}`, view.shot.id);
    return () => app.leave(opened);
    // oxlint-disable-next-line react-hooks/exhaustive-deps -- what is read later is told to the document
  }, [app, projectId, ready]);
  return engine;
}

const ROOM_FOR = 2; // lanes that always have room, so that the picture stays where it is when the first comes; more are scrolled to, or given room by the panel's edge
const FOLDED = 22; // pixels of a folded pane
const BELOW = 30; // pixels of the line under the picture
const LINE = 44; // pixels of time where it is folded: transport, ruler, playhead
const LEAST = { width: 240, height: 120 }; // pixels of the picture's pane

function Panels() {
  useKeys();
  useWhole();
  const part = useDoc((s) => s.view.part);
  const whole = useStage((s) => s.whole);
  const strip = !whole && part?.kind !== "reveal"; // whose look is a selection alone
  return (
    <main className="flex h-full flex-col">
      {strip && (
        <div className="h-[102px] shrink-0 border-b border-line">
          <StageStrip />
        </div>
      )}
      <Panes upright className="min-h-0 flex-1">
        <Rest key="above" least={LEAST.height}>
          <Panes>
            {!whole && (
              <Side key="where" name="Where" pane="where" edge="right">
                <div className="pane min-h-0 flex-1 px-3.5 pb-2">
                  <Where />
                </div>
              </Side>
            )}
            <Rest key="beside" least={LEAST.width}>
              <Panes>
                <Rest least={LEAST.width}>
                  <Picture />
                </Rest>
                <Side name="What" pane="what" edge="left">
                  {part?.kind === "reveal" ? <RevealWhat part={part} /> : <What />}
                </Side>
              </Panes>
            </Rest>
          </Panes>
        </Rest>
        <Time key="when" whole={whole} />
      </Panes>
      <FloatingScope />
      <Shelf />
    </main>
  );
}

/** A pane at a side of the picture. */
function Side({ name, pane, edge, children }: { name: string; pane: "where" | "what"; edge: "left" | "right"; children: ReactNode }) {
  const { layout } = useApp();
  const folded = useLayout((s) => s.folded.includes(pane));
  const size = useLayout((s) => s.sizes[pane]) ?? PANES[pane].first!;
  const fold = () => layout.fold(pane);
  const instead = <FoldedPane name={name} letter={FOLDS[pane]} upright onUnfold={fold} />;
  return (
    <Pane name={name} edge={edge} size={size} {...PANES[pane]} onSize={(to) => layout.size(pane, to)} fold={{ folded, to: FOLDED, letter: FOLDS[pane], onFold: fold }}>
      {(shut) => (
        <section aria-label={name} data-area className="flex min-h-0 flex-1 flex-col">
          {shut ? instead : children}
        </section>
      )}
    </Pane>
  );
}

/** Time: as high as it needs, or as its edge was dragged; a line where it is folded. */
function Time({ whole }: { whole: boolean }) {
  const { layout } = useApp();
  const folded = useLayout((s) => s.folded.includes("when"));
  const needed = useTimeHeight();
  const size = useLayout((s) => s.sizes.when) ?? needed;
  const foot = useLength("--foot"); // what is said stays above time and the line under the picture
  return (
    <Pane name="When" edge="top" size={size} least={PANES.when.least} most="60%" onSize={(to) => layout.size("when", to)} onShown={(height) => foot(height + BELOW)} fold={{ folded: whole || folded, to: LINE, held: whole, letter: FOLDS.when, onFold: () => layout.fold("when") }}>
      {(shut) => (
        <section aria-label="When" data-area className="min-h-0 min-w-0 flex-1">
          {shut ? <WhenLine /> : <When />}
        </section>
      )}
    </Pane>
  );
}

/** The height that time needs: with the graph of a lane where one is open. */
function useTimeHeight(): number {
  const lanes = useShown(lanesOf);
  const open = usePins((s) => s.open);
  const graph = lanes.some((l) => l.target === open);
  const rows = useLow() ? Math.min(lanes.length, ROOM_FOR) : ROOM_FOR;
  return 151 + rows * LANE_HEIGHT + (graph ? GRAPH_HEIGHT - LANE_HEIGHT : 0);
}

/** Where the window becomes the whole screen the picture takes it, with what it is worked on with; and gives it back. */
function useWhole() {
  const { open } = useApp();
  useEffect(() => {
    const follow = () => open.getState().engine?.stage.set({ whole: document.fullscreenElement !== null });
    document.addEventListener("fullscreenchange", follow);
    return () => document.removeEventListener("fullscreenchange", follow);
  }, [open]);
}
