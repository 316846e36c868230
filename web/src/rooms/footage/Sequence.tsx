import { useQueryClient } from "@tanstack/react-query";
import { Dialog } from "radix-ui";
import { useRef, useState } from "react";
import { useParams } from "react-router";

import { useApp } from "../../panels/app";
import { ask, client } from "../../api/client";
import { lines } from "../../api/lines";
import { Button, ProgressBar, Segments } from "../../ui/basics";
import { useSay } from "../../ui/notices";
import type { Run } from "./dropped";

type Alpha = "guess" | "straight" | "multiplied";
type Told = { kind: "progress"; done: number; total: number } | { kind: "done"; name: string; already: boolean } | { kind: "failed"; message: string } | { kind: "damaged"; damage: string[] };
const RATE = "wenditas-sequence-rate";

/** Numbered pictures become footage: their rate is asked once, and what they are missing is said. */
export function Sequence({ run, onDone }: { run: Run; onDone: () => void }) {
  const { projectId } = useParams();
  const queries = useQueryClient();
  const say = useSay();
  const { kept } = useApp();
  const [rate, setRate] = useState(() => kept.getItem(RATE) ?? "24");
  const [alpha, setAlpha] = useState<Alpha>("guess");
  const [at, setAt] = useState<{ words: string; share: number } | null>(null);
  const [damage, setDamage] = useState<string[]>([]);
  const [wrong, setWrong] = useState("");
  const stop = useRef<AbortController | null>(null);
  const sent = useRef<string | null>(null);

  const send = async (signal: AbortSignal): Promise<string> => {
    if (sent.current) return sent.current;
    const { id } = await ask(client.POST("/api/projects/{project_id}/sequences", { params: { path: { project_id: projectId! } } }));
    for (const [n, file] of run.files.entries()) {
      setAt({ words: `Sending ${n + 1} of ${run.files.length}`, share: n / run.files.length });
      const answer = await fetch(`/api/sequences/${id}/pictures?name=${encodeURIComponent(file.name)}`, { method: "PUT", body: file, signal });
      if (!answer.ok) throw new Error(((await answer.json()) as { message?: string }).message ?? `The server answered ${answer.status}.`);
    }
    return (sent.current = id);
  };
  const start = async (take: boolean) => {
    stop.current = new AbortController();
    setWrong("");
    setAt({ words: "Beginning", share: 0 });
    try {
      const how = { rate: rate.trim(), alpha, take };
      const [url, body] = run.place
        ? [`/api/projects/${projectId}/sequences/from-place`, { ...how, ...run.place }]
        : [`/api/projects/${projectId}/sequences/${await send(stop.current.signal)}`, how];
      const answer = await fetch(url, { method: "POST", body: JSON.stringify(body), headers: { "content-type": "application/json" }, signal: stop.current.signal });
      for await (const told of lines<Told>(Promise.resolve(answer))) {
        if (told.kind === "progress") setAt({ words: `Reading ${told.done} of ${told.total}`, share: told.done / told.total });
        if (told.kind === "failed") throw new Error(told.message);
        if (told.kind === "damaged") setDamage(told.damage);
        if (told.kind === "done") {
          kept.setItem(RATE, rate.trim());
          await queries.invalidateQueries({ queryKey: ["project"] });
          say(told.already ? `“${told.name}” is here already.` : `“${told.name}” is taken in: ${run.names.length} pictures.`);
          onDone();
        }
      }
    } catch (error) {
      if (!stop.current.signal.aborted) setWrong((error as Error).message);
    }
    setAt(null);
  };
  const leave = () => {
    stop.current?.abort();
    if (sent.current) void client.DELETE("/api/projects/{project_id}/sequences/{sequence}", { params: { path: { project_id: projectId!, sequence: sent.current } } });
    onDone();
  };
  return (
    <Dialog.Root open onOpenChange={(open) => !open && leave()}>
      <Dialog.Portal>
        <Dialog.Overlay className="fixed inset-0 z-40 bg-black/60" />
        <Dialog.Content aria-describedby={undefined} className="fixed top-[20%] left-1/2 z-50 w-[480px] max-w-[96%] -translate-x-1/2 border border-strong bg-panel p-5">
          <form
            onSubmit={(e) => {
              e.preventDefault();
              void start(damage.length > 0);
            }}
          >
            <Dialog.Title className="text-[18px] font-bold">Numbered pictures as footage</Dialog.Title>
            <p className="mt-1 text-quiet">
              {run.names.length} pictures, {run.place ? `the first is ${run.names[0]}` : `${run.names[0]} to ${run.names.at(-1)}`}.
            </p>
            <div className="mt-4 grid grid-cols-[70px_1fr] items-center gap-y-3">
              <label htmlFor="sequence-rate">Rate</label>
              <span className="flex items-center gap-2">
                <input id="sequence-rate" value={rate} disabled={!!at} onChange={(e) => setRate(e.currentTarget.value)} className="h-[28px] w-[110px] border border-strong bg-ground px-2 tabular-nums" />
                <span className="text-quiet">frames a second, as 24 or 24000/1001</span>
              </span>
              <span>Alpha</span>
              <Segments
                boxed
                label="Alpha"
                value={alpha}
                onChange={setAlpha}
                options={[
                  { value: "guess", name: "As the file says", tip: "Where it says nothing, it is guessed from the pictures, and told." },
                  { value: "straight", name: "Straight" },
                  { value: "multiplied", name: "Multiplied in" },
                ]}
              />
            </div>
            {damage.map((sentence) => (
              <p key={sentence} className="mt-3 flex gap-2 border border-strong px-2 py-1">
                <b>!</b>
                {sentence}
              </p>
            ))}
            {wrong && (
              <p role="alert" className="mt-3 bg-inverse px-2 py-1 text-inverse-ink">
                ! {wrong}
              </p>
            )}
            {at && (
              <div className="mt-4">
                <p className="mb-1 text-quiet">{at.words}</p>
                <ProgressBar value={at.share} label="Taking in the pictures" />
              </div>
            )}
            <div className="mt-4 flex justify-end gap-2">
              <Button onClick={leave}>Cancel</Button>
              <Button look="solid" type="submit" disabled={!!at}>
                {damage.length ? "Take what is there" : "Take in"}
              </Button>
            </div>
          </form>
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  );
}
