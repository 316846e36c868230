/** Edits of documents as requests: of shots, and of reels. */
import { ask, client, Unreachable } from "./client";
import type { Connection } from "./connection";
import type { ReelView, ShotView } from "./types";

type Answer<V> = { view: V; made: number | null } & Record<string, unknown>;

/** One answer for all: some are the shot itself, others hold it. */
const told = <V>(body: Record<string, unknown>): Answer<V> => {
  const made = typeof body["made"] === "number" ? body["made"] : null;
  return { ...body, view: ("view" in body ? body["view"] : body) as V, made };
};

const over = <V>(connection: Connection, kind: "shots" | "reels", read: (id: string) => Promise<V>) => ({
  async send(id: string, path: string, body: Record<string, unknown>): Promise<Answer<V>> {
    const request = fetch(`/api/${kind}/${id}/${path}`, { method: path === "look" ? "PUT" : "POST", headers: { "content-type": "application/json" }, body: JSON.stringify(body) });
    const read = request.then(async (response) => {
      connection.answered();
      const data = (await response.json().catch(() => null)) as Record<string, unknown> | null;
      return response.ok ? { data: data ?? {}, response } : { error: data, response };
    });
    return told<V>(await ask<Record<string, unknown>>(read));
  },
  read,
  unreachable: (error: unknown) => {
    if (!(error instanceof Unreachable)) return false;
    connection.lost();
    return true;
  },
  back: () => connection.back(),
});

export const shotsOver = (connection: Connection) =>
  over<ShotView>(connection, "shots", (id) => ask(client.GET("/api/shots/{shot_id}", { params: { path: { shot_id: id } } })));
export const reelsOver = (connection: Connection) =>
  over<ReelView>(connection, "reels", (id) => ask(client.GET("/api/reels/{reel_id}", { params: { path: { reel_id: id } } })));
