import { useQueryClient } from "@tanstack/react-query";
import clsx from "clsx";
import { useRef, useState, type DragEvent } from "react";
import { useNavigate, useParams } from "react-router";
import { useStore } from "zustand";

import { ask, client } from "../api/client";
import { useProject } from "../api/queries";
import type { Footage as Piece, ShotRow } from "../api/types";
import { bytes, duration, rateWords } from "../ui/words";
import { Button, ProgressBar } from "../ui/basics";
import { Menu } from "../ui/menu";
import { useApp } from "../panels/app";
import { useSay } from "../ui/notices";
import { useAskFor } from "../ui/prompt";

const ACCEPT = ".mp4,.m4v,.mov,.mkv,.webm,.avi,.png,.jpg,.jpeg,.tif,.tiff,.webp";

/** Import, facts, and the shots made from each piece of footage. */
export function Footage() {
  const { uploads } = useApp();
  const { projectId } = useParams();
  const { data, isPending } = useProject(projectId);
  const [over, setOver] = useState(false);
  const input = useRef<HTMLInputElement>(null);
  const drop = (e: DragEvent) => {
    e.preventDefault();
    setOver(false);
    if (e.dataTransfer.files.length) uploads.add(projectId!, e.dataTransfer.files);
  };
  return (
    <main
      className={clsx("h-full overflow-auto p-6", over && "outline-2 -outline-offset-8 outline-ink outline-dashed")}
      onDragOver={(e) => {
        e.preventDefault();
        setOver(true);
      }}
      onDragLeave={(e) => e.currentTarget === e.target && setOver(false)}
      onDrop={drop}
    >
      <div className="mb-4 flex items-baseline gap-4">
        <h1 className="text-[20px] font-bold">Footage</h1>
        <p className="text-quiet">Drop files anywhere here: MP4, MOV, MKV, WebM, AVI, or PNG, JPEG, TIFF, WebP pictures.</p>
        <div className="ml-auto">
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
              if (e.currentTarget.files) uploads.add(projectId!, e.currentTarget.files);
              e.currentTarget.value = "";
            }}
          />
        </div>
      </div>
      <Uploads />
      {isPending && <p className="text-quiet">Opening…</p>}
      {data && data.footage.length === 0 && <Empty />}
      <ul className="grid grid-cols-[repeat(auto-fill,minmax(290px,1fr))] gap-5" aria-label="Footage">
        {data?.footage.map((f) => <Card key={f.id} piece={f} shots={data.shots.filter((s) => s.footage_id === f.id)} />)}
      </ul>
    </main>
  );
}

function Empty() {
  const queryClient = useQueryClient();
  const navigate = useNavigate();
  const demo = async () => {
    const project = await ask(client.POST("/api/projects/demo"));
    await queryClient.invalidateQueries();
    void navigate(`/projects/${project.id}/footage`);
  };
  return (
    <div className="border border-dashed border-strong p-10 text-center">
      <p className="text-[16px] font-bold">Bring in a shot to begin.</p>
      <p className="mt-1 text-quiet">Then open it on the Bench and click the colour that stays.</p>
      <Button className="mt-4" onClick={() => void demo()}>
        Or look at the demo film
      </Button>
    </div>
  );
}

function Uploads() {
  const { uploads } = useApp();
  const jobs = useStore(uploads.state, (s) => s.jobs);
  if (!jobs.length) return null;
  return (
    <ul className="mb-5 space-y-2" aria-label="Uploads">
      {jobs.map((job) => {
        const share = job.total ? job.sent / job.total : 0;
        const elapsed = (Date.now() - job.startedAt) / 1000;
        const left = share > 0.02 && elapsed > 2 ? `, ${duration((elapsed / share) * (1 - share))} left` : "";
        const words = { waiting: "waiting", sending: `${bytes(job.sent)} of ${bytes(job.total)}${left}`, reading: "reading the file…", refused: "not taken in" }[job.state];
        return (
          <li key={job.id} role={job.state === "refused" ? "alert" : undefined} className={clsx("flex items-center gap-4 border px-3 py-2", job.state === "refused" ? "border-inverse bg-inverse text-inverse-ink" : "border-line bg-panel")}>
            <span className="w-[220px] shrink-0 truncate font-semibold" title={job.name}>
              {job.state === "refused" && "! "}
              {job.name}
            </span>
            <span className="min-w-0 flex-1">{job.state === "refused" ? job.message : <ProgressBar value={job.state === "reading" ? 1 : share} label={`Upload of ${job.name}`} />}</span>
            <span className="shrink-0">{job.held && job.state === "refused" ? "damaged" : words}</span>
            {job.held && job.state === "refused" && (
              <Button className="border-inverse-ink text-inverse-ink" onClick={() => void uploads.takeWhatIsThere(job.id)}>
                Take what is there
              </Button>
            )}
            <Button className={job.state === "refused" ? "border-inverse-ink text-inverse-ink" : ""} onClick={() => uploads.dismiss(job.id)}>
              {job.state !== "refused" ? "Cancel" : job.held ? "Leave it" : "Close"}
            </Button>
          </li>
        );
      })}
    </ul>
  );
}

function facts(piece: Piece): [string, string][] {
  const f = piece.facts;
  const size = `${f.width} × ${f.height}${f.rotation ? `, turned ${f.rotation}°` : ""}`;
  const colour = f.matrix === "rgb" ? "RGB" : `${f.matrix.toUpperCase().replace("BT", "BT.")} ${f.full_range ? "full" : "limited"}${f.tagged ? "" : " (assumed)"}`;
  if (f.kind === "still") return [["Picture", size], ["Format", `${f.codec.toUpperCase()}, ${f.bits} bit${f.alpha ? ", alpha" : ""}`], ["Colour", colour], ["File", bytes(piece.bytes)]];
  return [
    ["Picture", size],
    ["Rate", `${rateWords(f.rate)}${f.variable_rate ? " (from variable)" : ""}`],
    ["Length", `${duration(piece.seconds)}, ${f.length} frames`],
    ["Codec", `${f.codec.toUpperCase()}, ${f.bits} bit`],
    ["Sound", f.sound ?? "none"],
    ["Colour", colour],
    ["File", bytes(piece.bytes)],
  ];
}

function Card({ piece, shots }: { piece: Piece; shots: ShotRow[] }) {
  const queryClient = useQueryClient();
  const askFor = useAskFor();
  const say = useSay();
  const { projectId } = useParams();
  const navigate = useNavigate();
  const open = (shot: ShotRow) => void navigate(`/projects/${projectId}/shots/${shot.id}`);
  const addShot = async () => {
    const shot = await ask(client.POST("/api/footage/{footage_id}/shots", { params: { path: { footage_id: piece.id } } }));
    await queryClient.invalidateQueries({ queryKey: ["project"] });
    open(shot);
  };
  const fail = (error: Error) => say(error.message, { bad: true });
  const removeShot = async (shot: ShotRow) => {
    const one = { params: { path: { shot_id: shot.id } } };
    await ask(client.DELETE("/api/shots/{shot_id}", one));
    await queryClient.invalidateQueries({ queryKey: ["project"] });
    const restore = () => ask(client.POST("/api/shots/{shot_id}/restore", one)).then(() => queryClient.invalidateQueries({ queryKey: ["project"] }), fail);
    say(`Shot “${shot.name}” removed.`, { action: { name: "Undo", run: () => void restore() } });
  };
  const remove = async () => {
    const params = { params: { path: { footage_id: piece.id } } };
    await ask(client.DELETE("/api/footage/{footage_id}", params));
    await queryClient.invalidateQueries({ queryKey: ["project"] });
    const restore = () => ask(client.POST("/api/footage/{footage_id}/restore", params)).then(() => queryClient.invalidateQueries({ queryKey: ["project"] }), fail);
    say(`“${piece.name}” removed${shots.length ? ` with ${shots.length === 1 ? "its shot" : `its ${shots.length} shots`}` : ""}.`, { action: { name: "Undo", run: () => void restore() } });
  };
  const conform = async (rate: string) => {
    await ask(client.POST("/api/footage/{footage_id}/conform", { params: { path: { footage_id: piece.id } }, body: { rate } }));
    await queryClient.invalidateQueries({ queryKey: ["project"] });
  };
  const main = () => (shots[0] ? open(shots[0]) : void addShot().catch(fail));
  return (
    <li className="flex flex-col border border-line bg-panel" aria-label={piece.name}>
      <button type="button" onClick={main} className="block bg-surround" aria-label={`Open ${piece.name} on the Bench`}>
        <img src={`/api/footage/${piece.id}/poster.jpg`} alt="" className="aspect-video w-full object-contain" />
      </button>
      <div className="flex flex-1 flex-col p-3">
        <h2 className="truncate text-[15px] font-bold" title={piece.name}>
          {piece.name}
        </h2>
        <dl className="mt-2 grid grid-cols-[60px_1fr] gap-y-0.5">
          {facts(piece).map(([name, value]) => (
            <div key={name} className="contents">
              <dt className="text-quiet">{name}</dt>
              <dd>{value}</dd>
            </div>
          ))}
        </dl>
        {piece.facts.damage?.map((sentence) => (
          <p key={sentence} className="mt-2 flex gap-2 border border-strong px-2 py-1">
            <span className="font-bold">!</span>
            {sentence}
          </p>
        ))}
        {shots.length > 1 && (
          <div className="mt-2 flex flex-wrap gap-x-3">
            <span className="text-quiet">Shots</span>
            {shots.map((s) => (
              <button key={s.id} type="button" className="font-semibold underline" onClick={() => open(s)}>
                {s.name}
              </button>
            ))}
          </div>
        )}
        <div className="mt-auto flex items-center gap-2 pt-3">
          <Button look="solid" onClick={main}>
            Open on the Bench
          </Button>
          <Menu
            trigger={<Button aria-label={`More for ${piece.name}`}>More ▾</Button>}
            items={[
              { name: "Another shot of this", onSelect: () => void addShot().catch(fail) },
              ...shots.map((s) => ({ name: `Remove the shot “${s.name}”`, onSelect: () => void removeShot(s).catch(fail) })),
              ...(piece.facts.kind === "video" && !shots.length ? [{ name: "Show at another rate…", onSelect: () => askFor({ title: `“${piece.name}” has ${rateWords(piece.facts.rate)}`, label: "Frames a second", value: piece.facts.rate, save: "Show at this rate", done: (rate) => void conform(rate).catch(fail) }) }] : []),
              "line",
              { name: "Remove this footage", onSelect: () => void remove().catch(fail) },
            ]}
          />
        </div>
      </div>
    </li>
  );
}
