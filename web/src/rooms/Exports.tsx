import { HelpButton } from "../panels/HelpButton";
import { useQuery } from "@tanstack/react-query";
import type { ReactNode } from "react";
import { Link, useParams } from "react-router";
import { useStore } from "zustand";

import { exporting, type ExportDoor } from "../api/exports";
import { useExports } from "../api/queries";
import type { ExportView } from "../api/types";
import { useApp } from "../panels/app";
import { useDo } from "../panels/doing";
import { Button, ProgressBar, Segments } from "../ui/basics";
import { Sortable, SortableItem } from "../ui/sortable";
import { bytes, duration } from "../ui/words";
import { useSay } from "../ui/notices";

const AT_WORK = ["waiting", "running", "paused"];
const SHOWS: Record<string, string> = { matte: "matte, ", alpha: "with alpha, " };

/** The queue, in the order in which it is taken, and below it the files that were made. */
export function Exports() {
  const { projectId } = useParams();
  const { data, isPending } = useExports(projectId);
  const going = (data ?? []).filter((e) => AT_WORK.includes(e.state)).sort((a, b) => a.place - b.place);
  const ended = (data ?? []).filter((e) => !AT_WORK.includes(e.state));
  return (
    <main className="h-full overflow-auto p-6">
      <div className="mb-4 flex items-baseline gap-4">
        <span className="flex items-baseline gap-0.5">
          <h1 className="text-[20px] font-bold">Exports</h1>
          <HelpButton of="Exports" page="exports" />
        </span>
        <Together going={going} />
      </div>
      {isPending && <p className="text-quiet">Opening…</p>}
      {data?.length === 0 && (
        <div className="border border-dashed border-strong p-10 text-center">
          <p className="text-[16px] font-bold">Nothing exported yet.</p>
          <p className="mt-1 text-quiet">
            Open a shot on the Bench and press Export; the file appears here. <Link className="underline" to={`/projects/${projectId}/footage`}>Go to the footage</Link>
          </p>
        </div>
      )}
      {going.length > 0 && <Queue going={going} />}
      <ul className="space-y-2" aria-label="Exports">
        {ended.map((item) => (
          <Ended key={item.id} item={item} />
        ))}
      </ul>
    </main>
  );
}

/** What holds for the queue as a whole: how many at once, all paused, and how it makes itself known. */
function Together({ going }: { going: ExportView[] }) {
  const carryOut = useDo();
  const { told } = useApp();
  const bell = useStore(told, (s) => s.sound);
  const { data } = useQuery({ queryKey: ["export-queue"], queryFn: exporting.queue });
  const once = (count: string) => void carryOut(exporting.atOnce(Number(count)), "export-queue");
  const paused = going.filter((e) => e.state === "paused");
  const all = (list: ExportView[], door: ExportDoor) => void carryOut(Promise.all(list.map((e) => exporting.act(e.id, door))), "exports");
  return (
    <div className="ml-auto flex items-center gap-3">
      <label className="flex items-center gap-2">
        <input type="checkbox" className="accent-[var(--inverse)]" checked={bell} onChange={(e) => told.getState().setSound(e.currentTarget.checked)} />
        a sound when one is done
      </label>
      <span className="text-quiet">At once</span>
      <Segments boxed label="At once" value={String(data?.at_once ?? 1)} onChange={once} options={["1", "2", "3", "4"].map((n) => ({ value: n, name: n }))} />
      {going.length > paused.length && <Button onClick={() => all(going.filter((e) => e.state !== "paused"), "pause")}>Pause all</Button>}
      {paused.length > 0 && <Button onClick={() => all(paused, "go-on")}>Go on with all</Button>}
    </div>
  );
}

/** What waits and what is at work: dragged, or moved by its arrows, into another order. */
function Queue({ going }: { going: ExportView[] }) {
  const carryOut = useDo();
  const put = (id: string, before: string | null) => id !== before && void carryOut(exporting.place(id, before), "exports");
  const at = (n: number) => going[n]?.id ?? null;
  return (
    <Sortable items={going} onMove={put}>
    <ul className="mb-6 border-b border-line pb-4" aria-label="Queue">
      {going.map((item, n) => (
        <SortableItem key={item.id} id={item.id} label={item.name} className="mb-2 flex cursor-grab items-center gap-4 border border-line bg-panel px-3 py-2">
          <Shown item={item} />
          <At item={item} />
          <div className="flex shrink-0 gap-2">
            {going.length > 1 && (
              <>
                <Button aria-label={`${item.name} earlier`} title="Earlier" disabled={n === 0} className="disabled:opacity-40" onClick={() => put(item.id, at(n - 1))}>
                  ↑
                </Button>
                <Button aria-label={`${item.name} later`} title="Later" disabled={n === going.length - 1} className="disabled:opacity-40" onClick={() => put(item.id, at(n + 2))}>
                  ↓
                </Button>
              </>
            )}
            <Door item={item} door={item.state === "paused" ? "go-on" : "pause"}>
              {item.state === "paused" ? "Go on" : "Pause"}
            </Door>
            <Door item={item} door="cancel">
              Cancel
            </Door>
          </div>
        </SortableItem>
      ))}
    </ul>
    </Sortable>
  );
}

function Door({ item, door, children }: { item: ExportView; door: ExportDoor; children: ReactNode }) {
  const carryOut = useDo();
  return <Button onClick={() => void carryOut(exporting.act(item.id, door), "exports")}>{children}</Button>;
}

/** The time where it is today, else the day. */
function when(stamp: string): string {
  const at = new Date(stamp);
  return at.toDateString() === new Date().toDateString() ? at.toLocaleTimeString([], { hour: "2-digit", minute: "2-digit" }) : at.toLocaleDateString();
}

/** Its picture, its name, what it was made of and when. */
function Shown({ item }: { item: ExportView }) {
  return (
    <>
      <img src={`/api/exports/${item.id}/picture.jpg`} alt="" draggable={false} className="h-[45px] w-[80px] shrink-0 bg-surround object-contain" />
      <div className="w-[210px] shrink-0">
        <p className="truncate text-[15px] font-bold" title={item.name}>
          {item.name}
          {item.suffix}
        </p>
        <p className="truncate text-quiet">
          {item.shot_name} · {item.format_name} · {when(item.created)}
        </p>
      </div>
    </>
  );
}

function At({ item }: { item: ExportView }) {
  const words = { waiting: item.message || "Waiting for its turn", running: "Rendering", paused: "Paused; what is done is kept" }[item.state as string];
  const left = item.state === "running" ? (item.seconds_left != null ? `${duration(item.seconds_left)} left` : "starting…") : "";
  return (
    <div className="min-w-0 flex-1">
      <p className="mb-1 flex gap-2">
        <b className="truncate">{words}</b>
        <span className="shrink-0 text-quiet">
          {item.done} of {item.total} frames
        </span>
        <span className="ml-auto shrink-0 text-quiet">{left}</span>
      </p>
      <ProgressBar value={item.total ? item.done / item.total : 0} label={`Export of ${item.name}`} />
    </div>
  );
}

const WORDS: Partial<Record<ExportView["state"], string>> = { done: "Ready", failed: "Failed", cancelled: "Cancelled", "cut off": "Cut off" };

function Ended({ item }: { item: ExportView }) {
  const carryOut = useDo();
  const say = useSay();
  const copy = (text: string, what: string) => void navigator.clipboard.writeText(text).then(() => say(`${what} is copied.`));
  return (
    <li className="flex items-center gap-4 border border-line bg-panel px-3 py-2" aria-label={item.name}>
      <Shown item={item} />
      <div className="min-w-0 flex-1">
        <p className="flex gap-2">
          <b>{WORDS[item.state]}</b>
          <span className="text-quiet">{item.state === "done" ? `${SHOWS[item.shows] ?? ""}${item.format_name}${item.bytes ? `, ${bytes(item.bytes)}` : ""}. ${item.message}` : item.message}</span>
        </p>
        {item.path && (
          <p className="mt-0.5 flex gap-3 text-[12px] text-quiet">
            <button type="button" className="min-w-0 truncate text-left hover:text-ink" title={`${item.path}\nClick to copy`} onClick={() => copy(item.path!, "The path")}>
              {item.path}
            </button>
            {item.digest && (
              <button type="button" className="as-button shrink-0 tabular-nums hover:text-ink" title={`SHA-256 ${item.digest}\nClick to copy`} onClick={() => copy(item.digest, "The digest")}>
                sha256 {item.digest.slice(0, 10)}…
              </button>
            )}
          </p>
        )}
      </div>
      <div className="flex shrink-0 gap-2">
        {item.state === "done" && !item.folder && (
          <a className="inline-flex h-[26px] items-center bg-inverse px-2.5 font-medium text-inverse-ink" href={`/api/exports/${item.id}/file`} download>
            Download
          </a>
        )}
        {item.state !== "done" && (
          <Door item={item} door="restart">
            Start again
          </Door>
        )}
        <Button onClick={() => void carryOut(exporting.remove(item.id), "exports")}>Delete</Button>
      </div>
    </li>
  );
}
