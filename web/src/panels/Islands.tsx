import { useQuery } from "@tanstack/react-query";

import { ask, client } from "../api/client";
import type { Island } from "../api/types";
import { Button, Heading } from "../ui/basics";
import { fenceIsland } from "../engine/shapes";
import { useAtRest, useChoice, useEngine, useView } from "./engine";
import { selectionsOf } from "../engine/scene";

const SHOWN = 6;

/** The pieces of the matte at this frame, largest first. */
export function Islands() {
  const engine = useEngine();
  const view = useView();
  const selection = useChoice((s) => s.selectionId);
  const busy = useChoice((s) => s.tracking !== null);
  const there = selectionsOf(view.document).some((s) => s.id === selection); // one that is being drawn is chosen before it is stored
  const { frame, revision } = useAtRest(there ? selection! : "");
  const { data } = useQuery({
    queryKey: ["islands", view.shot.id, revision, frame, selection],
    enabled: there,
    placeholderData: (old) => old,
    queryFn: () =>
      ask(client.GET("/api/shots/{shot_id}/islands/{revision}/{frame}", { params: { path: { shot_id: view.shot.id, revision, frame }, query: { selection: selection! } } })),
  });
  const list = data ?? [];
  if (!list.length) return null;
  return (
    <>
      <Heading aside={<span>{list.length === 1 ? "one piece" : `${list.length} pieces`}</span>}>Islands</Heading>
      <ul aria-label="Islands" onPointerLeave={() => engine.choice.set({ island: null })}>
        {list.slice(0, SHOWN).map((island, n) => (
          <Row key={n} island={island} n={n} busy={busy} url={`/api/shots/${view.shot.id}/pictures/${revision}/${frame}.jpg?width=480&view=selected&selection=${selection}`} />
        ))}
      </ul>
      {list.length > SHOWN && <p className="text-[12px] text-quiet">and {list.length - SHOWN} smaller ones: despeckle removes them</p>}
    </>
  );
}

function Row({ island, n, busy, url }: { island: Island; n: number; busy: boolean; url: string }) {
  const engine = useEngine();
  const light = () => engine.choice.set({ island: island.outline as [number, number][] });
  return (
    <li className="flex h-[30px] items-center gap-2 border-b border-line hover:bg-raised" onPointerEnter={light} onFocus={light} onBlur={() => engine.choice.set({ island: null })}>
      <Thumb island={island} url={url} />
      <span className="shrink-0 font-semibold whitespace-nowrap">{island.share < 9.95 ? island.share.toFixed(1) : island.share.toFixed(0)} %</span>
      <span className="flex-1" />
      <Button className="!px-1.5 text-[12px]" disabled={busy} title="Leave it out, and track the fence" onClick={() => void fenceIsland(engine, n, false)}>
        Fence off
      </Button>
      <Button className="!px-1.5 text-[12px]" disabled={busy} title="Keep only this one, and track it" onClick={() => void fenceIsland(engine, n, true)}>
        Keep only
      </Button>
    </li>
  );
}

/** The island cut out of the picture. */
function Thumb({ island, url }: { island: Island; url: string }) {
  const facts = useView().footage.facts;
  const width = (1080 * facts.width) / facts.height;
  const [left, top, right, bottom] = island.box as [number, number, number, number];
  const scale = Math.min(36 / (right - left), 26 / (bottom - top), 0.12);
  return (
    <span className="relative block h-[26px] w-[36px] shrink-0 overflow-hidden bg-surround">
      <img src={url} alt="" className="absolute max-w-none" style={{ width: width * scale, left: 18 - ((left + right) / 2) * scale, top: 13 - ((top + bottom) / 2) * scale }} />
    </span>
  );
}
