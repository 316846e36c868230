import { useQueries, useQuery, useQueryClient } from "@tanstack/react-query";
import { useCallback, useEffect, useMemo, useState } from "react";
import { Link, useNavigate, useParams } from "react-router";

import { ask, client } from "../../api/client";
import { useCatalogue, useProject } from "../../api/queries";
import type { ShotRow } from "../../api/types";
import { OWN, type CellRef, type Rows } from "../../engine/sheet/sheet";
import { useApp } from "../../panels/app";
import { Button, Segments } from "../../ui/basics";
import { Menu } from "../../ui/menu";
import { useSay } from "../../ui/notices";
import { carryOver } from "./carry";
import { Compare } from "./Compare";
import { SheetContext, useSheetRoom, useSheetState } from "./context";
import { Foot } from "./Foot";
import { Grid } from "./Grid";
import { useSheetKeys } from "./keys";
import { Variants } from "./Variants";

/** Shots under looks, side by side. */
export function SheetRoom() {
  const { projectId } = useParams();
  const app = useApp();
  const [room, setRoom] = useState<ReturnType<typeof app.sheet> | null>(null);
  useEffect(() => {
    const opened = app.sheet(projectId!);
    setRoom(opened);
    return () => app.leaveSheet();
  }, [app, projectId]);
  if (!room) return null;
  return (
    <SheetContext value={room}>
      <Room key={projectId} />
    </SheetContext>
  );
}

function Room() {
  const { projectId } = useParams();
  const { sheet } = useSheetRoom();
  const mode = useSheetState((s) => s.mode);
  const frames = useSheetState((s) => s.frames);
  const { data } = useProject(projectId);
  const shots = useMemo(() => data?.shots ?? [], [data]);
  if (data && !shots.length)
    return (
      <main className="p-10 text-center">
        <p className="text-[16px] font-bold">There are no shots to lay out yet.</p>
        <p className="mt-1 text-quiet">
          <Link className="underline" to={`/projects/${projectId}/footage`}>
            Bring footage in, and open it
          </Link>
          : each shot becomes a row here, each look a column.
        </p>
      </main>
    );
  return (
    <main className="flex h-full flex-col">
      <div className="flex min-h-[52px] shrink-0 flex-wrap items-center gap-x-3 gap-y-1.5 border-b border-line px-4 py-2">
        <h1 className="text-[18px] font-bold">Sheet</h1>
        <Segments
          boxed
          label="Columns are"
          value={mode}
          onChange={(next) => sheet.put({ mode: next, chosen: [], cursor: null, scroll: 0 })}
          options={[
            { value: "looks", name: "looks" },
            { value: "takes", name: "takes" },
            { value: "variants", name: "variants" },
          ]}
        />
        {mode === "looks" && <AddColumn shots={shots} />}
        <span className="flex-1" />
        {mode !== "variants" && (
          <>
            <Filter />
            <span className="text-quiet">Frames</span>
            <Segments
              boxed
              label="Frames"
              value={frames}
              onChange={(next) => sheet.put({ frames: next })}
              options={[
                { value: "one", name: "one that stands for the shot" },
                { value: "three", name: "first · middle · last" },
              ]}
            />
          </>
        )}
      </div>
      {mode === "variants" ? <Variants shots={shots} /> : <Table shots={shots} />}
    </main>
  );
}

/** Which shots are rows. */
function Filter() {
  const { sheet } = useSheetRoom();
  const words = useSheetState((s) => s.words);
  const used = useSheetState((s) => s.used);
  return (
    <>
      <input type="search" aria-label="Search shots" placeholder="Search shots" value={words} onChange={(e) => sheet.put({ words: e.currentTarget.value, chosen: [] })} className="h-[26px] w-[150px] border border-strong bg-transparent px-2" />
      <Button on={used} title="Only shots that are in the reel" onClick={() => sheet.put({ used: !used, chosen: [] })}>
        In the reel
      </Button>
    </>
  );
}

/** Looks from the shelf and of other shots, to be columns. */
function AddColumn({ shots }: { shots: ShotRow[] }) {
  const { sheet } = useSheetRoom();
  const say = useSay();
  const columns = useSheetState((s) => s.columns);
  const { data: catalogue } = useCatalogue();
  const { data: shelf } = useQuery({ queryKey: ["shelf"], queryFn: () => ask(client.GET("/api/shelf")) });
  const add = (id: string) => (sheet.full ? say(sheet.full) : sheet.addColumn(id));
  const item = (id: string, name: string) => ({ name, checked: columns.includes(id), onSelect: () => add(id) });
  const button = "h-[26px] border border-strong px-2.5 font-medium whitespace-nowrap hover:border-ink";
  return (
    <>
      <span className="text-quiet">Columns</span>
      <Menu align="start" trigger={<button type="button" className={button}>+ a look from the shelf</button>} items={[...(shelf ?? []).map((s) => item(`shelf:${s.id}`, s.name)), ...(shelf?.length ? (["line"] as const) : []), ...(catalogue?.starters ?? []).map((s) => item(`shelf:${s.id}`, s.name))]} />
      <Menu align="start" trigger={<button type="button" className={button}>+ the look of a shot</button>} items={[item(OWN, "Its own look"), "line", ...shots.map((s) => item(`shot:${s.id}`, s.name))]} />
    </>
  );
}

/** What columns are called. */
function useTitles(shots: ShotRow[]) {
  const { data: catalogue } = useCatalogue();
  const { data: shelf } = useQuery({ queryKey: ["shelf"], queryFn: () => ask(client.GET("/api/shelf")) });
  return useCallback(
    (column: string) => {
      const [kind, id] = [column.split(":")[0], column.split(":").slice(1).join(":")];
      if (column === OWN) return "Its own look";
      if (kind === "shot") return `Look of ${shots.find((s) => s.id === id)?.name ?? "a shot that is gone"}`;
      return shelf?.find((s) => s.id === id)?.name ?? catalogue?.starters.find((s) => s.id === id)?.name ?? (shelf && catalogue ? "A look that is gone" : "…");
    },
    [shots, shelf, catalogue],
  );
}

function Table({ shots: all }: { shots: ShotRow[] }) {
  const { projectId } = useParams();
  const { sheet } = useSheetRoom();
  const navigate = useNavigate();
  const queries = useQueryClient();
  const say = useSay();
  const mode = useSheetState((s) => s.mode);
  const columns = useSheetState((s) => s.columns);
  const { data } = useProject(projectId);
  const title = useTitles(all);
  const words = useSheetState((s) => s.words);
  const inReel = useSheetState((s) => s.used);
  const { data: reel } = useQuery({ queryKey: ["reel-uses", projectId], staleTime: 0, queryFn: () => ask(client.GET("/api/projects/{project_id}/reel", { params: { path: { project_id: projectId! } } })) });
  const used = useMemo(() => new Set(reel?.document.items?.map((i) => i.shot)), [reel]);
  const shots = useMemo(() => all.filter((s) => s.name.toLowerCase().includes(words.trim().toLowerCase()) && (!inReel || used.has(s.id))), [all, words, inReel, used]);
  const takes = useQueries({
    queries: shots.map((s) => ({ queryKey: ["takes", s.id], enabled: mode === "takes", queryFn: () => ask(client.GET("/api/shots/{shot_id}/takes", { params: { path: { shot_id: s.id } } })) })),
    combine: (found) => new Map(shots.map((s, n) => [s.id, found[n]?.data ?? []])),
  });
  const rows: Rows = useMemo(() => shots.map((s) => ({ shot: s.id, columns: mode === "looks" ? columns : [OWN, ...(takes.get(s.id) ?? []).map((t) => `take:${t.id}`)] })), [shots, mode, columns, takes]);
  const heads = new Map(all.map((s) => [s.id, s.head]));
  const stamp = (cell: CellRef) => `${heads.get(cell.shot) ?? 0}.${cell.column.startsWith("shot:") ? (heads.get(cell.column.slice(5)) ?? 0) : ""}`;
  const aside = (shot: ShotRow) => {
    const facts = data?.footage.find((f) => f.id === shot.footage_id);
    return [facts && facts.facts.kind !== "still" ? `${facts.seconds.toFixed(1)} s` : "still", used.has(shot.id) ? "in the reel" : ""].filter(Boolean).join(" · ");
  };
  const told = (column: string, shot: string) => (column.startsWith("take:") ? (takes.get(shot)?.find((t) => `take:${t.id}` === column)?.name ?? "A take") : mode === "takes" ? "In work" : title(column));
  const open = (cell: CellRef) => void navigate(`/projects/${projectId}/shots/${cell.shot}?from=sheet`);
  const pick = async (cell: CellRef) => {
    const answer = await carryOver(sheet, projectId!, [cell.shot], cell.column, told(cell.column, cell.shot), say, queries);
    const selection = answer?.asks[cell.shot];
    if (answer?.made[cell.shot]) void navigate(`/projects/${projectId}/shots/${cell.shot}?from=sheet${selection ? `&at=look/selections/${selection}&asks=true` : ""}`);
  };
  useSheetKeys(rows, open);
  return (
    <>
      {!rows.length && <p className="p-6 text-quiet">No shot is called that{inReel && ", or none of them is in the reel"}.</p>}
      <Grid
        key={mode}
        rows={rows}
        shots={shots}
        titles={told}
        heads={mode === "looks" ? columns.map((id) => ({ id, title: <Head id={id} title={title(id)} rows={rows} /> })) : []}
        stamp={stamp}
        aside={aside}
        onOpen={open}
        onPick={(cell) => void pick(cell)}
      />
      <Foot rows={rows} shots={shots} told={told} stamp={stamp} aside={aside} used={used} heads={mode === "looks" ? columns.map((c) => title(c)) : []} />
      <Compare told={(cell) => `${shots.find((s) => s.id === cell.shot)?.name ?? ""}: ${told(cell.column, cell.shot)}`} stamp={stamp} />
    </>
  );
}

/** The name of a column, and what is done with it. */
function Head({ id, title, rows }: { id: string; title: string; rows: Rows }) {
  const { sheet } = useSheetRoom();
  return (
    <Menu
      align="start"
      trigger={
        <button type="button" className="flex w-full items-center justify-between gap-2 font-semibold">
          <span className="truncate">{title}</span> <span className="text-quiet">▾</span>
        </button>
      }
      items={[
        { name: "Choose all of this column", onSelect: () => sheet.chooseColumn(rows, id) },
        "line",
        { name: "One place to the left", onSelect: () => sheet.moveColumn(id, -1) },
        { name: "One place to the right", onSelect: () => sheet.moveColumn(id, 1) },
        "line",
        { name: "Take the column away", onSelect: () => sheet.removeColumn(id) },
      ]}
    />
  );
}
