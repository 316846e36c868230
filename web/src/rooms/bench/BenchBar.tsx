import { useQuery } from "@tanstack/react-query";
import { useRef, useState } from "react";
import { Link, useParams } from "react-router";

import { shots as shotCalls } from "../../api/footage";
import { projects } from "../../api/projects";
import type { ShotRow } from "../../api/types";
import { useProject } from "../../api/queries";
import { ExportDialog } from "../../panels/ExportDialog";
import { ShotExport } from "./ShotExport";
import { LikenessPanel } from "./Likeness";
import { History } from "./History";
import { splitAndDissolve } from "./halves";
import { LutDialog } from "./LutDialog";
import { InBar } from "../../ui/bar";
import { Button } from "../../ui/basics";
import { FileInput } from "../../ui/fileinput";
import { Menu } from "../../ui/menu";
import { loadLook, saveOnShelf } from "../../engine/pocket";
import { useApp } from "../../panels/app";
import { useDoing } from "../../panels/doing";
import { useDoc, useEngine, useView } from "../../panels/engine";
import { useAskName } from "../../ui/prompt";

/** What the Bench has in the top bar. */
export function BenchBar() {
  return (
    <>
      <InBar slot="title">
        <BenchTitle />
      </InBar>
      <InBar slot="actions">
        <BenchActions />
      </InBar>
    </>
  );
}

/** How often a shot stands in the reel. */
function useUses(shot: string) {
  const { projectId } = useParams();
  const { data } = useQuery({
    queryKey: ["reel-uses", projectId],
    staleTime: 0,
    queryFn: () => projects.reel(projectId!),
  });
  return data?.document.items?.filter((item) => item.shot === shot).length ?? 0;
}

/** Which shot is on the Bench; a menu of the others. */
function BenchTitle() {
  const engine = useEngine();
  const askName = useAskName();
  const { project: projectId, go, carryOut } = useDoing();
  const view = useView();
  const [{ from }] = useState(() => ({ from: new URLSearchParams(location.search).get("from") }));
  const uses = useUses(view.shot.id);
  const saving = useDoc((s) => s.waiting.length > 0);
  const { data } = useProject(projectId);
  const shots = data?.shots ?? [];
  const at = shots.findIndex((s) => s.id === view.shot.id);
  const open = (shot: ShotRow) => go(`/projects/${projectId}/shots/${shot.id}`);
  const picture = (shot: ShotRow) => {
    const piece = data!.footage.find((f) => f.id === shot.footage_id);
    return `/api/shots/${shot.id}/pictures/${shot.head}/${Math.floor((piece?.facts.length ?? 1) * 0.4)}.jpg?width=96`;
  };
  const rename = () =>
    askName("Rename the shot", view.shot.name, (name) => {
      void carryOut(shotCalls.rename(view.shot.id, name)).then(() => engine.document.refresh());
    });
  return (
    <>
      <Menu
        align="start"
        trigger={
          <button type="button" className="as-button truncate font-bold">
            {view.shot.name} ▾
          </button>
        }
        items={[
          ...shots.map((s) => ({ name: s.name, image: picture(s), checked: s.id === view.shot.id, onSelect: () => open(s) })),
          "line",
          { name: "The shot before", aside: "Shift Page up", disabled: at <= 0, onSelect: () => open(shots[at - 1]!) },
          { name: "The next shot", aside: "Shift Page down", disabled: at < 0 || at === shots.length - 1, onSelect: () => open(shots[at + 1]!) },
          ...(view.part ? [] : [{ name: "Rename this shot…", onSelect: rename }]),
        ]}
      />
      {from === "sheet" && (
        <Link className="ml-3 shrink-0 underline" to={`/projects/${projectId}/sheet`}>
          back to the sheet
        </Link>
      )}
      {view.part && (
        <Link className="ml-3 shrink-0 underline" to={`/projects/${projectId}/reel`}>
          back to the reel
        </Link>
      )}
      {uses > 1 && <span className="ml-3 truncate text-quiet">used {uses === 2 ? "twice" : `${uses} times`} in the reel; a change shows in all</span>}
      <span role="status" className="ml-3 text-quiet">{saving ? "storing…" : ""}</span>
    </>
  );
}

function BenchActions() {
  const { dialogs } = useApp();
  const askName = useAskName();
  const engine = useEngine();
  const view = useView();
  const [exporting, setExporting] = useState(false);
  const [lut, setLut] = useState(false);
  const doing = useDoing();
  const file = useRef<HTMLInputElement>(null);
  return (
    <>
      <Button disabled={view.undo === null} title={view.undo ? `Undo: ${view.undo}` : "Nothing to undo"} onClick={() => void engine.step("undo")}>
        Undo
      </Button>
      <Button disabled={view.redo === null} title={view.redo ? `Redo: ${view.redo}` : "Nothing to redo"} onClick={() => void engine.step("redo")}>
        Redo
      </Button>
      <History />
      <Button title="Finished looks to begin with, and saved ones" does="shelf" onClick={() => dialogs.setState({ shelf: true })}>
        Shelf
      </Button>
      <Menu
        trigger={<Button>Look ▾</Button>}
        items={[
          { name: "Save on the shelf…", disabled: !view.document.look.passes?.length, onSelect: () => askName("Save this look on the shelf", view.shot.name, (name) => void saveOnShelf(engine, name, "", null)) },
          { name: "From a picture…", disabled: view.part !== null, onSelect: () => engine.choice.set({ likeness: { file: null } }) },
          { name: "Another look from here on: split and dissolve", disabled: view.part !== null, onSelect: () => void splitAndDissolve(engine, doing) },
          "line",
          { name: "Download this look", aside: "JSON", onSelect: () => window.open(`/api/shots/${view.shot.id}/look.json`, "_self") },
          { name: "Save as a LUT…", aside: ".cube", disabled: !view.document.look.passes?.length, onSelect: () => (engine.around.settle(), setLut(true)) },
          { name: "Load a look…", aside: "JSON", onSelect: () => file.current?.click() },
        ]}
      />
      <FileInput ref={file} label="Look file" accept=".json,application/json" onFile={(chosen) => void chosen.text().then((text) => loadLook(engine, text))} />
      {!view.part && (
        <Button look="solid" onClick={() => (engine.around.settle(), setExporting(true))}>
          Export
        </Button>
      )}
      <ExportDialog open={exporting} onClose={() => setExporting(false)}>
        <ShotExport onClose={() => setExporting(false)} />
      </ExportDialog>
      <LikenessPanel />
      <LutDialog open={lut} onClose={() => setLut(false)} />
    </>
  );
}
