/** What the engine asks of the server, one call for each thing: one path for errors, one for what comes line by line. */
import { ask, client, Unreachable } from "./client";
import { answered, lines } from "./lines";
import type { Take } from "./types";

type Kind = "shots" | "reels";
type Saved = { revision: number; name: string };

const posted = (body: unknown): RequestInit => ({ method: "POST", headers: { "content-type": "application/json" }, body: JSON.stringify(body) });

export const calls = {
  /** The main colours of a frame. */
  colours: (shot_id: string, frame: number): Promise<{ colour: number[] }[]> => ask(client.GET("/api/shots/{shot_id}/colours/{frame}", { params: { path: { shot_id, frame } } })),
  /** Where a shape's points would lie on the nearest edge of a frame. */
  snap: (shot_id: string, revision: number, frame: number, selection: string, shape: string): Promise<number[][]> =>
    ask(client.GET("/api/shots/{shot_id}/snaps/{revision}/{frame}", { params: { path: { shot_id, revision, frame }, query: { selection, shape } } })),
  takes: (kind: Kind, id: string): Promise<Take[]> =>
    kind === "shots" ? ask(client.GET("/api/shots/{shot_id}/takes", { params: { path: { shot_id: id } } })) : ask(client.GET("/api/reels/{reel_id}/takes", { params: { path: { reel_id: id } } })),
  saveTake: (kind: Kind, id: string, body: Saved): Promise<unknown> =>
    kind === "shots"
      ? ask(client.POST("/api/shots/{shot_id}/takes", { params: { path: { shot_id: id } }, body }))
      : ask(client.POST("/api/reels/{reel_id}/takes", { params: { path: { reel_id: id } }, body })),
  putOnShelf: (body: { shot: string; revision: number; name: string; words: string; only: string | null }): Promise<unknown> => ask(client.POST("/api/shelf", { body })),
  /** How much a selection covers, frame by frame. */
  overTime: <T>(shot: string, revision: number, selection: string, signal: AbortSignal) => lines<T>(fetch(`/api/shots/${shot}/over-time/${revision}?selection=${selection}`, { signal })),
  checks: <T>(shot: string, revision: number, signal: AbortSignal) => lines<T>(fetch(`/api/shots/${shot}/checks/${revision}`, { signal })),
  carry: <T>(shot: string, revision: number, query: URLSearchParams, signal: AbortSignal) => lines<T>(fetch(`/api/shots/${shot}/objects/${revision}?${query}`, { signal })),
  track: <T>(shot: string, body: unknown, signal: AbortSignal) => lines<T>(fetch(`/api/shots/${shot}/tracks`, { ...posted(body), signal })),
  /** A picture of a document. path: of the document. */
  picture: async (path: string, revision: number, frame: number, query: URLSearchParams): Promise<Blob> => (await answered(fetch(`${path}/pictures/${revision}/${frame}.png?${query}`))).blob(),
  /** Share of a frame that a selection covers, in percent. */
  coverage: async (path: string, revision: number, frame: number, selection: string): Promise<number> => (await answered(fetch(`${path}/coverage/${revision}/${frame}?selection=${selection}`))).json() as Promise<number>,
  unreachable: (error: unknown): boolean => error instanceof Unreachable,
};
