import clsx from "clsx";
import { lazy, Suspense, useCallback, useEffect, useRef, useState, useSyncExternalStore } from "react";
import { Link, Outlet, useLocation, useParams } from "react-router";
import { useStore } from "zustand";
import type { StoreApi } from "zustand/vanilla";

import { CatalogueContext, useExports, useProject, useProjects, useReadCatalogue, useRemovedProjects } from "../api/queries";
import { projects } from "../api/projects";
import { BarSlot, BarSlots } from "../ui/bar";
import { KeyOfContext } from "../ui/does";
import { Button } from "../ui/basics";
import { Menu } from "../ui/menu";
import { keyFor } from "../engine/actions";
import { ended, ring } from "../engine/bell";
import type { BenchSession } from "../engine/bench";
import { Going } from "./Going";
import { Shortcuts } from "./Shortcuts";
import { useFrameKeys } from "./keys";
import { useStart } from "./Start";
import { setTheme, theme } from "./theme";
import { useApp, useKeysHere, useOnline } from "../panels/app";
import { useDoing } from "../panels/doing";
import { duration } from "../ui/words";
import { FileInput } from "../ui/fileinput";
import { NoticeList } from "../ui/notices";
import { Prompt, useAskFor } from "../ui/prompt";

const Help = lazy(() => import("../help/Help"));

/** The top bar with the rooms, around whichever room is open. */
export function Frame() {
  const { projectId } = useParams();
  const project = useProject(projectId);
  const { open, kept, dialogs } = useApp();
  useFrameKeys();
  const helped = useStore(dialogs, (s) => s.help !== null);
  useEffect(() => {
    if (projectId) kept.setItem("wenditas-project", projectId);
  }, [kept, projectId]);
  const engine = useStore(open, (s) => s.engine);
  const whole = useMaybe(engine?.stage.state, (s) => s.whole);
  useTitle(engine, project.data?.project.name, useEnded(projectId));
  return (
    <CatalogueContext value={useReadCatalogue()}>
    <KeyOfContext value={useKeyOf()}>
    <BarSlots>
    <div className="flex h-full flex-col">
      {!whole && <TopBar titled={!engine} />}
      <Offline />
      <div className="min-h-0 flex-1">
        {project.isError ? <p className="p-8">{(project.error as Error).message} <Link className="underline" to="/">Go to the start</Link></p> : <Outlet />}
      </div>
      <NoticeList />
      <Prompt />
      <Shortcuts />
      {helped && <Suspense><Help /></Suspense>}
    </div>
    </BarSlots>
    </KeyOfContext>
    </CatalogueContext>
  );
}

/** The keys of the room that is open, by what they do. */
function useKeyOf() {
  const rows = useKeysHere();
  return useCallback((id: string | undefined) => keyFor(rows, id), [rows]);
}

const nothing = () => () => undefined;

/** Something of a store that there may not be. */
const useMaybe = <S, T>(store: StoreApi<S> | undefined, pick: (s: S) => T): T | undefined =>
  useSyncExternalStore(store?.subscribe ?? nothing, () => store && pick(store.getState()));

/** Exports that have ended are told: by a sound where that is asked for, and in the title of a window that is not looked at. How many are not seen yet. */
function useEnded(projectId: string | undefined): number {
  const { data } = useExports(projectId);
  const { told } = useApp();
  const before = useRef(new Map<string, string>());
  const [unseen, setUnseen] = useState(0);
  useEffect(() => {
    if (!data) return;
    const over = ended(before.current, data);
    before.current = new Map(data.map((e) => [e.id, e.state]));
    if (!over.length) return;
    if (told.getState().sound) ring();
    if (document.hidden) setUnseen((n) => n + over.length);
  }, [data, told]);
  useEffect(() => {
    const seen = () => !document.hidden && setUnseen(0);
    document.addEventListener("visibilitychange", seen);
    return () => document.removeEventListener("visibilitychange", seen);
  }, []);
  return unseen;
}

/** The window's title says what is open, and what has ended behind one's back. */
function useTitle(engine: BenchSession | null, project: string | undefined, unseen: number) {
  const { pathname } = useLocation();
  const room = pathname.endsWith("/footage") ? "Footage" : pathname.endsWith("/exports") ? "Exports" : pathname.endsWith("/reel") ? "Reel" : pathname.endsWith("/sheet") ? "Sheet" : "Bench";
  const shot = useMaybe(engine?.document.state, (s) => s.view.shot.name);
  useEffect(() => {
    document.title = (unseen ? `(${unseen} done) ` : "") + [shot ?? project, room, "Wenditas"].filter(Boolean).join(" · ");
  }, [shot, project, room, unseen]);
}

/** titled: the project is named in it, where a room does not say more. */
function TopBar({ titled }: { titled: boolean }) {
  const { projectId, shotId } = useParams();
  const { pathname } = useLocation();
  const { data } = useProject(projectId);
  const { kept } = useApp();
  const lastShot = shotId ?? kept.getItem(`wenditas-shot-${projectId}`) ?? undefined;
  const shot = data?.shots.find((s) => s.id === lastShot) ?? data?.shots.find((s) => s.id === kept.getItem(`wenditas-shot-${projectId}`)) ?? data?.shots[0];
  const rooms = [
    { name: "Footage", to: `/projects/${projectId}/footage` },
    { name: "Bench", to: shot ? `/projects/${projectId}/shots/${shot.id}` : `/projects/${projectId}/bench` },
    { name: "Reel", to: `/projects/${projectId}/reel` },
    { name: "Sheet", to: `/projects/${projectId}/sheet` },
    { name: "Exports", to: `/projects/${projectId}/exports` },
  ];
  const onBench = pathname.includes("/shots/");
  return (
    <header className="flex h-[44px] shrink-0 items-stretch border-b border-line bg-panel pl-4">
      <Link to="/" className="mr-4 self-center whitespace-nowrap text-[16px] font-bold">
        Wenditas
        <span className="dot" />
      </Link>
      <nav aria-label="Rooms" className="flex">
        {rooms.map((room) => {
          const here = room.name === "Bench" ? onBench || pathname.endsWith("/bench") : pathname === room.to;
          return (
            <Link key={room.name} to={room.to} aria-current={here ? "page" : undefined} className={clsx("flex items-center px-3 font-medium", here ? "bg-inverse text-inverse-ink" : "text-quiet hover:text-ink")}>
              {room.name}
              {room.name === "Exports" && <AtWork projectId={projectId} />}
            </Link>
          );
        })}
      </nav>
      <div className="flex min-w-0 flex-1 items-center px-4">
        {titled && <span className="truncate text-quiet">{data?.project.name}</span>}
        <BarSlot of="title" className="flex min-w-0 items-center" />
      </div>
      <div className="flex items-center gap-2 pr-3">
        <Going />
        <BarSlot of="actions" className="flex items-center gap-2" />
        <ProjectMenu />
      </div>
    </header>
  );
}

/** How far the exports under way are, wherever one is. */
function AtWork({ projectId }: { projectId: string | undefined }) {
  const { data } = useExports(projectId);
  const running = data?.filter((e) => e.state === "running" || e.state === "waiting") ?? [];
  if (!running.length) return null;
  const total = running.reduce((n, e) => n + e.total, 0);
  const done = running.reduce((n, e) => n + e.done, 0);
  const percent = total ? Math.floor((done / total) * 100) : 0;
  const left = running.reduce((n, e) => n + (e.seconds_left ?? 0), 0);
  return (
    <span role="progressbar" aria-label="Exports under way" aria-valuenow={percent} aria-valuemin={0} aria-valuemax={100} className="relative ml-2 pb-[3px] tabular-nums" title={`${running.length === 1 ? running[0]!.name : `${running.length} exports`}: ${done} of ${total} frames${left ? `, ${duration(left)} left` : ""}`}>
      {running.length > 1 && `${running.length} · `}
      {percent} %
      <span className="absolute bottom-0 left-0 h-[2px] bg-current" style={{ width: `${percent}%` }} />
    </span>
  );
}

const MOST_REMOVED = 6; // of the projects that were removed last, in the menu

function ProjectMenu() {
  const { projectId } = useParams();
  const { say, go, carryOut } = useDoing();
  const { data } = useProjects();
  const { data: removed } = useRemovedProjects();
  const start = useStart();
  const askFor = useAskFor();
  const app = useApp();
  const archive = useRef<HTMLInputElement>(null);
  const dim = theme() === "dim";
  const here = data?.find((p) => p.id === projectId);
  const open = (project: { id: string } | null) => project && go(`/projects/${project.id}/footage`);
  const rename = (id: string, name: string) => void carryOut(projects.rename(id, name), "everything");
  const restore = async (id: string) => open(await carryOut(projects.restore(id), "everything"));
  const remove = async (id: string) => {
    const project = await carryOut(projects.remove(id), "everything");
    if (!project) return;
    go("/");
    say(`“${project.name}” is removed. Its files stay on the disk, and the Project menu brings it back.`, { action: { name: "Undo", run: () => void restore(id) } });
  };
  const duplicate = async (id: string) => {
    const project = await carryOut(projects.duplicate(id), "everything");
    open(project);
    if (project) say(`“${project.name}” is here, over the same footage. What is done in it changes nothing in the first.`);
  };
  const demo = async () => open(await carryOut(projects.demo(), "everything"));
  const save = (media: boolean) => {
    say("The archive is being written; the browser saves it.");
    const link = document.createElement("a");
    link.href = projects.archiveOf(projectId!, media);
    link.download = "";
    link.click();
  };
  const bringIn = async (file: File) => {
    say(`“${file.name}” is being read…`);
    const project = await carryOut(projects.bringIn(file), "everything");
    if (project) say(`“${project.name}” is here.`);
    open(project);
  };
  return (
    <>
    <FileInput ref={archive} label="Archive to bring in" accept=".zip" onFile={(file) => void bringIn(file)} />
    <Menu
      trigger={<Button look="plain">Project ▾</Button>}
      items={[
        ...(data ?? []).map((p) => ({ name: p.name, checked: p.id === projectId, onSelect: () => go(`/projects/${p.id}/footage`) })),
        "line",
        { name: "Start a project…", onSelect: start },
        { name: "Open the demo film", onSelect: () => void demo() },
        "line",
        ...(here
          ? [
              { name: "Rename this project…", onSelect: () => askFor({ title: `Rename “${here.name}”`, label: "Name", value: here.name, save: "Rename", done: (name) => rename(here.id, name) }) },
              { name: "Duplicate this project", onSelect: () => void duplicate(here.id) },
              { name: "Remove this project", onSelect: () => void remove(here.id) },
              { name: "Save as an archive, with footage", onSelect: () => save(true) },
              { name: "Save as an archive, without footage", onSelect: () => save(false) },
            ]
          : []),
        ...(removed ?? []).slice(0, MOST_REMOVED).map((p) => ({ name: `Bring back “${p.name}”`, onSelect: () => void restore(p.id) })),
        { name: "Bring in an archive…", onSelect: () => archive.current?.click() },
        "line",
        { name: "Dim room", checked: dim, onSelect: () => setTheme("dim", app.kept) },
        { name: "Bright room", checked: !dim, onSelect: () => setTheme("bright", app.kept) },
        "line",
        { name: "Help…", onSelect: () => app.dialogs.setState({ help: { page: "tour", part: null } }) },
        { name: "Keyboard…", aside: "?", onSelect: () => app.dialogs.setState({ keyboard: true }) },
      ]}
    />
    </>
  );
}

function Offline() {
  const online = useOnline();
  if (online) return null;
  return (
    <div role="alert" className="flex items-center gap-3 bg-inverse px-4 py-1.5 text-inverse-ink">
      <b>!</b> The server does not answer. What you do is kept here and sent when it is back; this page tries again by itself.
    </div>
  );
}
