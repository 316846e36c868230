import { QueryClient, useQuery } from "@tanstack/react-query";

import { ask, client } from "./client";
import { onServerEvent } from "./events";
import type { Catalogue } from "./types";

export const queryClient = new QueryClient({
  defaultOptions: { queries: { staleTime: 5_000, retry: 1, refetchOnWindowFocus: false } },
});

onServerEvent((event) => {
  if (event.kind === "project") void queryClient.invalidateQueries({ queryKey: ["project"] });
  if (event.kind === "takes") void queryClient.invalidateQueries({ queryKey: ["takes"] });
  if (event.kind === "shelf") void queryClient.invalidateQueries({ queryKey: ["shelf"] });
  if (event.kind === "export") void queryClient.invalidateQueries({ queryKey: ["exports"] });
});

export const useProjects = () => useQuery({ queryKey: ["projects"], queryFn: () => ask(client.GET("/api/projects")) });

export const useProject = (id: string | undefined) =>
  useQuery({
    queryKey: ["project", id],
    enabled: !!id,
    queryFn: () => ask(client.GET("/api/projects/{project_id}", { params: { path: { project_id: id! } } })),
  });

export const useExports = (projectId: string | undefined) =>
  useQuery({
    queryKey: ["exports", projectId],
    enabled: !!projectId,
    queryFn: () => ask(client.GET("/api/projects/{project_id}/exports", { params: { path: { project_id: projectId! } } })),
  });

export const useCatalogue = () =>
  useQuery({ queryKey: ["catalogue"], staleTime: Infinity, queryFn: () => ask(client.GET("/api/catalogue")) });

/** The catalogue for code outside the components; null before it has arrived. */
export const catalogueNow = () => queryClient.getQueryData<Catalogue>(["catalogue"]) ?? null;
