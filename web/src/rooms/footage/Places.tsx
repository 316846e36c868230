import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useVirtualizer } from "@tanstack/react-virtual";
import clsx from "clsx";
import { Dialog } from "radix-ui";
import { useRef, useState } from "react";
import { useParams } from "react-router";

import { ask, client } from "../../api/client";
import { Button, ProgressBar } from "../../ui/basics";
import { Choice } from "../../ui/choice";
import { useSay } from "../../ui/notices";
import { bytes } from "../../ui/words";
import type { Run } from "./dropped";

export const usePlaces = () => useQuery({ queryKey: ["places"], staleTime: Infinity, queryFn: () => ask(client.GET("/api/places")) }).data ?? [];

const join = (path: string, name: string) => (path ? `${path}/${name}` : name);

/** Folders that were named when Wenditas was started: files in them are used where they lie, and not copied. */
export function Places({ open, onClose, onSequence }: { open: boolean; onClose: () => void; onSequence: (run: Run) => void }) {
  return (
    <Dialog.Root open={open} onOpenChange={(next) => !next && onClose()}>
      <Dialog.Portal>
        <Dialog.Overlay className="fixed inset-0 z-40 bg-black/60" />
        <Dialog.Content aria-describedby={undefined} className="fixed top-[8%] left-1/2 z-50 flex h-[78%] w-[680px] max-w-[96%] -translate-x-1/2 flex-col border border-strong bg-panel p-5">
          <Browser onClose={onClose} onSequence={onSequence} />
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  );
}

function Browser({ onClose, onSequence }: { onClose: () => void; onSequence: (run: Run) => void }) {
  const { projectId } = useParams();
  const queries = useQueryClient();
  const say = useSay();
  const places = usePlaces();
  const [place, setPlace] = useState(places[0]?.id ?? "");
  const [path, setPath] = useState("");
  const [words, setWords] = useState("");
  const [chosen, setChosen] = useState<ReadonlySet<string>>(new Set());
  const [at, setAt] = useState<{ done: number; total: number; name: string } | null>(null);
  const [refused, setRefused] = useState<{ name: string; path: string; message: string; damaged: boolean }[]>([]);
  const box = useRef<HTMLDivElement>(null);
  const stopped = useRef(false);
  const { data, error } = useQuery({ queryKey: ["place", place, path], enabled: !!place, queryFn: () => ask(client.GET("/api/places/{place}", { params: { path: { place }, query: { path } } })) });
  const sought = words.toLowerCase();
  const entries = (data?.entries ?? []).filter((e) => e.name.toLowerCase().includes(sought));
  const rows = useVirtualizer({ count: entries.length, getScrollElement: () => box.current, estimateSize: () => 28, overscan: 6 });
  const go = (next: string) => {
    setPath(next);
    setWords("");
    setChosen(new Set());
  };
  const take = async (names: string[], whatIsThere = false) => {
    let [taken, known] = [0, 0];
    stopped.current = false;
    for (const [n, name] of names.entries()) {
      if (stopped.current) break;
      setAt({ done: n, total: names.length, name });
      const there = join(path, name);
      try {
        const made = await ask(client.POST("/api/projects/{project_id}/footage/from-place", { params: { path: { project_id: projectId! } }, body: { place, path: there, take: whatIsThere } }));
        if (made.already) known++;
        else taken++;
        setRefused((now) => now.filter((r) => r.path !== there));
      } catch (failed) {
        const kind = (failed as { kind?: string }).kind;
        setRefused((now) => [...now.filter((r) => r.path !== there), { name, path: there, message: (failed as Error).message, damaged: kind === "FootageDamaged" }]);
      }
    }
    setAt(null);
    setChosen(new Set());
    if (taken) say(taken === 1 ? "One file is taken in." : `${taken} files are taken in.`);
    if (known) say(known === 1 ? "One file is here already." : `${known} files are here already.`);
    await queries.invalidateQueries({ queryKey: ["project"] });
  };
  const takeChosen = () => {
    const picked = entries.filter((e) => chosen.has(e.name));
    for (const e of picked.filter((p) => p.kind === "sequence")) onSequence({ names: Array.from({ length: e.count }, (_, n) => (n ? `${n + 1}` : e.name)), files: [], place: { place, path: join(path, e.name) } });
    if (picked.some((p) => p.kind === "sequence")) onClose();
    void take(picked.filter((p) => p.kind === "file").map((p) => p.name));
  };
  const files = entries.filter((e) => e.kind !== "folder");
  const all = files.length > 0 && files.every((e) => chosen.has(e.name));
  const toggle = (name: string) => setChosen((now) => new Set(now.has(name) ? [...now].filter((n) => n !== name) : [...now, name]));
  const parts = path ? path.split("/") : [];
  return (
    <>
      <Dialog.Title className="text-[18px] font-bold">From a media folder</Dialog.Title>
      <p className="mt-1 text-quiet">Videos and stills are used where they lie, and nothing there is changed. Numbered pictures and sound alone become one file of their own each.</p>
      <div className="mt-3 flex items-center gap-2">
        {places.length > 1 && (
          <Choice
            aria-label="Media folder"
            value={place}
            onChange={(e) => {
              setPlace(e.currentTarget.value);
              go("");
            }}
          >
            {places.map((p) => (
              <option key={p.id} value={p.id}>
                {p.name}
              </option>
            ))}
          </Choice>
        )}
        <nav aria-label="Where" className="flex min-w-0 flex-1 items-center gap-1 truncate">
          <button type="button" className="font-semibold underline" onClick={() => go("")}>
            {places.find((p) => p.id === place)?.name}
          </button>
          {parts.map((part, n) => (
            <span key={parts.slice(0, n + 1).join("/")}>
              {" / "}
              <button type="button" className="underline" onClick={() => go(parts.slice(0, n + 1).join("/"))}>
                {part}
              </button>
            </span>
          ))}
        </nav>
        <input type="search" aria-label="Filter this folder" placeholder="Filter" value={words} onChange={(e) => setWords(e.currentTarget.value)} className="h-[26px] w-[160px] border border-strong bg-transparent px-2" />
      </div>
      <div ref={box} className="mt-2 min-h-0 flex-1 overflow-auto border border-line">
        {error && <p className="p-3">{error.message}</p>}
        {data && !entries.length && <p className="p-3 text-quiet">{words ? "Nothing here has that name." : "There is no footage in this folder."}</p>}
        <ul aria-label="In this folder" className="relative" style={{ height: rows.getTotalSize() }}>
          {rows.getVirtualItems().map((row) => {
            const entry = entries[row.index]!;
            return (
              <li key={entry.name} className="absolute w-full" style={{ transform: `translateY(${row.start}px)`, height: row.size }}>
                {entry.kind === "folder" ? (
                  <button type="button" className="flex h-full w-full items-center gap-3 px-3 text-left hover:bg-raised" onClick={() => go(join(path, entry.name))}>
                    <b>{entry.name}/</b>
                  </button>
                ) : (
                  <label className={clsx("flex h-full items-center gap-3 px-3", chosen.has(entry.name) && "bg-raised")}>
                    <input type="checkbox" className="accent-[var(--inverse)]" checked={chosen.has(entry.name)} onChange={() => toggle(entry.name)} />
                    <span className="min-w-0 flex-1 truncate">{entry.name}</span>
                    {entry.kind === "sequence" && <span className="shrink-0 text-quiet">{entry.count} numbered pictures</span>}
                    <span className="w-[70px] shrink-0 text-right text-quiet tabular-nums">{bytes(entry.bytes)}</span>
                  </label>
                )}
              </li>
            );
          })}
        </ul>
      </div>
      {data && data.total > data.entries.length && <p className="mt-1 text-quiet">Of {data.total} the first {data.entries.length} are listed.</p>}
      {refused.map((r) => (
        <p key={r.path} role="alert" className="mt-2 flex items-center gap-3 bg-inverse px-2 py-1 text-inverse-ink">
          <b>! {r.name}</b>
          <span className="min-w-0 flex-1">{r.message}</span>
          {r.damaged && (
            <Button className="border-inverse-ink text-inverse-ink" onClick={() => void take([r.name], true)}>
              Take what is there
            </Button>
          )}
        </p>
      ))}
      {at && (
        <div className="mt-2">
          <p className="mb-1 text-quiet">
            Reading {at.name}, {at.done + 1} of {at.total}
          </p>
          <ProgressBar value={at.done / at.total} label="Taking in files" />
        </div>
      )}
      <div className="mt-4 flex gap-2">
        <Button className="mr-auto disabled:opacity-40" disabled={!files.length} onClick={() => setChosen(all ? new Set() : new Set(files.map((e) => e.name)))}>
          {all ? "Choose none" : words ? "Choose all found" : "Choose all"}
        </Button>
        {at && <Button onClick={() => (stopped.current = true)}>Stop after this one</Button>}
        <Button onClick={onClose}>Close</Button>
        <Button look="solid" disabled={!chosen.size || !!at} className="disabled:opacity-40" onClick={takeChosen}>
          {chosen.size ? `Take in ${chosen.size}` : "Take in"}
        </Button>
      </div>
    </>
  );
}
