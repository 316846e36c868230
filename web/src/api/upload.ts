/** Uploads with progress, one at a time, kept outside React so that they go on while rooms change. */
import { create } from "zustand";

import { ask, client } from "./client";
import { queryClient } from "./queries";

export type Upload = {
  id: number;
  name: string;
  state: "waiting" | "sending" | "reading" | "refused";
  sent: number;
  total: number;
  startedAt: number;
  message: string;
  held: string | null; // by what id what is there of a damaged file can be taken
};

type Outcome = { message: string; held?: string | null } | { already: boolean } | null;

type Job = Upload & { file: File; projectId: string; request?: XMLHttpRequest };

export const useUploads = create<{ jobs: Job[] }>(() => ({ jobs: [] }));

let nextId = 1;

function change(id: number, part: Partial<Job>) {
  useUploads.setState(({ jobs }) => ({ jobs: jobs.map((j) => (j.id === id ? { ...j, ...part } : j)) }));
}

function drop(id: number) {
  useUploads.setState(({ jobs }) => ({ jobs: jobs.filter((j) => j.id !== id) }));
}

export function addUploads(projectId: string, files: Iterable<File>) {
  const jobs: Job[] = [...files].map((file) => ({
    id: nextId++, name: file.name, state: "waiting", sent: 0, total: file.size, startedAt: 0, message: "", held: null, file, projectId,
  }));
  useUploads.setState((s) => ({ jobs: [...s.jobs, ...jobs] }));
  void next();
}

/** Cancel an upload that is under way, or put a refused one out of sight; a damaged file that is kept goes. */
export function dismissUpload(id: number) {
  const job = useUploads.getState().jobs.find((j) => j.id === id);
  job?.request?.abort();
  if (job?.held) void ask(client.DELETE("/api/projects/{project_id}/held/{held}", { params: { path: { project_id: job.projectId, held: job.held } } })).catch(() => undefined);
  drop(id);
  void next();
}

/** Take what can be used of a damaged file. */
export async function takeWhatIsThere(id: number) {
  const job = useUploads.getState().jobs.find((j) => j.id === id);
  if (!job?.held) return;
  change(id, { state: "reading" });
  try {
    await ask(client.POST("/api/projects/{project_id}/held/{held}", { params: { path: { project_id: job.projectId, held: job.held } } }));
    drop(id);
    await queryClient.invalidateQueries({ queryKey: ["project"] });
  } catch (error) {
    change(id, { state: "refused", held: null, message: error instanceof Error ? error.message : "Nothing was taken in." });
  }
}

let whenAlready: (name: string) => void = () => undefined;

/** What to do where a file turns out to be in the project already. */
export function onAlready(tell: (name: string) => void) {
  whenAlready = tell;
}

async function next() {
  const { jobs } = useUploads.getState();
  if (jobs.some((j) => j.state === "sending" || j.state === "reading")) return;
  const job = jobs.find((j) => j.state === "waiting");
  if (!job) return;
  const outcome = await send(job);
  if (outcome && "message" in outcome) {
    change(job.id, { state: "refused", message: outcome.message, held: outcome.held ?? null });
  } else {
    drop(job.id);
    if (outcome?.already) whenAlready(job.name);
    await queryClient.invalidateQueries({ queryKey: ["project"] });
  }
  void next();
}

/** Send one file. Resolves to what the server made of it, or why not; to null where it was cancelled. */
function send(job: Job): Promise<Outcome> {
  return new Promise((resolve) => {
    const request = new XMLHttpRequest();
    request.open("POST", `/api/projects/${job.projectId}/footage?name=${encodeURIComponent(job.name)}`);
    request.upload.onprogress = (e) => change(job.id, { sent: e.loaded });
    request.upload.onload = () => change(job.id, { state: "reading" });
    request.onload = () => {
      try {
        resolve(JSON.parse(request.responseText) as Outcome);
      } catch {
        resolve({ message: `The server answered ${request.status}.` });
      }
    };
    request.onerror = () => resolve({ message: "The connection to the server was lost. Nothing was kept; drop the file again." });
    request.onabort = () => resolve(null);
    change(job.id, { state: "sending", startedAt: Date.now(), request });
    request.send(job.file);
  });
}
