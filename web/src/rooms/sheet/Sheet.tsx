import { HelpButton } from "../../panels/HelpButton";
import { useQueries, useQuery } from "@tanstack/react-query";
import { useCallback, useMemo } from "react";
import { Link, useParams } from "react-router";

import { ask, client } from "../../api/client";
import { useCatalogue, useProject } from "../../api/queries";
import { projects } from "../../api/projects";
import type { ShotRow, Take } from "../../api/types";
import { LaidOut } from "../../engine/sheet/rows";
import { OWN, type CellRef, type Rows } from "../../engine/sheet/sheet";
import { useApp } from "../../panels/app";
import { useDoing } from "../../panels/doing";
import { Button, Segments } from "../../ui/basics";
import { Menu } from "../../ui/menu";
import { useSay } from "../../ui/notices";
import { carryOver } from "./carry";
import { Compare } from "./Compare";
import { SheetContext, useSheetRoom, useSheetState } from "./context";
import { Foot } from "./Foot";
import { Grid } from "./Grid";
import { useSheetKeys } from "./keys";
import { SheetBar } from "./SheetBar";
import { Variants } from "./Variants";

/** Shots under looks, side by side. */
export function SheetRoom() {
  const { projectId } = useParams();
  const app = useApp();
  return (
    <SheetContext value={app.sheet(projectId!)}>
      <SheetBar />
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
        <span className="flex items-baseline gap-0.5">
          <h1 className="text-[18px] font-bold">Sheet</h1>
          <HelpButton of="Sheet" page="sheet" />
        </span>
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
      <input type="search" aria-label="Search shots" placeholder="Search shots" value={words} onChange={(e) => sheet.put({ words: e.currentTarget.value, chosen: [] })} className="h-[26px] w-[124px] border border-strong bg-transparent px-2" />
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
  const item = (id: string, name: string) => ({ name, checked: columns.includes(id), several: true, onSelect: () => add(id) });
  const button = "h-[26px] border border-strong px-2.5 font-medium whitespace-nowrap hover:border-ink";
  return (
    <>
      <span className="text-quiet">Columns</span>
      <Menu align="start" trigger={<button type="button" className={button}>+ a look from the shelf</button>} items={[...(shelf ?? []).map((s) => item(`shelf:${s.id}`, s.name)), ...(shelf?.length ? (["line"] as const) : []), ...(catalogue?.starters ?? []).map((s) => item(`shelf:${s.id}`, s.name))]} />
      <Menu align="start" trigger={<button type="button" className={button}>+ the look of a shot</button>} items={[item(OWN, "Its own look"), "line", ...shots.map((s) => item(`shot:${s.id}`, s.name))]} />
    </>
  );
}

function Table({ shots: all }: { shots: ShotRow[] }) {
  const { projectId } = useParams();
  const { sheet } = useSheetRoom();
  const doing = useDoing();
  const mode = useSheetState((s) => s.mode);
  const columns = useSheetState((s) => s.columns);
  const words = useSheetState((s) => s.words);
  const used = useSheetState((s) => s.used);
  const { data } = useProject(projectId);
  const { data: catalogue } = useCatalogue();
  const { data: shelf } = useQuery({ queryKey: ["shelf"], queryFn: () => ask(client.GET("/api/shelf")) });
  const { data: reel } = useQuery({ queryKey: ["reel-uses", projectId], staleTime: 0, queryFn: () => projects.reel(projectId!) });
  const takes = useQueries({
    queries: all.map((s) => ({ queryKey: ["takes", s.id], enabled: mode === "takes", queryFn: () => ask(client.GET("/api/shots/{shot_id}/takes", { params: { path: { shot_id: s.id } } })) })),
    combine: useCallback((found: { data?: Take[] }[]) => new Map(all.map((s, n) => [s.id, found[n]?.data ?? []])), [all]),
  });
  const laid = useMemo(
    () => new LaidOut({ shots: all, footage: data?.footage ?? [], takes, shelf: shelf ?? null, starters: catalogue?.starters ?? null, used: new Set(reel?.document.items?.map((i) => i.shot)) }, { mode, columns, words, used }),
    [all, data, takes, shelf, catalogue, reel, mode, columns, words, used],
  );
  const { rows } = laid;
  const open = (cell: CellRef) => doing.go(`/projects/${projectId}/shots/${cell.shot}?from=sheet`);
  const pick = async (cell: CellRef) => {
    const answer = await carryOver(sheet, [cell.shot], cell.column, laid.look(cell), doing);
    const selection = answer?.asks[cell.shot];
    if (answer?.made[cell.shot]) doing.go(`/projects/${projectId}/shots/${cell.shot}?from=sheet${selection ? `&at=look/selections/${selection}&asks=true` : ""}`);
  };
  useSheetKeys(rows, open);
  return (
    <>
      {!rows.length && <p className="p-6 text-quiet">No shot is called that{used && ", or none of them is in the reel"}.</p>}
      <Grid
        key={mode}
        laid={laid}
        heads={laid.heads.map((title, n) => ({ id: columns[n]!, title: <Head id={columns[n]!} title={title} rows={rows} /> }))}
        onOpen={open}
        onPick={(cell) => void pick(cell)}
      />
      <Foot laid={laid} />
      <Compare laid={laid} />
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
