import { useState } from "react";
import { useStore } from "zustand";

import { ReelContext } from "../rooms/reel/context";
import type { ReelEngine } from "../engine/reel/reel";
import { ReelExport } from "../rooms/reel/ReelExport";
import { ReelHistory } from "../rooms/reel/ReelHistory";
import { TimedContext } from "../panels/engine";
import { Button } from "../ui/basics";

/** What is done with the reel as a whole. */
export function ReelActions({ reel }: { reel: ReelEngine }) {
  const view = useStore(reel.document.state, (s) => s.view);
  const [exporting, setExporting] = useState(false);
  const empty = !view.document.items?.length;
  return (
    <ReelContext value={reel}>
      <Button disabled={view.undo === null} title={view.undo ? `Undo: ${view.undo}` : "Nothing to undo"} onClick={() => void reel.step("undo")}>
        Undo
      </Button>
      <Button disabled={view.redo === null} title={view.redo ? `Redo: ${view.redo}` : "Nothing to redo"} onClick={() => void reel.step("redo")}>
        Redo
      </Button>
      <TimedContext value={reel}>
        <ReelHistory />
      </TimedContext>
      <Button look="solid" disabled={empty} title={empty ? "The reel is empty: there is nothing to export yet" : undefined} onClick={() => (reel.around.settle(), setExporting(true))}>
        Export
      </Button>
      <ReelExport open={exporting} onClose={() => setExporting(false)} />
    </ReelContext>
  );
}

/** Whether something is still on its way to the server. */
export function ReelStoring({ reel }: { reel: ReelEngine }) {
  const storing = useStore(reel.document.state, (s) => s.waiting.length > 0);
  return <span role="status" className="ml-3 text-quiet">{storing ? "storing…" : ""}</span>;
}
