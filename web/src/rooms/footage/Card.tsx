import clsx from "clsx";
import { useState } from "react";

import { footage, shots as shotCalls } from "../../api/footage";
import type { Footage as Piece, ShotRow } from "../../api/types";
import { useDoing } from "../../panels/doing";
import { Button, ProgressBar } from "../../ui/basics";
import { Menu } from "../../ui/menu";
import { useAskFor } from "../../ui/prompt";
import { rateWords } from "../../ui/words";
import { facts, whereUsed } from "./facts";
import { putInReel } from "./many";
import { Replace } from "./Replace";

type Props = { piece: Piece; shots: ShotRow[]; others: Piece[]; chosen: boolean; onChoose: (on: boolean) => void };

/** A piece of footage: its picture, what is known of it, and what is made of it. */
export function Card({ piece, shots, others, chosen, onChoose }: Props) {
  const askFor = useAskFor();
  const doing = useDoing();
  const { project, say, go, carryOut } = doing;
  const [replacing, setReplacing] = useState(false);
  const open = (shot: ShotRow) => go(`/projects/${project}/shots/${shot.id}`);
  const addShot = async () => {
    const shot = await carryOut(shotCalls.make(piece.id));
    if (shot) open(shot);
  };
  const removed = (words: string, restore: () => Promise<unknown>) => say(words, { action: { name: "Undo", run: () => void carryOut(restore()) } });
  const removeShot = async (shot: ShotRow) => {
    if ((await carryOut(shotCalls.remove(shot.id))) !== null) removed(`Shot “${shot.name}” removed.`, () => shotCalls.restore(shot.id));
  };
  const remove = async () => {
    if ((await carryOut(footage.remove(piece.id))) !== null) removed(`“${piece.name}” removed${shots.length ? ` with ${shots.length === 1 ? "its shot" : `its ${shots.length} shots`}` : ""}.`, () => footage.restore(piece.id));
  };
  const { pictures = [], sounds = [], picture_track: picture = 0, sound_track: sound = 0 } = piece.facts;
  const use = (picture: number, sound: number) => void carryOut(footage.useTracks(piece.id, { picture, sound }));
  const tracks = [
    ...pictures.flatMap((name, n) => (n === picture ? [] : [{ name: `Use picture ${n + 1}: ${name}`, onSelect: () => use(n, sound) }])),
    ...sounds.flatMap((name, n) => (n === sound ? [] : [{ name: `Use sound ${n + 1}: ${name}`, onSelect: () => use(picture, n) }])),
  ];
  const find = async () => {
    if ((await carryOut(footage.find(piece.id))) !== null) say(`“${piece.name}” is found again: its content is the same.`);
  };
  const replace = async (other: Piece) => {
    const moved = await carryOut(footage.replace(piece.id, other.id, null), "everything");
    if (!moved) return;
    const back = () => carryOut(footage.replace(other.id, piece.id, moved.shots), "everything");
    say(`${moved.shots.length === 1 ? "Its shot is" : `Its ${moved.shots.length} shots are`} made of “${other.name}” now.`, { action: { name: "Undo", run: () => void back() } });
  };
  const main = () => (shots[0] ? open(shots[0]) : void addShot());
  return (
    <li className={clsx("flex h-full flex-col border bg-panel", chosen ? "border-ink" : "border-line")} aria-label={piece.name}>
      <div className="relative">
        <button type="button" onClick={main} className="block w-full bg-surround" aria-label={`Open ${piece.name} on the Bench`}>
          {piece.state === "here" ? <img src={`/api/footage/${piece.id}/poster.jpg?${piece.content}`} alt="" loading="lazy" className="aspect-video w-full object-contain" /> : <span className="flex aspect-video items-center justify-center border-b border-strong font-bold">{piece.state === "missing" ? "The file is not there" : "The file was changed"}</span>}
        </button>
        <input type="checkbox" aria-label={`Choose ${piece.name}`} className="absolute top-2 left-2 h-[16px] w-[16px] accent-[var(--inverse)]" checked={chosen} onChange={(e) => onChoose(e.currentTarget.checked)} />
      </div>
      <div className="flex flex-1 flex-col p-3">
        <h2 className="truncate text-[15px] font-bold" title={piece.name}>
          {piece.name}
        </h2>
        <dl className="mt-2 grid grid-cols-[60px_1fr] gap-y-0.5">
          {[...facts(piece), ...whereUsed(piece, shots)].map(([name, value]) => (
            <div key={name} className="contents">
              <dt className="text-quiet">{name}</dt>
              <dd>{value}</dd>
            </div>
          ))}
        </dl>
        <Making piece={piece} />
        {piece.facts.damage?.map((sentence) => (
          <p key={sentence} className="mt-2 flex gap-2 border border-strong px-2 py-1">
            <span className="font-bold">!</span>
            {sentence}
          </p>
        ))}
        {piece.facts.notes?.map((sentence) => (
          <p key={sentence} className="mt-2 text-quiet">
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
          {piece.state === "here" ? (
            <Button look="solid" onClick={main}>
              Open on the Bench
            </Button>
          ) : (
            <Button look="solid" onClick={() => void find()}>
              Find it again
            </Button>
          )}
          <Menu
            trigger={<Button aria-label={`More for ${piece.name}`}>More ▾</Button>}
            items={[
              ...(piece.facts.wave ? [] : [{ name: "Put it in the reel", disabled: piece.state !== "here", onSelect: () => void putInReel([piece], new Map([[piece.id, shots]]), doing) }]),
              { name: "Another shot of this", onSelect: () => void addShot() },
              ...shots.map((s) => ({ name: `Remove the shot “${s.name}”`, onSelect: () => void removeShot(s) })),
              ...(piece.facts.kind === "video" && !shots.length ? [{ name: "Show at another rate…", onSelect: () => askFor({ title: `“${piece.name}” has ${rateWords(piece.facts.rate)}`, label: "Frames a second", value: piece.facts.rate, save: "Show at this rate", done: (rate) => void carryOut(footage.conform(piece.id, rate)) }) }] : []),
              ...(piece.facts.interlaced && !shots.length ? WOVEN.filter(([fields]) => fields !== piece.facts.fields).map(([fields, name]) => ({ name, onSelect: () => void carryOut(footage.weave(piece.id, fields)) })) : []),
              ...(shots.length ? [] : tracks),
              ...(shots.length ? [{ name: "Put other footage in its place…", disabled: !others.length, onSelect: () => setReplacing(true) }] : []),
              "line",
              { name: "Remove this footage", onSelect: () => void remove() },
            ]}
          />
        </div>
      </div>
      {replacing && <Replace piece={piece} all={others} onClose={() => setReplacing(false)} onReplace={(other) => (setReplacing(false), void replace(other))} />}
    </li>
  );
}

/** What can be made of the fields of interlaced footage. */
const WOVEN = [
  ["one a frame", "Make one frame of each frame"],
  ["one a field", "Make one frame of each field"],
  ["", "Leave its fields as they are"],
] as const;

/** How far the preview copy of large footage is. */
function Making({ piece }: { piece: Piece }) {
  if (piece.preview.state !== "making" && piece.preview.state !== "waiting") return null;
  return (
    <div className="mt-2">
      <span className="text-[12px] text-quiet">{piece.preview.state === "making" ? `A preview copy is being made: ${piece.preview.done} of ${piece.facts.length} frames` : "A preview copy waits to be made"}</span>
      <ProgressBar value={piece.preview.done / Math.max(1, piece.facts.length)} label={`Preview copy of ${piece.name}`} />
    </div>
  );
}
