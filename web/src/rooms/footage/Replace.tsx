import { Dialog } from "radix-ui";
import { useState } from "react";

import type { Footage as Piece } from "../../api/types";
import { Button } from "../../ui/basics";
import { facts } from "./facts";

type Props = { piece: Piece; all: Piece[]; onReplace: (other: Piece) => void; onClose: () => void };

/** Why a piece cannot stand in the place of another under its shots; null where it can. */
function whyNot(piece: Piece, other: Piece): string | null {
  if (other.state !== "here") return "its file is not there";
  if (other.facts.kind !== piece.facts.kind || other.facts.wave !== piece.facts.wave) return `it is ${other.facts.wave ? "sound" : other.facts.kind === "still" ? "a still" : "video"}`;
  if (other.facts.length < piece.facts.length) return `it has ${other.facts.length} frames, too few for ${piece.facts.length}`;
  return null;
}

/** Other footage in the place of a piece under its shots: sought among all that there is. */
export function Replace({ piece, all, onReplace, onClose }: Props) {
  const [words, setWords] = useState("");
  const sought = words.toLowerCase().split(/\s+/).filter(Boolean);
  const found = all.filter((o) => o.id !== piece.id && sought.every((w) => [o.name, ...facts(o).map(([, v]) => v)].join(" ").toLowerCase().includes(w)));
  const fits = (o: Piece) => (whyNot(piece, o) === null ? 0 : 1);
  return (
    <Dialog.Root open onOpenChange={(open) => !open && onClose()}>
      <Dialog.Portal>
        <Dialog.Overlay className="fixed inset-0 z-40 bg-black/60" />
        <Dialog.Content aria-describedby={undefined} className="fixed top-[10%] left-1/2 z-50 flex max-h-[76%] w-[560px] max-w-[96%] -translate-x-1/2 flex-col border border-strong bg-panel p-5">
          <Dialog.Title className="text-[18px] font-bold">In place of “{piece.name}”</Dialog.Title>
          <p className="mt-1 text-quiet">Its shots keep their looks, and show the other footage at the same frames. One step back takes it all back.</p>
          <input type="search" aria-label="Search for footage" placeholder="Search names and facts" value={words} onChange={(e) => setWords(e.currentTarget.value)} className="mt-3 h-[28px] border border-strong bg-transparent px-2" />
          <ul aria-label="Footage to put in its place" className="pane mt-2 min-h-[120px] flex-1 overflow-y-auto">
            {found.toSorted((a, b) => fits(a) - fits(b)).map((other) => {
              const why = whyNot(piece, other);
              return (
                <li key={other.id} className="flex items-center gap-3 border-b border-line py-1.5">
                  {other.state === "here" ? <img src={`/api/footage/${other.id}/poster.jpg?${other.content}`} alt="" loading="lazy" className="h-[36px] w-[64px] shrink-0 bg-black object-contain" /> : <span className="h-[36px] w-[64px] shrink-0 bg-black" />}
                  <span className="min-w-0 flex-1">
                    <b className="block truncate">{other.name}</b>
                    <span className="block truncate text-[12px] text-quiet">{why ? `Not this one: ${why}` : facts(other).slice(0, 3).map(([, v]) => v).join(" · ")}</span>
                  </span>
                  <Button disabled={why !== null} aria-label={`Put in its place: ${other.name}`} onClick={() => onReplace(other)}>
                    Put in its place
                  </Button>
                </li>
              );
            })}
            {!found.length && <li className="py-3 text-quiet">{all.length > 1 ? "No footage is like that." : "There is no other footage in this project yet."}</li>}
          </ul>
          <div className="mt-3 flex justify-end">
            <Button onClick={onClose}>Cancel</Button>
          </div>
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  );
}
