import { HelpButton } from "../../panels/HelpButton";
import clsx from "clsx";
import { useMemo, useState, type DragEvent, type MouseEvent } from "react";
import { useParams } from "react-router";

import { useProject } from "../../api/queries";
import type { ShotRow } from "../../api/types";
import { ratio } from "../../engine/reel/layout";
import { Button } from "../../ui/basics";
import { PointerMenu } from "../../ui/menu";
import { useReel, useReelChoice, useReelLayout } from "./context";
import { putAtPlayhead, putIn, putInPlace } from "./pieces";

export const SHOT = "application/x-wenditas-shot"; // what is dragged, as the browser carries it: ids, with blanks between

/** The shots of the project, to be put into the reel, several at once. */
export function Shots() {
  const reel = useReel();
  const { projectId } = useParams();
  const { data } = useProject(projectId);
  const { items } = useReelLayout();
  const chosen = useReelChoice((s) => s.shots);
  const [words, setWords] = useState("");
  const [used, setUsed] = useState(false);
  const uses = useMemo(() => items.reduce((n, p) => n.set(p.item.shot, (n.get(p.item.shot) ?? 0) + 1), new Map<string, number>()), [items]);
  const shots = data?.shots ?? [];
  const found = shots.filter((s) => s.name.toLowerCase().includes(words.trim().toLowerCase()) && (!used || uses.has(s.id)));
  const choose = (id: string, e: { shiftKey: boolean; ctrlKey: boolean; metaKey: boolean }) => {
    const last = found.findIndex((s) => s.id === chosen.at(-1));
    const here = found.findIndex((s) => s.id === id);
    if (e.shiftKey && last >= 0) {
      const between = found.slice(Math.min(last, here), Math.max(last, here) + 1).map((s) => s.id);
      return reel.choice.set({ shots: [...chosen.filter((one) => !between.includes(one)), ...between] });
    }
    if (e.ctrlKey || e.metaKey) return reel.choice.set({ shots: chosen.includes(id) ? chosen.filter((one) => one !== id) : [...chosen, id] });
    reel.choice.set({ shots: chosen.length === 1 && chosen[0] === id ? [] : [id] });
  };
  /** Those that are meant where one is dragged or clicked: all that are chosen, where it is one of them. In the order of the list. */
  const meant = (id: string) => (chosen.includes(id) ? shots.filter((s) => chosen.includes(s.id)).map((s) => s.id) : [id]);
  const menu = (element: Element) => {
    const id = element.closest<HTMLElement>("[data-shot]")?.dataset["shot"];
    if (!id) return [];
    const ids = meant(id);
    return [
      { name: "Put in at the playhead", does: "put in", onSelect: () => void putAtPlayhead(reel, ids) },
      { name: "Put at the end", onSelect: () => void putIn(reel, ids, null) },
      ...(ids.length === 1 ? [{ name: "In place of what is at the playhead", aside: "Shift P", disabled: !items.length, onSelect: () => void putInPlace(reel, id) }] : []),
    ];
  };
  return (
    <>
      <div className="flex items-baseline justify-between px-3.5 pt-2">
        <span className="flex items-baseline gap-0.5">
          <h2 className="text-[18px] font-bold">Shots</h2>
          <HelpButton of="Shots" page="reel" part="in" />
        </span>
        <span className="text-quiet">{chosen.length ? `${chosen.length} of ${shots.length} chosen` : shots.length}</span>
      </div>
      <div className="flex gap-1.5 px-3.5 py-1.5">
        <input aria-label="Search shots" placeholder="Search" value={words} onChange={(e) => setWords(e.currentTarget.value)} className="h-[26px] w-full min-w-0 border border-strong bg-transparent px-2" />
        <Button on={used} title="Only those that are in the reel" onClick={() => setUsed(!used)}>
          In use
        </Button>
      </div>
      <PointerMenu itemsAt={menu}>
        <ul aria-label="Shots" className="pane min-h-0 flex-1 overflow-y-auto pl-3.5 pr-1.5">
          {found.map((shot) => (
            <Shot key={shot.id} shot={shot} uses={uses.get(shot.id) ?? 0} on={chosen.includes(shot.id)} onChoose={(e) => choose(shot.id, e)} onDrag={() => meant(shot.id)} onAdd={() => void putIn(reel, meant(shot.id), null)} />
          ))}
          {!found.length && <li className="py-3 text-quiet">{shots.length ? (used && !words ? "No shot is in the reel yet." : "No shot is called that.") : "There are no shots yet: bring footage in and open it."}</li>}
        </ul>
      </PointerMenu>
      {chosen.length > 0 && (
        <div className="flex flex-wrap gap-1.5 border-t border-line px-3.5 py-1.5">
          <Button title="An item that is there is cut, and what follows moves on" does="put in" onClick={() => void putAtPlayhead(reel, meant(chosen[0]!))}>
            Put in here
          </Button>
          {chosen.length === 1 && items.length > 0 && (
            <Button title="In place of the item at the playhead, as long as that lasts (Shift P)" onClick={() => void putInPlace(reel, chosen[0]!)}>
              Replace
            </Button>
          )}
        </div>
      )}
    </>
  );
}

const OFTEN = ["", "in the reel", "twice", "three times"];

type Props = { shot: ShotRow; uses: number; on: boolean; onChoose: (e: MouseEvent) => void; onDrag: () => string[]; onAdd: () => void };

function Shot({ shot, uses, on, onChoose, onDrag, onAdd }: Props) {
  const known = useReel().view.shots[shot.id];
  const [n, d] = ratio(known?.fps ?? "24");
  const seconds = known ? (known.length * d) / n : 0;
  return (
    <li
      draggable
      data-shot={shot.id}
      onDragStart={(e: DragEvent) => {
        e.dataTransfer.setData(SHOT, onDrag().join(" "));
        e.dataTransfer.effectAllowed = "copy";
      }}
      className={clsx("flex cursor-grab items-center gap-1 border-b border-line py-1", on && "bg-raised shadow-[inset_3px_0_0_var(--ink)]")}
    >
      <button type="button" aria-pressed={on} title="Choose it; with Ctrl or Shift several. Drag it into the reel" className="flex min-w-0 flex-1 cursor-grab items-center gap-2 py-0.5 pl-1.5 text-left" onClick={onChoose}>
        <img src={`/api/shots/${shot.id}/pictures/${known?.revision ?? shot.head}/${Math.floor((known?.length ?? 1) * 0.4)}.jpg?width=160`} alt="" loading="lazy" draggable={false} className="h-[36px] w-[64px] shrink-0 bg-black object-cover" />
        <span className="min-w-0 flex-1">
          <span className="line-clamp-2 leading-[16px] font-semibold">{shot.name}</span>
          <span className="block truncate text-[12px] text-quiet">
            {seconds ? `${seconds.toFixed(1)} s` : ""}
            {uses > 0 && ` · ${OFTEN[uses] ?? `${uses} times`}`}
          </span>
        </span>
      </button>
      <button type="button" aria-label={`Put ${shot.name} at the end of the reel`} title="Put it at the end of the reel" onClick={onAdd} className="h-[26px] w-[22px] shrink-0 border border-strong hover:border-ink">
        +
      </button>
    </li>
  );
}
