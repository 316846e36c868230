import { useQueryClient } from "@tanstack/react-query";
import { Link, useParams } from "react-router";

import { ask, client } from "../api/client";
import { useExports } from "../api/queries";
import type { ExportView } from "../api/types";
import { Button, ProgressBar } from "../ui/basics";
import { bytes, duration } from "../ui/words";
import { useSay } from "../ui/notices";

/** Jobs and the files they made. */
export function Exports() {
  const { projectId } = useParams();
  const { data, isPending } = useExports(projectId);
  return (
    <main className="h-full overflow-auto p-6">
      <h1 className="mb-4 text-[20px] font-bold">Exports</h1>
      {isPending && <p className="text-quiet">Opening…</p>}
      {data?.length === 0 && (
        <div className="border border-dashed border-strong p-10 text-center">
          <p className="text-[16px] font-bold">Nothing exported yet.</p>
          <p className="mt-1 text-quiet">
            Open a shot on the Bench and press Export; the file appears here. <Link className="underline" to={`/projects/${projectId}/footage`}>Go to the footage</Link>
          </p>
        </div>
      )}
      <ul className="space-y-2" aria-label="Exports">
        {data?.map((item) => <Row key={item.id} item={item} />)}
      </ul>
    </main>
  );
}

const WORDS: Record<ExportView["state"], string> = {
  waiting: "Waiting for the one before it",
  running: "Rendering",
  done: "Ready",
  failed: "Failed",
  cancelled: "Cancelled",
  "cut off": "Cut off",
};

const KINDS: Record<string, string> = { matte: "matte, H.264", "matte pictures": "matte, PNG pictures", alpha: "ProRes 4444 with alpha", "alpha pictures": "PNG pictures with alpha" };

function Row({ item }: { item: ExportView }) {
  const queryClient = useQueryClient();
  const say = useSay();
  const act = (call: Promise<unknown>) =>
    void call.then(
      () => queryClient.invalidateQueries({ queryKey: ["exports"] }),
      (error: Error) => say(error.message, { bad: true }),
    );
  const params = { params: { path: { export_id: item.id } } };
  const working = item.state === "running" || item.state === "waiting";
  const ended = item.state === "failed" || item.state === "cancelled" || item.state === "cut off";
  const left = item.state === "running" ? (item.seconds_left != null ? `${duration(item.seconds_left)} left` : "starting…") : "";
  return (
    <li className="flex items-center gap-4 border border-line bg-panel px-4 py-3" aria-label={item.name}>
      <div className="w-[240px] shrink-0">
        <p className="truncate text-[15px] font-bold" title={item.name}>
          {item.name}
          {item.suffix}
        </p>
        <p className="truncate text-quiet">
          {item.shot_name} · {new Date(item.created).toLocaleString()}
        </p>
      </div>
      <div className="min-w-0 flex-1">
        <p className="mb-1 flex gap-2">
          <b>{WORDS[item.state]}</b>
          <span className="text-quiet">
            {working ? `${item.done} of ${item.total} frames` : item.state === "done" ? `${item.total} frames, ${KINDS[String(item.options.kind)] ?? "H.264"}${item.bytes ? `, ${bytes(item.bytes)}` : ""}` : item.message}
          </span>
          <span className="ml-auto text-quiet">{left}</span>
        </p>
        {working && <ProgressBar value={item.total ? item.done / item.total : 0} label={`Export of ${item.name}`} />}
      </div>
      <div className="flex shrink-0 gap-2">
        {item.state === "done" && (
          <a className="inline-flex h-[26px] items-center bg-inverse px-2.5 font-medium text-inverse-ink" href={`/api/exports/${item.id}/file`} download>
            Download
          </a>
        )}
        {working && <Button onClick={() => act(ask(client.POST("/api/exports/{export_id}/cancel", params)))}>Cancel</Button>}
        {ended && <Button onClick={() => act(ask(client.POST("/api/exports/{export_id}/restart", params)))}>Start again</Button>}
        {!working && <Button onClick={() => act(ask(client.DELETE("/api/exports/{export_id}", params)))}>Delete</Button>}
      </div>
    </li>
  );
}
