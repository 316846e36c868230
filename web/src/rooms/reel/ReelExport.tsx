import { useQuery, useQueryClient } from "@tanstack/react-query";
import { Dialog } from "radix-ui";
import { useState } from "react";
import { useNavigate, useParams } from "react-router";

import { ask, client } from "../../api/client";
import { Estimate } from "../../panels/Estimate";
import type { ExportOptions } from "../../api/types";
import { ExportWhat, PLAIN } from "../../panels/ExportWhat";
import { NameFields } from "../../panels/NameFields";
import { Button, Segments } from "../../ui/basics";
import { duration } from "../../ui/words";
import { useReel, useReelLayout } from "./context";

/** The reel as one file, all of it or in to out; or one frame of it. */
export function ReelExport({ open, onClose }: { open: boolean; onClose: () => void }) {
  return (
    <Dialog.Root open={open} onOpenChange={(next) => !next && onClose()}>
      <Dialog.Portal>
        <Dialog.Overlay className="fixed inset-0 z-40 bg-black/60" />
        <Dialog.Content aria-describedby={undefined} className="fixed top-[12%] left-1/2 z-50 w-[520px] max-w-[96%] -translate-x-1/2 border border-strong bg-panel p-5">
          <Form onClose={onClose} />
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  );
}

function Form({ onClose }: { onClose: () => void }) {
  const reel = useReel();
  const layout = useReelLayout();
  const queryClient = useQueryClient();
  const { projectId } = useParams();
  const navigate = useNavigate();
  const [name, setName] = useState("Reel");
  const marks = reel.now.marks && reel.ends;
  const [only, setOnly] = useState(marks !== null);
  const [plain, setOptions] = useState<ExportOptions>(PLAIN);
  const options: ExportOptions = { ...plain, stretch: only && marks ? [marks.first, marks.last] : null };
  const frames = only && marks ? marks.last - marks.first + 1 : layout.length;
  const { frame } = reel.timeline;
  const { revision, reel_id } = reel.view;
  const { data: named } = useQuery({ queryKey: ["reel-selections", reel_id, revision], queryFn: () => ask(client.GET("/api/reels/{reel_id}/selections/{revision}", { params: { path: { reel_id, revision } } })) });
  const path = { params: { path: { reel_id: reel.view.reel_id } } };
  const { data, error } = useQuery({
    queryKey: ["estimate", reel.view.reel_id, reel.view.revision, options],
    queryFn: async ({ signal }) => {
      await reel.document.idle();
      return ask(client.POST("/api/reels/{reel_id}/exports/estimate", { ...path, body: { revision: reel.view.revision, name: "", options }, signal }));
    },
  });
  const start = async () => {
    try {
      reel.around.settle();
      await reel.document.idle();
      await ask(client.POST("/api/reels/{reel_id}/exports", { ...path, body: { revision: reel.view.revision, name: name.trim(), options } }));
      await queryClient.invalidateQueries({ queryKey: ["exports"] });
      onClose();
      reel.around.say("The export has begun.", { action: { name: "See exports", run: () => void navigate(`/projects/${projectId}/exports`) } });
    } catch (failed) {
      reel.around.say(failed instanceof Error ? failed.message : "The export did not begin.", { bad: true });
    }
  };
  return (
    <form
      onSubmit={(e) => {
        e.preventDefault();
        void start();
      }}
    >
      <Dialog.Title className="text-[18px] font-bold">Export the reel</Dialog.Title>
      <p className="mt-1 text-quiet">
        {frames} frames, {duration(frames / layout.rate)}, {layout.width} × {layout.height} at {Number(layout.rate.toFixed(3))} fps.{options.shows === "result" ? "" : " The matte is made of the selections of this name, shot by shot; where a shot has none it is black."}
      </p>
      <div className="mt-4 grid grid-cols-[70px_1fr] items-center gap-y-3">
        <label htmlFor="reel-export-name">Name</label>
        <div>
          <input id="reel-export-name" value={name} maxLength={120} onChange={(e) => setName(e.currentTarget.value)} className="h-[28px] w-full border border-strong bg-ground px-2" />
          <NameFields pattern={name} onChange={setName} />
        </div>
        {marks && (
          <>
            <span>Which</span>
            <Segments
              boxed
              label="Which frames"
              value={only ? "marks" : "all"}
              onChange={(value) => setOnly(value === "marks")}
              options={[
                { value: "marks", name: `In to out, ${marks.last - marks.first + 1} frames`, tip: "What lies between the in and the out" },
                { value: "all", name: "All of the reel", tip: "From the first frame to the last" },
              ]}
            />
          </>
        )}
        <ExportWhat options={options} onChange={setOptions} selections={(named ?? []).map((one) => ({ id: one, name: one }))} silent={reel.heard ? "" : "nothing is heard of this reel"} size={layout} />
      </div>
      <Estimate data={data} error={error} />
      <div className="mt-4 flex items-center gap-2">
        <a className="inline-flex h-[26px] items-center border border-strong px-2.5 font-medium hover:border-ink" title={`Frame ${frame} of the reel, at full size`} href={`/api/reels/${reel_id}/frames/${revision}/${frame}.png`} download onClick={onClose}>
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
