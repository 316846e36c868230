import clsx from "clsx";
import { useEffect } from "react";
import { Link, Outlet, useLocation, useNavigate, useParams } from "react-router";

import { useConnection } from "../api/events";
import { queryClient, useProject, useProjects } from "../api/queries";
import { ask, client } from "../api/client";
import { Button } from "../ui/basics";
import { Menu } from "../ui/menu";
import { Notices } from "../ui/notices";
import { askName, Prompt } from "../ui/prompt";
import { BenchActions, BenchTitle } from "./BenchBar";
import { Shortcuts, useShortcutSheet } from "./Shortcuts";
import { start } from "./Start";
import { setTheme, theme } from "./theme";

/** The top bar with the rooms, around whichever room is open. */
export function Frame() {
  const { projectId } = useParams();
  const project = useProject(projectId);
  useEffect(() => {
    if (projectId) localStorage.setItem("wenditas-project", projectId);
  }, [projectId]);
  return (
    <div className="flex h-full flex-col">
      <TopBar />
      <Offline />
      <div className="min-h-0 flex-1">
        {project.isError ? <p className="p-8">{(project.error as Error).message} <Link className="underline" to="/">Go to the start</Link></p> : <Outlet />}
      </div>
      <Notices />
      <Prompt />
      <Shortcuts />
    </div>
  );
}

function TopBar() {
  const { projectId, shotId } = useParams();
  const { pathname } = useLocation();
  const { data } = useProject(projectId);
  const lastShot = shotId ?? localStorage.getItem(`wenditas-shot-${projectId}`) ?? undefined;
  const shot = data?.shots.find((s) => s.id === lastShot) ?? data?.shots[0];
  const rooms = [
    { name: "Footage", to: `/projects/${projectId}/footage` },
    { name: "Bench", to: shot ? `/projects/${projectId}/shots/${shot.id}` : `/projects/${projectId}/bench` },
    { name: "Exports", to: `/projects/${projectId}/exports` },
  ];
  const onBench = pathname.includes("/shots/");
  return (
    <header className="flex h-[44px] shrink-0 items-stretch border-b border-line bg-panel pl-4">
      <Link to="/" className="mr-4 self-center text-[16px] font-bold">
        Wenditas
        <span className="dot" />
      </Link>
      <nav aria-label="Rooms" className="flex">
        {rooms.map((room) => {
          const here = room.name === "Bench" ? onBench || pathname.endsWith("/bench") : pathname === room.to;
          return (
            <Link key={room.name} to={room.to} aria-current={here ? "page" : undefined} className={clsx("flex items-center px-3 font-medium", here ? "bg-inverse text-inverse-ink" : "text-quiet hover:text-ink")}>
              {room.name}
            </Link>
          );
        })}
      </nav>
      <div className="flex min-w-0 flex-1 items-center px-4">{onBench ? <BenchTitle /> : <span className="truncate text-quiet">{data?.project.name}</span>}</div>
      <div className="flex items-center gap-2 pr-3">
        {onBench && <BenchActions />}
        <ProjectMenu />
      </div>
    </header>
  );
}

function ProjectMenu() {
  const { projectId } = useParams();
  const navigate = useNavigate();
  const { data } = useProjects();
  const dim = theme() === "dim";
  const demo = async () => {
    const project = await ask(client.POST("/api/projects/demo"));
    await queryClient.invalidateQueries();
    void navigate(`/projects/${project.id}/footage`);
  };
  return (
    <Menu
      trigger={<Button look="plain">Project ▾</Button>}
      items={[
        ...(data ?? []).map((p) => ({ name: p.name, checked: p.id === projectId, onSelect: () => void navigate(`/projects/${p.id}/footage`) })),
        "line",
        { name: "Start a project…", onSelect: () => askName("Start a project", "My film", (name) => void start(name, navigate)) },
        { name: "Open the demo film", onSelect: () => void demo() },
        "line",
        { name: "Dim room", checked: dim, onSelect: () => setTheme("dim") },
        { name: "Bright room", checked: !dim, onSelect: () => setTheme("bright") },
        "line",
        { name: "Keyboard…", aside: "?", onSelect: () => useShortcutSheet.setState({ open: true }) },
      ]}
    />
  );
}

function Offline() {
  const online = useConnection((s) => s.online);
  if (online) return null;
  return (
    <div role="alert" className="flex items-center gap-3 bg-inverse px-4 py-1.5 text-inverse-ink">
      <b>!</b> The server does not answer. What you do is kept here and sent when it is back; this page tries again by itself.
    </div>
  );
}
