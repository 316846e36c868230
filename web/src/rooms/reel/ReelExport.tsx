import { useQuery } from "@tanstack/react-query";
import { useState } from "react";

import { ask, client } from "../../api/client";
import type { ExportOptions } from "../../api/types";
import { ExportForm, type Exporting } from "../../panels/ExportDialog";
import { Segments } from "../../ui/basics";
import { duration } from "../../ui/words";
import { useReel, useReelLayout } from "./context";

/** The reel as one file, all of it or in to out; or one frame of it. */
export function ReelExport({ onClose }: { onClose: () => void }) {
  const reel = useReel();
  const layout = useReelLayout();
  const marks = reel.now.marks && reel.ends;
  const [only, setOnly] = useState(marks !== null);
  const { frame } = reel.timeline;
  const { revision, reel_id } = reel.view;
  const { data: named } = useQuery({ queryKey: ["reel-selections", reel_id, revision], queryFn: () => ask(client.GET("/api/reels/{reel_id}/selections/{revision}", { params: { path: { reel_id, revision } } })) });
  const frames = only && marks ? marks.last - marks.first + 1 : layout.length;
  const path = { params: { path: { reel_id } } };
  const body = (name: string, options: ExportOptions) => ({ revision: reel.view.revision, name, options });
  const exporting: Exporting = {
    title: "Export the reel",
    name: "Reel",
    selections: (named ?? []).map((one) => ({ id: one, name: one })),
    silent: reel.heard ? "" : "nothing is heard of this reel",
    size: layout,
    options: (chosen) => ({ ...chosen, stretch: only && marks ? [marks.first, marks.last] : null }),
    estimate: {
      of: [reel_id, revision],
      ask: async (options, signal) => {
        await reel.document.idle();
        return ask(client.POST("/api/reels/{reel_id}/exports/estimate", { ...path, body: body("", options), signal }));
      },
    },
    frame: () => ({ href: `/api/reels/${reel_id}/frames/${revision}/${frame}.png`, title: `Frame ${frame} of the reel, at full size` }),
    start: async (name, options) => {
      reel.around.settle();
      await reel.document.idle();
      return ask(client.POST("/api/reels/{reel_id}/exports", { ...path, body: body(name, options) }));
    },
    begun: "The export has begun.",
  };
  const about = ({ shows }: ExportOptions) =>
    `${frames} frames, ${duration(frames / layout.rate)}, ${layout.width} × ${layout.height} at ${Number(layout.rate.toFixed(3))} fps.${shows === "result" ? "" : " The matte is made of the selections of this name, shot by shot; where a shot has none it is black."}`;
  const which = marks && (
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
  );
  return <ExportForm exporting={exporting} about={about} rows={which} onClose={onClose} />;
}
