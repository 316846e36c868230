import { useMemo, useState } from "react";
import { useParams } from "react-router";

import { ask, client } from "../../api/client";
import { useProject } from "../../api/queries";
import type { ShotRow } from "../../api/types";
import { addShot } from "../../engine/reel/edits";
import type { ReelEngine } from "../../engine/reel/reel";
import { Button } from "../../ui/basics";
import { useReel, useReelLayout } from "./context";

export const SHOT = "application/x-wenditas-shot"; // what is dragged, as the browser carries it

/** A shot from its in to its out, put into the reel. */
export async function drop(reel: ReelEngine, id: string, before: string | null) {
  const view = await ask(client.GET("/api/shots/{shot_id}", { params: { path: { shot_id: id } } }));
  await addShot(reel, id, { first: view.document.first, last: view.document.last }, before);
}

/** The shots of the project, to be put into the reel. */
export function Shots() {
  const reel = useReel();
  const { projectId } = useParams();
  const { data } = useProject(projectId);
  const { items } = useReelLayout();
  const [words, setWords] = useState("");
  const [used, setUsed] = useState(false);
  const uses = useMemo(() => items.reduce((n, p) => n.set(p.item.shot, (n.get(p.item.shot) ?? 0) + 1), new Map<string, number>()), [items]);
  const shots = data?.shots ?? [];
  const found = shots.filter((s) => s.name.toLowerCase().includes(words.trim().toLowerCase()) && (!used || uses.has(s.id)));
  return (
    <>
      <div className="flex items-baseline justify-between px-3.5 pt-2">
        <h2 className="text-[18px] font-bold">Shots</h2>
        <span className="text-quiet">{shots.length}</span>
      </div>
      <div className="flex gap-1.5 px-3.5 py-1.5">
        <input aria-label="Search shots" placeholder="Search" value={words} onChange={(e) => setWords(e.currentTarget.value)} className="h-[26px] w-full min-w-0 border border-strong bg-transparent px-2" />
        <Button on={used} title="Only those that are in the reel" onClick={() => setUsed(!used)}>
          In use
        </Button>
      </div>
      <ul className="pane min-h-0 flex-1 overflow-y-auto pl-3.5 pr-1.5">
        {found.map((shot) => (
          <Shot key={shot.id} shot={shot} uses={uses.get(shot.id) ?? 0} onAdd={() => void drop(reel, shot.id, null).catch((error: Error) => reel.around.say(error.message, { bad: true }))} />
        ))}
        {!found.length && <li className="py-3 text-quiet">{shots.length ? (used && !words ? "No shot is in the reel yet." : "No shot is called that.") : "There are no shots yet: bring footage in and open it."}</li>}
      </ul>
    </>
  );
}

const OFTEN = ["", "in the reel", "twice", "three times"];

function Shot({ shot, uses, onAdd }: { shot: ShotRow; uses: number; onAdd: () => void }) {
  const known = useReel().view.shots[shot.id];
  const seconds = known ? known.length / (Number(known.fps.split("/")[0]) / Number(known.fps.split("/")[1] ?? 1)) : 0;
  return (
    <li
      draggable
      onDragStart={(e) => {
        e.dataTransfer.setData(SHOT, shot.id);
        e.dataTransfer.effectAllowed = "copy";
      }}
      className="flex cursor-grab items-center gap-2 border-b border-line py-1.5"
    >
      <img src={`/api/shots/${shot.id}/pictures/${known?.revision ?? shot.head}/${Math.floor((known?.length ?? 1) * 0.4)}.jpg?width=160`} alt="" loading="lazy" draggable={false} className="h-[36px] w-[64px] shrink-0 bg-black object-cover" />
      <span className="min-w-0 flex-1">
        <span className="line-clamp-2 leading-[16px] font-semibold">{shot.name}</span>
        <span className="block text-[12px] text-quiet">
          {seconds ? `${seconds.toFixed(1)} s` : ""}
          {uses > 0 && ` · ${OFTEN[uses] ?? `${uses} times`}`}
        </span>
      </span>
      <button type="button" aria-label={`Put ${shot.name} at the end of the reel`} title="Put it at the end of the reel" onClick={onAdd} className="h-[26px] w-[22px] shrink-0 border border-strong hover:border-ink">
        +
      </button>
    </li>
  );
}
