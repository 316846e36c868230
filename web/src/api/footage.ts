/** What is asked of the server about footage and the shots that are made of it; errors that say no have their sentence as message. */
import { ask, client } from "./client";
import type { Footage, Schemas } from "./types";

const of = (id: string) => ({ params: { path: { footage_id: id } } });
const shot = (id: string) => ({ params: { path: { shot_id: id } } });

export const footage = {
  remove: (id: string) => ask(client.DELETE("/api/footage/{footage_id}", of(id))),
  restore: (id: string) => ask(client.POST("/api/footage/{footage_id}/restore", of(id))),
  conform: (id: string, rate: string) => ask(client.POST("/api/footage/{footage_id}/conform", { ...of(id), body: { rate } })),
  weave: (id: string, fields: "" | "one a frame" | "one a field") => ask(client.POST("/api/footage/{footage_id}/fields", { ...of(id), body: { fields } })),
  useTracks: (id: string, body: { picture: number; sound: number }) => ask(client.POST("/api/footage/{footage_id}/tracks", { ...of(id), body })),
  find: (id: string) => ask(client.POST("/api/footage/{footage_id}/find", of(id))),
  /** Shots of one piece are made of another from now on. only: these shots; null: all. */
  replace: (id: string, by: string, only: string[] | null) => ask(client.POST("/api/footage/{footage_id}/replace", { ...of(id), body: { by, shots: only } })),
  read: (project: string, readings: Record<string, Footage["reading"]>) => ask(client.PUT("/api/projects/{project_id}/readings", { params: { path: { project_id: project } }, body: { readings } })),
};

export const shots = {
  make: (piece: string) => ask(client.POST("/api/footage/{footage_id}/shots", of(piece))),
  view: (id: string) => ask(client.GET("/api/shots/{shot_id}", shot(id))),
  rename: (id: string, name: string) => ask(client.PATCH("/api/shots/{shot_id}", { ...shot(id), body: { name } })),
  copy: (id: string, name: string) => ask(client.POST("/api/shots/{shot_id}/copy", { ...shot(id), body: { name } })),
  /** A state of it that is not made its look, as a take. */
  keep: (id: string, body: Schemas["KeepRequest"]) => ask(client.POST("/api/shots/{shot_id}/keep", { ...shot(id), body })),
  remove: (id: string) => ask(client.DELETE("/api/shots/{shot_id}", shot(id))),
  restore: (id: string) => ask(client.POST("/api/shots/{shot_id}/restore", shot(id))),
};
