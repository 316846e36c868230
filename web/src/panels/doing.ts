/** One way to have something done by the server: what it changes is read again, what goes wrong is said. */
import { useQueryClient } from "@tanstack/react-query";
import { useCallback, useMemo } from "react";
import { useNavigate, useParams } from "react-router";

import type { Say } from "../engine/scene";
import { useSay } from "../ui/notices";

/** What is read again: a kind of query, or all of them. */
type Changes = "project" | "projects" | "exports" | "export-queue" | "files" | "everything";

/** Wait for work, read again what it changes; null where it said no, which is said. */
export type Do = <T>(work: Promise<T>, changes?: Changes) => Promise<T | null>;

/** Where something is done, and how it is told. */
export type Doing = { project: string; say: Say; go: (to: string) => void; carryOut: Do };

export function useDo(): Do {
  const queries = useQueryClient();
  const say = useSay();
  return useCallback(
    async (work, changes = "project") => {
      try {
        const found = await work;
        await queries.invalidateQueries(changes === "everything" ? undefined : { queryKey: [changes] });
        return found;
      } catch (error) {
        say(error instanceof Error && error.message ? error.message : "That did not work.", { bad: true });
        return null;
      }
    },
    [queries, say],
  );
}

/** All of that, for a room of a project. */
export function useDoing(): Doing {
  const { projectId } = useParams();
  const say = useSay();
  const navigate = useNavigate();
  const carryOut = useDo();
  return useMemo(() => ({ project: projectId ?? "", say, go: (to) => void navigate(to), carryOut }), [projectId, say, navigate, carryOut]);
}
