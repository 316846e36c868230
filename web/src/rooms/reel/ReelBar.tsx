import { useRef, useState } from "react";
import { useStore } from "zustand";

import { ask, client } from "../../api/client";
import { FileInput } from "../../ui/fileinput";
import { Menu } from "../../ui/menu";
import { useReel } from "./context";
import type { ReelSession } from "../../engine/reel/reel";
import { ExportDialog } from "../../panels/ExportDialog";
import { ReelExport } from "./ReelExport";
import { ReelHistory } from "./ReelHistory";
import { InBar } from "../../ui/bar";
import { Button } from "../../ui/basics";

/** What the reel has in the top bar. */
export function ReelBar() {
  const reel = useReel();
  return (
    <>
      <InBar slot="title">
        <ReelStoring reel={reel} />
      </InBar>
      <InBar slot="actions">
        <ReelActions reel={reel} />
      </InBar>
    </>
  );
}

/** What is done with the reel as a whole. */
function ReelActions({ reel }: { reel: ReelSession }) {
  const view = useStore(reel.document.state, (s) => s.view);
  const [exporting, setExporting] = useState(false);
  const empty = !view.document.items?.length;
  return (
    <>
      <Button disabled={view.undo === null} title={view.undo ? `Undo: ${view.undo}` : "Nothing to undo"} onClick={() => void reel.step("undo")}>
        Undo
      </Button>
      <Button disabled={view.redo === null} title={view.redo ? `Redo: ${view.redo}` : "Nothing to redo"} onClick={() => void reel.step("redo")}>
        Redo
      </Button>
      <ReelHistory />
      <CutLists reel={reel} empty={empty} />
      <Button look="solid" disabled={empty} title={empty ? "The reel is empty: there is nothing to export yet" : undefined} onClick={() => (reel.around.settle(), setExporting(true))}>
        Export
      </Button>
      <ExportDialog open={exporting} onClose={() => setExporting(false)}>
        <ReelExport onClose={() => setExporting(false)} />
      </ExportDialog>
    </>
  );
}

/** The reel as a cut list for other programs, and theirs as the reel. */
function CutLists({ reel, empty }: { reel: ReelSession; empty: boolean }) {
  const file = useRef<HTMLInputElement>(null);
  const path = { params: { path: { reel_id: reel.view.reel_id } } };
  const fail = (error: Error) => reel.around.say(error.message, { bad: true });
  const save = (kind: "otio" | "edl") => {
    window.open(`/api/reels/${reel.view.reel_id}/cut.${kind}`, "_self");
    ask(client.GET("/api/reels/{reel_id}/cut", path)).then((told) => reel.around.say(`The cut is saved. ${told.join(" ")}`), fail);
  };
  const bring = async (chosen: File) => {
    const text = await chosen.text();
    await reel.document.idle();
    ask(client.POST("/api/reels/{reel_id}/cut", { ...path, body: { text, name: chosen.name.slice(0, 80), rate: null } })).then(({ count, told }) => {
      reel.document.refresh();
      reel.around.say([`${count === 1 ? "One clip is" : `${count} clips are`} in the reel.`, ...told].join(" "), { action: { name: "Undo", run: () => void reel.step("undo") } });
    }, fail);
  };
  return (
    <>
      <Menu
        trigger={<Button title="Cut lists, for other programs">File ▾</Button>}
        items={[
          { name: "Save the cut", aside: "OpenTimelineIO", disabled: empty, onSelect: () => save("otio") },
          { name: "Save the cut", aside: "EDL", disabled: empty, onSelect: () => save("edl") },
          "line",
          { name: "Bring a cut list in…", aside: "OTIO, EDL", onSelect: () => file.current?.click() },
        ]}
      />
      <FileInput ref={file} label="Cut list" accept=".otio,.edl,.txt,.json" onFile={(chosen) => void bring(chosen)} />
    </>
  );
}

/** Whether something is still on its way to the server. */
function ReelStoring({ reel }: { reel: ReelSession }) {
  const storing = useStore(reel.document.state, (s) => s.waiting.length > 0);
  return <span role="status" className="ml-3 text-quiet">{storing ? "storing…" : ""}</span>;
}
