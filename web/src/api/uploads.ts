/** Uploads with progress, one at a time, kept outside React so that they go on while rooms change. */
import type { QueryClient } from "@tanstack/react-query";
import { createStore, type StoreApi } from "zustand/vanilla";

import { ask, client } from "./client";

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

export class Uploads {
  readonly state: StoreApi<{ jobs: Job[] }> = createStore(() => ({ jobs: [] as Job[] }));
  private nextId = 1;

  /** onAlready: told where a file turns out to be in the project already. */
  constructor(
    private queries: QueryClient,
    private onAlready: (name: string) => void,
  ) {}

  private get jobs() {
    return this.state.getState().jobs;
  }

  private change(id: number, part: Partial<Job>) {
    this.state.setState(({ jobs }) => ({ jobs: jobs.map((j) => (j.id === id ? { ...j, ...part } : j)) }));
  }

  private drop(id: number) {
    this.state.setState(({ jobs }) => ({ jobs: jobs.filter((j) => j.id !== id) }));
  }

  add(projectId: string, files: Iterable<File>) {
    const jobs: Job[] = [...files].map((file) => ({
      id: this.nextId++, name: file.name, state: "waiting", sent: 0, total: file.size, startedAt: 0, message: "", held: null, file, projectId,
    }));
    this.state.setState((s) => ({ jobs: [...s.jobs, ...jobs] }));
    void this.next();
  }

  /** Cancel an upload that is under way, or put a refused one out of sight; a damaged file that is kept goes. */
  dismiss(id: number) {
    const job = this.jobs.find((j) => j.id === id);
    job?.request?.abort();
    if (job?.held) void ask(client.DELETE("/api/projects/{project_id}/held/{held}", { params: { path: { project_id: job.projectId, held: job.held } } })).catch(() => undefined);
    this.drop(id);
    void this.next();
  }

  /** Take what can be used of a damaged file. */
  async takeWhatIsThere(id: number) {
    const job = this.jobs.find((j) => j.id === id);
    if (!job?.held) return;
    this.change(id, { state: "reading" });
    try {
      await ask(client.POST("/api/projects/{project_id}/held/{held}", { params: { path: { project_id: job.projectId, held: job.held } } }));
      this.drop(id);
      await this.queries.invalidateQueries({ queryKey: ["project"] });
    } catch (error) {
      this.change(id, { state: "refused", held: null, message: error instanceof Error ? error.message : "Nothing was taken in." });
    }
  }

  private async next() {
    if (this.jobs.some((j) => j.state === "sending" || j.state === "reading")) return;
    const job = this.jobs.find((j) => j.state === "waiting");
    if (!job) return;
    const outcome = await this.send(job);
    if (outcome && "message" in outcome) {
      this.change(job.id, { state: "refused", message: outcome.message, held: outcome.held ?? null });
    } else {
      this.drop(job.id);
      if (outcome?.already) this.onAlready(job.name);
      await this.queries.invalidateQueries({ queryKey: ["project"] });
    }
    void this.next();
  }

  /** Send one file. Resolves to what the server made of it, or why not; to null where it was cancelled. */
  private send(job: Job): Promise<Outcome> {
    return new Promise((resolve) => {
      const request = new XMLHttpRequest();
      request.open("POST", `/api/projects/${job.projectId}/footage?name=${encodeURIComponent(job.name)}`);
      request.upload.onprogress = (e) => this.change(job.id, { sent: e.loaded });
      request.upload.onload = () => this.change(job.id, { state: "reading" });
      request.onload = () => {
        try {
          resolve(JSON.parse(request.responseText) as Outcome);
        } catch {
          resolve({ message: `The server answered ${request.status}.` });
        }
      };
      request.onerror = () => resolve({ message: "The connection to the server was lost. Nothing was kept; drop the file again." });
      request.onabort = () => resolve(null);
      this.change(job.id, { state: "sending", startedAt: Date.now(), request });
      request.send(job.file);
    });
  }
}
