import { ask, client } from "../../api/client";
import type { ExportOptions } from "../../api/types";
import { useChoice, useDocument, useEngine, useTime, useView } from "../../panels/engine";
import { ExportForm, type Exporting } from "../../panels/ExportDialog";
import { useMarksHere } from "../../panels/marks";
import { duration } from "../../ui/words";

/** The shot on the Bench as a file, or one frame of it. */
export function ShotExport({ onClose }: { onClose: () => void }) {
  const engine = useEngine();
  const view = useView();
  const frame = useTime((s) => s.frame);
  const document = useDocument();
  const selection = useChoice((s) => s.selectionId);
  const { facts } = view.footage;
  const { rate } = engine.timeline;
  const count = document.last - document.first + 1;
  const path = { params: { path: { shot_id: view.shot.id } } };
  const body = (name: string, options: ExportOptions) => ({ revision: engine.view.revision, name, options });
  const exporting: Exporting = {
    title: view.part ? `Export this ${view.part.kind}` : "Export this shot",
    name: view.shot.name,
    selections: document.look.selections ?? [],
    silent: view.part || facts.sound ? "" : "this footage has none",
    size: { width: facts.width, height: facts.height, rate },
    change: (next, before) => (next.shows !== "result" && before.shows === "result" && selection ? { ...next, selection } : next),
    estimate: {
      of: [view.shot.id, view.revision],
      ask: async (options, signal) => {
        await engine.document.idle();
        return ask(client.POST("/api/shots/{shot_id}/exports/estimate", { ...path, body: body("", options), signal }));
      },
    },
    frame: (options) => ({ href: `/api/shots/${view.shot.id}/frames/${view.revision}/${frame}.png${shownOnly(options)}`, title: `Frame ${frame}, at full size` }),
    start: async (name, options) => {
      engine.around.settle();
      await engine.document.idle();
      return ask(client.POST("/api/shots/{shot_id}/exports", { ...path, body: body(name, options) }));
    },
    begun: "The export has begun.",
  };
  return (
    <ExportForm exporting={exporting} about={() => `${count} frames, ${duration(count / rate)}, ${facts.width} × ${facts.height} at ${Number(rate.toFixed(3))} fps.`} onClose={onClose}>
      <Found />
    </ExportForm>
  );
}

/** What a single frame shows, as its address has it. */
const shownOnly = ({ shows, selection }: ExportOptions) => (shows === "result" || !shows || !selection ? "" : `?${new URLSearchParams({ shows, selection })}`);

/** What checks have found, told before it is handed on. */
function Found() {
  const { heard: marks } = useMarksHere();
  if (!marks.length) return null;
  return (
    <p role="status" aria-label="Checks" className="mt-4 flex gap-2 border border-strong px-2 py-1">
      <b>!</b>
      <span>
        Checks found: {[...new Set(marks.map((m) => m.name.toLowerCase()))].join(", ")}. They are under “{marks.length} {marks.length === 1 ? "mark" : "marks"}” above the picture.
      </span>
    </p>
  );
}
