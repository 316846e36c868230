import { HelpButton } from "../../panels/HelpButton";
import { useVirtualizer } from "@tanstack/react-virtual";
import clsx from "clsx";
import { useLayoutEffect, useMemo, useRef, useState, type DragEvent } from "react";
import { useParams } from "react-router";

import { projects } from "../../api/projects";
import { useProject } from "../../api/queries";
import type { Footage as Piece, ShotRow } from "../../api/types";
import { useApp } from "../../panels/app";
import { useDoing } from "../../panels/doing";
import { Button, Segments } from "../../ui/basics";
import { Choice } from "../../ui/choice";
import { Card } from "./Card";
import { dropped, runsOf, type Run } from "./dropped";
import { sorted, type Order } from "./facts";
import { List } from "./List";
import { openOnBench } from "./many";
import { Many } from "./Many";
import { Places, usePlaces } from "./Places";
import { Sequence } from "./Sequence";
import { Uploads } from "./Uploads";

const ACCEPT = ".mp4,.m4v,.mov,.mkv,.webm,.avi,.png,.jpg,.jpeg,.tif,.tiff,.webp,.exr,.dpx,.wav,.flac,.mp3,.m4a,.ogg,.opus,.aif,.aiff";
const ORDERS: Order[] = ["came in", "name", "length", "size", "unused first"];
const VIEW = "wenditas-footage-view";
const LEAST = 290; // pixels of a card across

/** Import, facts, and the shots made from each piece of footage. */
export function Footage() {
  const { uploads, kept } = useApp();
  const doing = useDoing();
  const [view, setView] = useState<"cards" | "list">(kept.getItem(VIEW) === "list" ? "list" : "cards");
  const [turned, setTurned] = useState(false);
  const { projectId } = useParams();
  const { data, isPending } = useProject(projectId);
  const places = usePlaces();
  const [over, setOver] = useState(false);
  const [browsing, setBrowsing] = useState(false);
  const [runs, setRuns] = useState<Run[]>([]);
  const [words, setWords] = useState("");
  const [order, setOrder] = useState<Order>("came in");
  const [chosen, setChosen] = useState<ReadonlySet<string>>(new Set());
  const input = useRef<HTMLInputElement>(null);
  const room = useRef<HTMLElement>(null);
  const bring = (files: File[]) => {
    const { apart, together } = runsOf(files);
    if (apart.length) uploads.add(projectId!, apart);
    setRuns((now) => [...now, ...together]);
  };
  const drop = (e: DragEvent) => {
    e.preventDefault();
    setOver(false);
    void dropped(e.dataTransfer).then(bring);
  };
  const shots = useMemo(() => {
    const found = new Map<string, ShotRow[]>();
    for (const shot of data?.shots ?? []) found.set(shot.footage_id, [...(found.get(shot.footage_id) ?? []), shot]);
    return found;
  }, [data]);
  const shown = useMemo(() => sorted(data?.footage ?? [], words, order, shots, turned), [data, words, order, shots, turned]);
  const open = (piece: Piece) => void openOnBench(piece, shots, doing);
  const picked = shown.filter((p) => chosen.has(p.id));
  const choose = (id: string, on: boolean) => setChosen((now) => new Set(on ? [...now, id] : [...now].filter((one) => one !== id)));
  return (
    <main
      ref={room}
      className={clsx("h-full overflow-auto p-6", over && "outline-2 -outline-offset-8 outline-ink outline-dashed")}
      onDragOver={(e) => {
        e.preventDefault();
        setOver(true);
      }}
      onDragLeave={(e) => !e.currentTarget.contains(e.relatedTarget as Node | null) && setOver(false)}
      onDrop={drop}
    >
      <div className="mb-4 flex items-baseline gap-4">
        <span className="flex items-baseline gap-0.5">
          <h1 className="text-[20px] font-bold">Footage</h1>
          <HelpButton of="Footage" page="footage" />
        </span>
        <p className="min-w-0 text-quiet">Drop files or a folder of numbered pictures anywhere here: MP4, MOV, MKV, WebM, AVI; PNG, JPEG, TIFF, WebP, EXR, DPX; WAV, FLAC, MP3, M4A, OGG.</p>
        <div className="ml-auto flex gap-2">
          {places.length > 0 && <Button onClick={() => setBrowsing(true)}>From a media folder</Button>}
          <Button look="solid" onClick={() => input.current?.click()}>
            Bring in files
          </Button>
          <input
            ref={input}
            type="file"
            multiple
            accept={ACCEPT}
            aria-label="Files to bring in"
            className="hidden"
            onChange={(e) => {
              if (e.currentTarget.files) bring([...e.currentTarget.files]);
              e.currentTarget.value = "";
            }}
          />
        </div>
      </div>
      <Uploads />
      {isPending && <p className="text-quiet">Opening…</p>}
      {data && data.footage.length === 0 && <Empty />}
      {data && data.footage.length > 0 && (
        <div className="mb-4 flex items-center gap-3">
          <input type="search" aria-label="Search the footage" placeholder="Search names, facts, shots" value={words} onChange={(e) => setWords(e.currentTarget.value)} className="h-[26px] w-[240px] border border-strong bg-transparent px-2" />
          <label className="flex items-center gap-2">
            <span className="text-quiet">Order</span>
            <Choice value={order} onChange={(e) => (setTurned(false), setOrder(e.currentTarget.value as Order))}>
              {[...ORDERS, ...(ORDERS.includes(order) ? [] : [order])].map((o) => (
                <option key={o}>{o}</option>
              ))}
            </Choice>
          </label>
          <span className="text-quiet">{shown.length === data.footage.length ? `${shown.length} files` : `${shown.length} of ${data.footage.length} files`}</span>
          <span className="flex-1" />
          <Button look="plain" onClick={() => setChosen(new Set(shown.map((p) => p.id)))}>
            Choose all
          </Button>
          <Segments
            boxed
            label="How footage is shown"
            value={view}
            onChange={(to) => (setView(to), kept.setItem(VIEW, to))}
            options={[
              { value: "cards", name: "Cards", tip: "A picture of each, with all that is known of it" },
              { value: "list", name: "List", tip: "A row of each, ordered by any column" },
            ]}
          />
        </div>
      )}
      {picked.length > 0 && (
        <div className="sticky -top-6 z-20 -mx-6 mb-3 border-y border-strong bg-panel px-6 py-2">
          <Many pieces={picked} shots={shots} onNone={() => setChosen(new Set())} />
        </div>
      )}
      {data && view === "list" && <List room={room} pieces={shown} shots={shots} chosen={chosen} order={order} falling={turned} onOrder={(to) => (setTurned(to === order && !turned), setOrder(to))} onChoose={choose} onOpen={open} />}
      {data && view === "cards" && <Cards room={room} pieces={shown} all={data.footage} shots={shots} chosen={chosen} choose={choose} />}
      {runs[0] && <Sequence key={runs[0].names[0]} run={runs[0]} onDone={() => setRuns(runs.slice(1))} />}
      <Places open={browsing} onClose={() => setBrowsing(false)} onSequence={(run) => setRuns((now) => [...now, run])} />
    </main>
  );
}

type CardsProps = { room: React.RefObject<HTMLElement | null>; pieces: Piece[]; all: Piece[]; shots: Map<string, ShotRow[]>; chosen: ReadonlySet<string>; choose: (id: string, on: boolean) => void };

/** Rows of cards, of which those in view alone are in the page. */
function Cards({ room, pieces, all, shots, chosen, choose }: CardsProps) {
  const list = useRef<HTMLUListElement>(null);
  const [across, setAcross] = useState(3);
  const [top, setTop] = useState(0);
  useLayoutEffect(() => {
    const seen = new ResizeObserver(() => {
      if (!list.current || !room.current) return;
      setAcross(Math.max(1, Math.floor((list.current.clientWidth + 20) / (LEAST + 20))));
      setTop(list.current.getBoundingClientRect().top - room.current.getBoundingClientRect().top + room.current.scrollTop);
    });
    if (list.current) seen.observe(list.current);
    if (room.current) seen.observe(room.current);
    return () => seen.disconnect();
  }, [room]);
  const rows = Math.ceil(pieces.length / across);
  const virtual = useVirtualizer({ count: rows, getScrollElement: () => room.current, estimateSize: () => 440, overscan: 1, scrollMargin: top, getItemKey: (n) => pieces[n * across]!.id });
  return (
    <ul ref={list} aria-label="Footage" className="relative" style={{ height: virtual.getTotalSize() }}>
      {virtual.getVirtualItems().map((row) => (
        <li key={row.key} ref={virtual.measureElement} data-index={row.index} className="absolute w-full pb-5" style={{ transform: `translateY(${row.start - top}px)` }}>
          <ul className="grid gap-5" style={{ gridTemplateColumns: `repeat(${across}, minmax(0, 1fr))` }}>
            {pieces.slice(row.index * across, (row.index + 1) * across).map((f) => (
              <Card key={f.id} piece={f} shots={shots.get(f.id) ?? []} others={all} chosen={chosen.has(f.id)} onChoose={(on) => choose(f.id, on)} />
            ))}
          </ul>
        </li>
      ))}
    </ul>
  );
}

function Empty() {
  const { go, carryOut } = useDoing();
  const demo = async () => {
    const project = await carryOut(projects.demo(), "everything");
    if (project) go(`/projects/${project.id}/footage`);
  };
  return (
    <div className="border border-dashed border-strong p-10 text-center">
      <p className="text-[16px] font-bold">Bring in a shot to begin.</p>
      <p className="mt-1 text-quiet">A video of a few seconds with one strong colour does best. Then open it on the Bench and click the colour that stays.</p>
      <Button className="mt-4" onClick={() => void demo()}>
        Or look at the demo film
      </Button>
    </div>
  );
}
