/** Uploads with progress, one at a time, kept outside React so that they go on while rooms change. */
import { create } from "zustand";

import { queryClient } from "./queries";

export type Upload = {
  id: number;
  name: string;
  state: "waiting" | "sending" | "reading" | "refused";
  sent: number;
  total: number;
  startedAt: number;
  message: string;
};

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
    id: nextId++, name: file.name, state: "waiting", sent: 0, total: file.size, startedAt: 0, message: "", file, projectId,
  }));
  useUploads.setState((s) => ({ jobs: [...s.jobs, ...jobs] }));
  void next();
}

/** Cancel an upload that is under way, or put a refused one out of sight. */
export function dismissUpload(id: number) {
  useUploads.getState().jobs.find((j) => j.id === id)?.request?.abort();
  drop(id);
  void next();
}

async function next() {
  const { jobs } = useUploads.getState();
  if (jobs.some((j) => j.state === "sending" || j.state === "reading")) return;
  const job = jobs.find((j) => j.state === "waiting");
  if (!job) return;
  const refusal = await send(job);
  if (refusal === null) {
    drop(job.id);
    await queryClient.invalidateQueries({ queryKey: ["project"] });
  } else {
    change(job.id, { state: "refused", message: refusal });
  }
  void next();
}

/** Send one file. Resolves to null, or to the sentence that says why it was refused. */
function send(job: Job): Promise<string | null> {
  return new Promise((resolve) => {
    const request = new XMLHttpRequest();
    request.open("POST", `/api/projects/${job.projectId}/footage?name=${encodeURIComponent(job.name)}`);
    request.upload.onprogress = (e) => change(job.id, { sent: e.loaded });
    request.upload.onload = () => change(job.id, { state: "reading" });
    request.onload = () => {
      if (request.status < 300) return resolve(null);
      try {
        resolve((JSON.parse(request.responseText) as { message: string }).message);
      } catch {
        resolve(`The server answered ${request.status}.`);
      }
    };
    request.onerror = () => resolve("The connection to the server was lost. Nothing was kept; drop the file again.");
    request.onabort = () => resolve(null);
    change(job.id, { state: "sending", startedAt: Date.now(), request });
    request.send(job.file);
  });
}
