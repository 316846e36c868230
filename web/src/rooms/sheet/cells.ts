/** What the cells of the sheet are asked for, and what is told of them. */
import { useQuery } from "@tanstack/react-query";

import { ask, client } from "../../api/client";
import type { Schemas } from "../../api/types";
import type { CellRef, SheetState, Which } from "../../engine/sheet/sheet";
import { isSilent } from "../../engine/silenced";
import { useSilences } from "../../panels/marks";
import { useSheetState } from "./context";

type CellView = Schemas["CellView"];
type How = Pick<SheetState, "shapes" | "sure">;

/** The address of a cell's picture. stamp: what it depends on beyond its names, so that it is asked for again. */
export function pictureOf({ shot, column }: CellRef, which: Which, width: number, { shapes, sure }: How, stamp: string): string {
  return `/api/shots/${shot}/cells/${encodeURIComponent(column)}/${which}.jpg?width=${width}${shapes ? "&shapes=true" : ""}${sure ? "&sure=true" : ""}&v=${encodeURIComponent(stamp)}`;
}

/** What checks find on the frame that a cell shows, once its picture is there and the page has rested. */
export function useMarks(cell: CellRef, stamp: string, enabled: boolean) {
  const shapes = useSheetState((s) => s.shapes);
  const sure = useSheetState((s) => s.sure);
  const { data } = useQuery({
    queryKey: ["cell-marks", cell.shot, cell.column, shapes, sure, stamp],
    enabled,
    staleTime: Infinity,
    queryFn: async ({ signal }) => {
      await new Promise((resolve) => setTimeout(resolve, 1500));
      if (signal.aborted) return [];
      return ask(client.GET("/api/shots/{shot_id}/cells/{column}/marks", { params: { path: { shot_id: cell.shot, column: cell.column }, query: { shapes, sure } }, signal }));
    },
  });
  const silences = useSilences();
  return (data ?? []).filter((mark) => !isSilent(silences, mark.check, cell.shot));
}

/** What is to be said of a cell, once its picture is there. */
export function useCell(cell: CellRef, stamp: string, enabled: boolean): { told: CellView | undefined; wrong: string } {
  const shapes = useSheetState((s) => s.shapes);
  const sure = useSheetState((s) => s.sure);
  const { data, error } = useQuery({
    queryKey: ["cell", cell.shot, cell.column, shapes, sure, stamp],
    enabled: enabled && cell.column !== "own",
    staleTime: Infinity,
    queryFn: ({ signal }) => ask(client.GET("/api/shots/{shot_id}/cells/{column}", { params: { path: { shot_id: cell.shot, column: cell.column }, query: { shapes, sure } }, signal })),
  });
  return { told: data, wrong: error?.message ?? "" };
}
