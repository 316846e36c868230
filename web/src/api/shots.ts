/** Edits of shots as requests. */
import { ask, client, Unreachable } from "./client";
import type { Connection } from "./connection";
import type { ShotView } from "./types";

type Answer = { view: ShotView; made: number | null } & Record<string, unknown>;

/** One answer for all: some are the shot itself, others hold it. */
const told = (body: Record<string, unknown>): Answer => {
  const made = typeof body["made"] === "number" ? body["made"] : null;
  return { ...body, view: ("view" in body ? body["view"] : body) as ShotView, made };
};

export const shotsOver = (connection: Connection) => ({
  async send(shot: string, path: string, body: Record<string, unknown>): Promise<Answer> {
    const request = fetch(`/api/shots/${shot}/${path}`, { method: path === "look" ? "PUT" : "POST", headers: { "content-type": "application/json" }, body: JSON.stringify(body) });
    const read = request.then(async (response) => {
      const data = (await response.json().catch(() => null)) as Record<string, unknown> | null;
      return response.ok ? { data: data ?? {}, response } : { error: data, response };
    });
    return told(await ask<Record<string, unknown>>(read));
  },
  read: (shot: string): Promise<ShotView> => ask(client.GET("/api/shots/{shot_id}", { params: { path: { shot_id: shot } } })),
  unreachable: (error: unknown) => {
    if (!(error instanceof Unreachable)) return false;
    connection.lost();
    return true;
  },
  back: () => connection.back(),
});
