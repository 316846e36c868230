import { useMarksHere } from "../../panels/marks";
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { Dialog } from "radix-ui";
import { useState } from "react";
import { useNavigate, useParams } from "react-router";

import { ask, client } from "../../api/client";
import type { ExportOptions } from "../../api/types";
import { ExportWhat, PLAIN } from "../../panels/ExportWhat";
import { NameFields } from "../../panels/NameFields";
import { Button } from "../../ui/basics";
import { useChoice, useDocument, useEngine, useTime, useView } from "../../panels/engine";
import { Estimate } from "../../panels/Estimate";
import { useSay } from "../../ui/notices";
import { duration } from "../../ui/words";

/** What to export, and as what. */
export function ExportDialog({ open, onClose }: { open: boolean; onClose: () => void }) {
  const view = useView();
  return (
    <Dialog.Root open={open} onOpenChange={(next) => !next && onClose()}>
      <Dialog.Portal>
        <Dialog.Overlay className="fixed inset-0 z-40 bg-black/60" />
        <Dialog.Content aria-describedby={undefined} className="fixed top-[12%] left-1/2 z-50 w-[520px] max-w-[96%] -translate-x-1/2 border border-strong bg-panel p-5">
          {view && <Form onClose={onClose} />}
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  );
}

function Form({ onClose }: { onClose: () => void }) {
  const engine = useEngine();
  const queryClient = useQueryClient();
  const say = useSay();
  const view = useView();
  const frame = useTime((s) => s.frame);
  const document = useDocument();
  const { projectId } = useParams();
  const navigate = useNavigate();
  const [name, setName] = useState(view.shot.name);
  const count = document.last - document.first + 1;
  const { facts } = view.footage;
  const selections = document.look.selections ?? [];
  const chosen = useChoice((s) => s.selectionId);
  const [options, setOptions] = useState<ExportOptions>({ ...PLAIN, selection: null });
  const change = (next: ExportOptions) => setOptions(next.shows !== "result" && options.shows === "result" && chosen ? { ...next, selection: chosen } : next);

  const start = async () => {
    try {
      engine.around.settle();
      await engine.document.idle();
      await ask(client.POST("/api/shots/{shot_id}/exports", { params: { path: { shot_id: view.shot.id } }, body: { revision: engine.view.revision, name: name.trim(), options } }));
      await queryClient.invalidateQueries({ queryKey: ["exports"] });
      onClose();
      say("The export has begun.", { action: { name: "See exports", run: () => void navigate(`/projects/${projectId}/exports`) } });
    } catch (error) {
      say(error instanceof Error ? error.message : "The export did not begin.", { bad: true });
    }
  };
  return (
    <form
      onSubmit={(e) => {
        e.preventDefault();
        void start();
      }}
    >
      <Dialog.Title className="text-[18px] font-bold">{view.part ? `Export this ${view.part.kind}` : "Export this shot"}</Dialog.Title>
      <p className="mt-1 text-quiet">
        {count} frames, {duration(count / engine.timeline.rate)}, {facts.width} × {facts.height} at {Number(engine.timeline.rate.toFixed(3))} fps.
      </p>
      <div className="mt-4 grid grid-cols-[70px_1fr] items-center gap-y-3">
        <label htmlFor="export-name">Name</label>
        <div>
          <input id="export-name" value={name} maxLength={120} onChange={(e) => setName(e.currentTarget.value)} className="h-[28px] w-full border border-strong bg-ground px-2" />
          <NameFields pattern={name} onChange={setName} />
        </div>
        <ExportWhat options={options} onChange={change} selections={selections} silent={view.part || facts.sound ? "" : "this footage has none"} size={{ width: facts.width, height: facts.height, rate: engine.timeline.rate }} />
      </div>
      <Found />
      <About options={options} />
      <div className="mt-4 flex items-center gap-2">
        <a className="inline-flex h-[26px] items-center border border-strong px-2.5 font-medium hover:border-ink" href={`/api/shots/${view.shot.id}/frames/${view.revision}/${frame}.png${shownOnly(options)}`} download onClick={onClose}>
          This frame as PNG
        </a>
        <span className="flex-1" />
        <Button onClick={onClose}>Cancel</Button>
        <Button look="solid" type="submit">
          Export
        </Button>
      </div>
    </form>
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

/** About how large the file will be and how long it will take: the server measures some frames of it. */
function About({ options }: { options: ExportOptions }) {
  const engine = useEngine();
  const view = useView();
  const { data, error } = useQuery({
    queryKey: ["estimate", view.shot.id, view.revision, options],
    queryFn: async ({ signal }) => {
      await engine.document.idle();
      return ask(client.POST("/api/shots/{shot_id}/exports/estimate", { params: { path: { shot_id: view.shot.id } }, body: { revision: engine.view.revision, name: "", options }, signal }));
    },
  });
  return <Estimate data={data} error={error} />;
}
