/** What is read from the server and kept a while. */
import { createContext, useContext } from "react";
import { QueryClient, useQuery } from "@tanstack/react-query";

import { ask, client } from "./client";
import type { ServerEvent } from "./connection";
import type { Catalogue, Footage, TrackFrame } from "./types";

export const newQueries = () => new QueryClient({ defaultOptions: { queries: { staleTime: 5_000, retry: 1, refetchOnWindowFocus: false } } });

const CHANGED: Partial<Record<ServerEvent["kind"], string>> = { project: "project", takes: "takes", shelf: "shelf", palettes: "palettes", export: "exports" };

/** What an event says has changed is read again. */
export function changedBy(queries: QueryClient, event: ServerEvent) {
  const key = CHANGED[event.kind];
  if (key) void queries.invalidateQueries({ queryKey: [key] });
  if (event.kind === "reel") void queries.invalidateQueries({ queryKey: ["project"], refetchType: "none" }); // what its footage is used for: read when it is shown next
}

export const useRemovedProjects = () => useQuery({ queryKey: ["projects", "removed"], queryFn: () => ask(client.GET("/api/projects/removed")) });
export const useProjects = () => useQuery({ queryKey: ["projects"], queryFn: () => ask(client.GET("/api/projects")) });

export const useProject = (id: string | undefined) =>
  useQuery({
    queryKey: ["project", id],
    enabled: !!id,
    queryFn: () => ask(client.GET("/api/projects/{project_id}", { params: { path: { project_id: id! } } })),
  });

/** The stills of a project: pictures that can be taken wherever one is asked for. */
export const useStills = (id: string | undefined): Footage[] => (useProject(id).data?.footage ?? []).filter((f) => f.facts.kind === "still" && f.state === "here");

export const useExports = (projectId: string | undefined) =>
  useQuery({
    queryKey: ["exports", projectId],
    enabled: !!projectId,
    queryFn: () => ask(client.GET("/api/projects/{project_id}/exports", { params: { path: { project_id: projectId! } } })),
  });

/** Read once for all: what the server can do does not change while it runs. */
export const useReadCatalogue = (): Catalogue | undefined =>
  useQuery({ queryKey: ["catalogue"], staleTime: Infinity, queryFn: () => ask(client.GET("/api/catalogue")) }).data;

export const CatalogueContext = createContext<Catalogue | undefined>(undefined);

/** What the server can do; no data before it has said so. */
export const useCatalogue = (): { data: Catalogue | undefined } => ({ data: useContext(CatalogueContext) });

/** The catalogue for code outside the components; null before it has arrived. */
export const catalogueIn = (queries: QueryClient) => queries.getQueryData<Catalogue>(["catalogue"]) ?? null;

/** Tracks by their digest, for code outside the components: null until they are there. They never change. */
export class Tracks {
  private listeners = new Set<() => void>();
  private version = 0;

  constructor(private queries: QueryClient) {}

  get(digest: string): TrackFrame[] | null {
    const key = ["track", digest];
    const found = this.queries.getQueryData<TrackFrame[]>(key);
    if (found) return found;
    const read = () => ask(client.GET("/api/tracks/{digest}", { params: { path: { digest } } }));
    if (!this.queries.isFetching({ queryKey: key })) void this.queries.fetchQuery({ queryKey: key, queryFn: read, staleTime: Infinity, gcTime: Infinity }).then(() => this.tell(), () => undefined);
    return null;
  }

  private tell() {
    this.version++;
    for (const listener of this.listeners) listener();
  }

  listen = (listener: () => void): (() => void) => {
    this.listeners.add(listener);
    return () => void this.listeners.delete(listener);
  };
  snapshot = () => this.version;
}
