import { ask, client } from "../../api/client";
import type { CellRef } from "../../engine/sheet/sheet";
import { useApp } from "../../panels/app";
import { useDoing } from "../../panels/doing";
import { ExportForm, type Exporting } from "../../panels/ExportDialog";

const KEPT = "wenditas-export-names";

/** The chosen cells with one press, under names made of a pattern. */
export function ExportCells({ cells, onClose }: { cells: CellRef[]; onClose: () => void }) {
  const { project } = useDoing();
  const { kept } = useApp();
  const exporting: Exporting = {
    title: `Export ${cells.length === 1 ? "one cell" : `${cells.length} cells`}`,
    name: kept.getItem(KEPT) ?? "{shot} {look}",
    several: true,
    selections: [],
    silent: "",
    start: (pattern, options) => {
      kept.setItem(KEPT, pattern);
      return ask(client.POST("/api/projects/{project_id}/exports", { params: { path: { project_id: project } }, body: { cells, pattern, options } }));
    },
    begun: cells.length === 1 ? "The export has begun." : `${cells.length} exports have begun.`,
  };
  return <ExportForm exporting={exporting} about={() => "Each from its in to its out. The shots' own looks stay what they are."} onClose={onClose} />;
}
