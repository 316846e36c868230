/** What is asked of the server about projects; errors that say no have their sentence as message. */
import { ask, client } from "./client";

const of = (id: string) => ({ params: { path: { project_id: id } } });

export const projects = {
  start: (name: string) => ask(client.POST("/api/projects", { body: { name } })),
  demo: () => ask(client.POST("/api/projects/demo")),
  rename: (id: string, name: string) => ask(client.PATCH("/api/projects/{project_id}", { ...of(id), body: { name } })),
  remove: (id: string) => ask(client.DELETE("/api/projects/{project_id}", of(id))),
  restore: (id: string) => ask(client.POST("/api/projects/{project_id}/restore", of(id))),
  duplicate: (id: string) => ask(client.POST("/api/projects/{project_id}/duplicate", of(id))),
  /** A project from an archive. */
  bringIn: async (archive: File): Promise<{ id: string; name: string }> => {
    const answer = await fetch("/api/projects/archive", { method: "POST", body: archive });
    const told = (await answer.json()) as { id?: string; name?: string; message?: string };
    if (!answer.ok || !told.id) throw new Error(told.message ?? `The server answered ${answer.status}.`);
    return { id: told.id, name: told.name ?? "" };
  },
  archiveOf: (id: string, media: boolean) => `/api/projects/${id}/archive.zip?media=${media}`,
  reel: (id: string) => ask(client.GET("/api/projects/{project_id}/reel", of(id))),
  /** A column's look on shots, its keys fitted again. */
  carry: (id: string, body: { shots: string[]; column: string; shapes: boolean; sure: boolean }) => ask(client.POST("/api/projects/{project_id}/carry", { ...of(id), body })),
  /** The light of shots like that of one. */
  match: (id: string, body: { shots: string[]; to: string; same_scene: boolean }) => ask(client.POST("/api/projects/{project_id}/match", { ...of(id), body })),
  /** A span with a column's look over shots that are in the reel. */
  layOver: (id: string, body: { column: string; shots: string[] }) => ask(client.POST("/api/projects/{project_id}/spans", { ...of(id), body })),
  /** Back to how the shots were before a look was carried over; made: the revision of each that was made then. */
  carryBack: (id: string, made: Record<string, number>) => ask(client.POST("/api/projects/{project_id}/carry/back", { ...of(id), body: { made } })),
};
