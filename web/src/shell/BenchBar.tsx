import { useRef, useState } from "react";
import { useNavigate, useParams } from "react-router";

import { ask, client } from "../api/client";
import { queryClient, useProject } from "../api/queries";
import { loadLook, step } from "../editor/edits";
import { saveOnShelf } from "../editor/pocket";
import { useBench } from "../editor/store";
import { ExportDialog } from "../rooms/bench/ExportDialog";
import { History } from "../rooms/bench/History";
import { useShelf } from "../rooms/bench/Shelf";
import { Button } from "../ui/basics";
import { FileInput } from "../ui/fileinput";
import { Menu } from "../ui/menu";
import { say } from "../ui/notices";
import { askName } from "../ui/prompt";

/** Which shot is on the Bench; a menu of the others. */
export function BenchTitle() {
  const { projectId } = useParams();
  const navigate = useNavigate();
  const view = useBench((s) => s.view);
  const saving = useBench((s) => s.saving);
  const { data } = useProject(projectId);
  if (!view) return null;
  const rename = () =>
    askName("Rename the shot", view.shot.name, (name) => {
      ask(client.PATCH("/api/shots/{shot_id}", { params: { path: { shot_id: view.shot.id } }, body: { name } })).then(
        (next) => {
          useBench.setState({ view: next });
          void queryClient.invalidateQueries({ queryKey: ["project"] });
        },
        (error: Error) => say(error.message, { bad: true }),
      );
    });
  return (
    <>
      <Menu
        align="start"
        trigger={
          <button type="button" className="truncate font-bold">
            {view.shot.name} ▾
          </button>
        }
        items={[
          ...(data?.shots ?? []).map((s) => ({ name: s.name, checked: s.id === view.shot.id, onSelect: () => void navigate(`/projects/${projectId}/shots/${s.id}`) })),
          "line",
          { name: "Rename this shot…", onSelect: rename },
        ]}
      />
      <span role="status" className="ml-3 text-quiet">{saving ? "storing…" : ""}</span>
    </>
  );
}

export function BenchActions() {
  const view = useBench((s) => s.view);
  const [exporting, setExporting] = useState(false);
  const file = useRef<HTMLInputElement>(null);
  if (!view) return null;
  return (
    <>
      <Button disabled={view.undo === null} title={view.undo ? `Undo: ${view.undo}` : "Nothing to undo"} onClick={() => void step("undo")}>
        Undo
      </Button>
      <Button disabled={view.redo === null} title={view.redo ? `Redo: ${view.redo}` : "Nothing to redo"} onClick={() => void step("redo")}>
        Redo
      </Button>
      <History />
      <Button title="Finished looks to begin with, and saved ones (M)" onClick={() => useShelf.setState({ open: true })}>
        Shelf
      </Button>
      <Menu
        trigger={<Button>Look ▾</Button>}
        items={[
          { name: "Save on the shelf…", disabled: !view.document.look.passes?.length, onSelect: () => askName("Save this look on the shelf", view.shot.name, (name) => void saveOnShelf(name, "", null)) },
          "line",
          { name: "Download this look", aside: "JSON", onSelect: () => window.open(`/api/shots/${view.shot.id}/look.json`, "_self") },
          { name: "Load a look…", aside: "JSON", onSelect: () => file.current?.click() },
        ]}
      />
      <FileInput ref={file} label="Look file" accept=".json,application/json" onFile={(chosen) => void chosen.text().then(loadLook)} />
      <Button look="solid" onClick={() => setExporting(true)}>
        Export
      </Button>
      <ExportDialog open={exporting} onClose={() => setExporting(false)} />
    </>
  );
}
