import { useQuery, useQueryClient } from "@tanstack/react-query";
import { Dialog } from "radix-ui";
import { useState } from "react";
import { useNavigate, useParams } from "react-router";

import { ask, client } from "../../api/client";
import { Button, Segments } from "../../ui/basics";
import { useChoice, useDocument, useEngine, useTime, useView } from "../../panels/engine";
import { Estimate } from "../../panels/Estimate";
import { useSay } from "../../ui/notices";
import { duration } from "../../ui/words";

export type Quality = "fine" | "good" | "small";
type Kind = "video" | "matte" | "matte pictures" | "alpha" | "alpha pictures";

const KINDS: { value: Kind; name: string; tells: string }[] = [
  { value: "video", name: "The finished shot", tells: "H.264 in MP4, tagged BT.709." },
  { value: "matte", name: "The matte as video", tells: "White on black, H.264 in MP4, no sound." },
  { value: "matte pictures", name: "The matte as pictures", tells: "Grey PNG pictures in a ZIP file." },
  { value: "alpha", name: "The shot with the matte as alpha", tells: "ProRes 4444 in MOV, straight alpha, no sound." },
  { value: "alpha pictures", name: "Pictures with the matte as alpha", tells: "PNG pictures with straight alpha in a ZIP file." },
];

export const QUALITIES: { value: Quality; name: string; tells: string }[] = [
  { value: "fine", name: "Fine", tells: "To go on working with: no loss that can be seen, a large file." },
  { value: "good", name: "Good", tells: "To hand on: loss is hard to see." },
  { value: "small", name: "Small", tells: "To look at and send: fine grain and noise are smoothed." },
];

/** What to export, and as what. */
export function ExportDialog({ open, onClose }: { open: boolean; onClose: () => void }) {
  const view = useView();
  return (
    <Dialog.Root open={open} onOpenChange={(next) => !next && onClose()}>
      <Dialog.Portal>
        <Dialog.Overlay className="fixed inset-0 z-40 bg-black/60" />
        <Dialog.Content aria-describedby={undefined} className="fixed top-[16%] left-1/2 z-50 w-[480px] max-w-[96%] -translate-x-1/2 border border-strong bg-panel p-5">
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
  const [quality, setQuality] = useState<Quality>("good");
  const [sound, setSound] = useState(true);
  const count = document.last - document.first + 1;
  const { facts } = view.footage;
  const [kind, setKind] = useState<Kind>("video");
  const selections = document.look.selections ?? [];
  const chosen = useChoice((s) => s.selectionId);
  const [selection, setSelection] = useState(chosen ?? selections[0]?.id ?? null);
  const needsMatte = kind !== "video";
  const compressed = kind === "video" || kind === "matte";

  const start = async () => {
    try {
      engine.around.settle();
      await engine.document.idle();
      await ask(client.POST("/api/shots/{shot_id}/exports", { params: { path: { shot_id: view.shot.id } }, body: { revision: engine.view.revision, name: name.trim(), options: { kind, selection: needsMatte ? selection : null, quality, sound } } }));
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
      <Dialog.Title className="text-[18px] font-bold">Export this shot</Dialog.Title>
      <p className="mt-1 text-quiet">
        {count} frames, {duration(count / engine.timeline.rate)}, {facts.width} × {facts.height} at {Number(engine.timeline.rate.toFixed(3))} fps. {KINDS.find((k) => k.value === kind)!.tells}
      </p>
      <div className="mt-4 grid grid-cols-[70px_1fr] items-center gap-y-3">
        <label htmlFor="export-name">Name</label>
        <input id="export-name" value={name} maxLength={120} onChange={(e) => setName(e.currentTarget.value)} className="h-[28px] border border-strong bg-ground px-2" />
        <label htmlFor="export-kind">What</label>
        <select id="export-kind" value={kind} onChange={(e) => setKind(e.currentTarget.value as Kind)} className="h-[28px] border border-strong bg-ground px-1">
          {KINDS.map((k) => (
            <option key={k.value} value={k.value} disabled={k.value !== "video" && !selections.length}>
              {k.name}
            </option>
          ))}
        </select>
        {needsMatte && (
          <>
            <label htmlFor="export-selection">Selection</label>
            <select id="export-selection" value={selection ?? ""} onChange={(e) => setSelection(e.currentTarget.value)} className="h-[28px] border border-strong bg-ground px-1">
              {selections.map((s) => (
                <option key={s.id} value={s.id}>
                  {s.name}
                </option>
              ))}
            </select>
          </>
        )}
        <span>Quality</span>
        <div>
          <Segments boxed label="Quality" value={quality} onChange={setQuality} options={QUALITIES.map(({ value, name, tells }) => ({ value, name, tip: tells, disabled: !compressed }))} />
          <p className="mt-1 text-[12px] text-quiet">{compressed ? QUALITIES.find((q) => q.value === quality)!.tells : "Of these files every pixel is kept."}</p>
        </div>
        <span>Sound</span>
        <label className="flex items-center gap-2">
          <input type="checkbox" className="accent-[var(--inverse)]" checked={sound && !!facts.sound} disabled={!facts.sound} onChange={(e) => setSound(e.currentTarget.checked)} />
          {facts.sound ? "keep it" : "this footage has none"}
        </label>
      </div>
      <About options={{ kind, selection: needsMatte ? selection : null, quality, sound }} />
      <div className="mt-4 flex items-center gap-2">
        <a className="inline-flex h-[26px] items-center border border-strong px-2.5 font-medium hover:border-ink" href={`/api/shots/${view.shot.id}/frames/${view.revision}/${frame}.png`} download onClick={onClose}>
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

/** About how large the file will be and how long it will take: the server measures some frames of it. */
function About({ options }: { options: { kind: Kind; selection: string | null; quality: Quality; sound: boolean } }) {
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
