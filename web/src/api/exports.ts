/** What is asked of the server about the queue of exports; errors that say no have their sentence as message. */
import { ask, client } from "./client";

const of = (id: string) => ({ params: { path: { export_id: id } } });

/** What can be done with an export by itself. */
export type ExportDoor = "pause" | "go-on" | "cancel" | "restart";

export const exporting = {
  queue: () => ask(client.GET("/api/exports/queue")),
  atOnce: (count: number) => ask(client.PUT("/api/exports/queue", { body: { at_once: count } })),
  act: (id: string, door: ExportDoor) => ask(client.POST(`/api/exports/{export_id}/${door}`, of(id))),
  /** Before another in the queue; at its end for null. */
  place: (id: string, before: string | null) => ask(client.POST("/api/exports/{export_id}/place", { ...of(id), body: { before } })),
  remove: (id: string) => ask(client.DELETE("/api/exports/{export_id}", of(id))),
};
