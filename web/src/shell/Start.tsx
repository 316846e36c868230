import { useState } from "react";
import { Navigate } from "react-router";

import { projects } from "../api/projects";
import { useProjects, useRemovedProjects } from "../api/queries";
import { useApp } from "../panels/app";
import { useDoing } from "../panels/doing";
import { Button } from "../ui/basics";
import { NoticeList } from "../ui/notices";
import { Prompt, useAskName } from "../ui/prompt";

/** The project last opened; without any, what to do first. */
export function Start() {
  const { data, isPending } = useProjects();
  const { kept } = useApp();
  const last = kept.getItem("wenditas-project");
  const project = data?.find((p) => p.id === last) ?? data?.at(-1);
  if (project) return <Navigate to={`/projects/${project.id}/footage`} replace />;
  if (isPending) return <p className="p-8 text-quiet">Opening…</p>;
  return <Welcome />;
}

function Welcome() {
  const { go, carryOut } = useDoing();
  const start = useStart();
  const [busy, setBusy] = useState(false);
  const { data: removed } = useRemovedProjects();
  const restore = async (id: string) => {
    const project = await carryOut(projects.restore(id), "everything");
    if (project) go(`/projects/${project.id}/footage`);
  };
  const openDemo = async () => {
    setBusy(true);
    const project = await carryOut(projects.demo(), "everything");
    setBusy(false);
    if (project) go(`/projects/${project.id}/reel?first`);
  };
  return (
    <main className="mx-auto flex h-full max-w-[560px] flex-col justify-center gap-5 px-6">
      <h1 className="text-[34px] font-bold">
        Wenditas
        <span className="dot" />
      </h1>
      <p className="text-[15px]">Keep one colour, change another, turn the rest to grey: on your own footage, frame by frame.</p>
      <div className="flex gap-3">
        <Button look="solid" disabled={busy} onClick={start}>
          Start a project
        </Button>
        <Button disabled={busy} onClick={() => void openDemo()}>
          {busy ? "Making the demo…" : "Open the demo film"}
        </Button>
      </div>
      {removed?.slice(0, 3).map((p) => (
        <button key={p.id} type="button" className="self-start font-semibold underline" onClick={() => void restore(p.id)}>
          Bring back “{p.name}”
        </button>
      ))}
      <Prompt />
      <NoticeList />
    </main>
  );
}

/** Start a project, and open it. */
export function useStart() {
  const askName = useAskName();
  const { go, carryOut } = useDoing();
  const start = async (name: string) => {
    const project = await carryOut(projects.start(name), "projects");
    if (project) go(`/projects/${project.id}/footage`);
  };
  return () => askName("Start a project", "My film", (name) => void start(name));
}
