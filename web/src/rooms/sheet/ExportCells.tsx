import { useQueryClient } from "@tanstack/react-query";
import { Dialog } from "radix-ui";
import { useState } from "react";
import { useNavigate, useParams } from "react-router";

import { useApp } from "../../panels/app";
import { ask, client } from "../../api/client";
import type { CellRef } from "../../engine/sheet/sheet";
import type { ExportOptions } from "../../api/types";
import { ExportWhat, PLAIN } from "../../panels/ExportWhat";
import { NameFields } from "../../panels/NameFields";
import { Button } from "../../ui/basics";
import { useSay } from "../../ui/notices";

const KEPT = "wenditas-export-names";

/** Export the chosen cells with one press, under names made of a pattern. */
export function ExportCells({ open, cells, onClose }: { open: boolean; cells: CellRef[]; onClose: () => void }) {
  const { projectId } = useParams();
  const navigate = useNavigate();
  const queries = useQueryClient();
  const say = useSay();
  const { kept } = useApp();
  const [pattern, setPattern] = useState(() => kept.getItem(KEPT) ?? "{shot} {look}");
  const [options, setOptions] = useState<ExportOptions>(PLAIN);
  const [busy, setBusy] = useState(false);
  const start = async () => {
    setBusy(true);
    try {
      await ask(client.POST("/api/projects/{project_id}/exports", { params: { path: { project_id: projectId! } }, body: { cells, pattern, options } }));
      kept.setItem(KEPT, pattern);
      void queries.invalidateQueries({ queryKey: ["exports"] });
      say(cells.length === 1 ? "The export has begun." : `${cells.length} exports have begun.`, { action: { name: "See exports", run: () => void navigate(`/projects/${projectId}/exports`) } });
      onClose();
    } catch (error) {
      say((error as Error).message, { bad: true });
    }
    setBusy(false);
  };
  return (
    <Dialog.Root open={open} onOpenChange={onClose}>
      <Dialog.Portal>
        <Dialog.Overlay className="fixed inset-0 z-40 bg-black/60" />
        <Dialog.Content aria-describedby={undefined} className="fixed top-[12%] left-1/2 z-50 w-[520px] -translate-x-1/2 border border-strong bg-panel p-5">
          <Dialog.Title className="text-[18px] font-bold">Export {cells.length === 1 ? "one cell" : `${cells.length} cells`}</Dialog.Title>
          <label className="mt-3 block">
            <span className="text-quiet">Names</span>
            <input value={pattern} onChange={(e) => setPattern(e.currentTarget.value)} className="mt-1 h-[30px] w-full border border-strong bg-transparent px-2" />
          </label>
          <NameFields pattern={pattern} onChange={setPattern} />
          <div className="mt-4 grid grid-cols-[70px_1fr] items-center gap-y-3">
            <ExportWhat options={options} onChange={setOptions} selections={[]} silent="" />
          </div>
          <p className="mt-3 text-quiet">Each from its in to its out. The shots' own looks stay what they are.</p>
          <div className="mt-4 flex justify-end gap-2">
            <Button onClick={onClose}>Not now</Button>
            <Button look="solid" disabled={busy} onClick={() => void start()}>
              Export
            </Button>
          </div>
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  );
}
