import clsx from "clsx";
import { ChevronRight, Library } from "lucide-react";
import { useEffect, useRef, useState, type DragEvent } from "react";

import { useCatalogue } from "../../api/queries";
import type { Pass } from "../../api/types";
import { useValue } from "../../editor/animate";
import { SWITCH } from "../../editor/lanes";
import { duplicatePass, movePass, removePass, renamePass, switchPass } from "../../editor/looks";
import { copyPass, saveOnShelf } from "../../editor/pocket";
import { passesOf, setBench, useBench, useDocument, useSettledFrame } from "../../editor/store";
import { Menu } from "../../ui/menu";
import { askName } from "../../ui/prompt";
import { AddPass } from "./AddPass";
import { useShelf } from "./Shelf";

/** The picture after every pass, always visible. */
export function StageStrip() {
  const passes = passesOf(useDocument());
  const view = useBench((s) => s.view)!;
  const frame = useSettledFrame();
  const show = useBench((s) => s.show);
  const [dragged, setDragged] = useState<number | null>(null);
  const [target, setTarget] = useState<number | null>(null);
  const url = (upto: number) => `/api/shots/${view.shot.id}/stages/${view.revision}/${frame}.jpg?upto=${upto}`;
  const drop = (e: DragEvent) => {
    e.preventDefault();
    if (dragged !== null && target !== null) movePass(dragged, target);
    setDragged(null);
    setTarget(null);
  };
  return (
    <ol aria-label="Stages" className="flex h-full items-start gap-1 overflow-x-auto px-4 pt-2" onDragOver={(e) => e.preventDefault()} onDrop={drop}>
      <li>
        <Card name="Source" aside={`frame ${frame}`} url={url(0)} chosen={show === "source"} onChoose={() => setBench({ show: show === "source" ? "result" : "source" })} />
      </li>
      {passes.map((pass, n) => (
        <li
          key={pass.id}
          draggable
          className={clsx("flex items-start gap-1", dragged === n && "opacity-40")}
          onDragStart={(e) => {
            e.dataTransfer.effectAllowed = "move";
            setDragged(n);
          }}
          onDragEnter={() => setTarget(n)}
          onDragEnd={() => setDragged(null)}
        >
          <ChevronRight size={12} className="mt-[24px] shrink-0 text-quiet" aria-hidden />
          <PassCard pass={pass} number={n} count={passes.length} url={url(n + 1)} marked={target === n && dragged !== null && dragged !== n} />
        </li>
      ))}
      <li className="flex items-start gap-1">
        <ChevronRight size={12} className="mt-[24px] shrink-0 text-quiet" aria-hidden />
        <AddPass invite={passes.length === 0} />
        {passes.length === 0 && (
          <button type="button" className="flex h-[66px] w-[142px] items-center justify-center gap-2 border border-dashed border-strong text-quiet hover:border-ink hover:text-ink" onClick={() => useShelf.setState({ open: true })}>
            <Library size={15} /> Take a look
          </button>
        )}
      </li>
    </ol>
  );
}

function PassCard({ pass, number, count, url, marked }: { pass: Pass; number: number; count: number; url: string; marked: boolean }) {
  const passId = useBench((s) => s.passId);
  const upTo = useBench((s) => s.upTo);
  const { data } = useCatalogue();
  const known = !data || data.treatments.some((t) => t.id === pass.treatment);
  const chosen = pass.id === passId;
  const on = useValue(`passes/${pass.id}/on`, SWITCH, pass.on) === true;
  const aside = !known ? "unknown, bypassed" : on ? (pass.side === "everywhere" ? "all" : pass.side!) : "bypassed";
  const menu = (
    <Menu
      align="start"
      trigger={
        <button type="button" aria-label={`Do something with ${pass.name}`} className="absolute top-[2px] right-[2px] h-[18px] w-[22px] bg-black leading-none font-bold text-white opacity-0 group-hover:opacity-100 focus-visible:opacity-100 data-[state=open]:opacity-100">
          ⋯
        </button>
      }
      items={[
        { name: on ? "Bypass" : "Switch on", aside: "X", onSelect: () => switchPass(pass) },
        { name: "Rename…", onSelect: () => askName("Rename the pass", pass.name, (name) => renamePass(pass, name)) },
        { name: "Duplicate", onSelect: () => duplicatePass(pass) },
        { name: "Copy for another shot", onSelect: () => copyPass(pass) },
        { name: "Save on the shelf…", onSelect: () => askName("Save this pass on the shelf", pass.name, (name) => void saveOnShelf(name, "", pass.id)) },
        { name: "Earlier", disabled: number === 0, onSelect: () => movePass(number, number - 1) },
        { name: "Later", disabled: number === count - 1, onSelect: () => movePass(number, number + 1) },
        "line",
        { name: "Remove", aside: "Del", onSelect: () => removePass(pass) },
      ]}
    />
  );
  const choose = () => setBench(chosen ? { upTo: !upTo, solo: false, show: "result" } : { passId: pass.id, show: "result" });
  return <Card name={`${number + 1} ${pass.name}`} aside={aside} url={url} chosen={chosen} dim={!on || !known} upTo={chosen && upTo} marked={marked} onChoose={choose} menu={menu} />;
}

type CardProps = { name: string; aside: string; url: string; chosen: boolean; dim?: boolean; upTo?: boolean; marked?: boolean; onChoose: () => void; menu?: React.ReactNode };

function Card({ name, aside, url, chosen, dim, upTo, marked, onChoose, menu }: CardProps) {
  const begun = useBench((s) => s.begun);
  return (
    <div className={clsx("group relative w-[142px]", marked && "border-l-2 border-ink pl-1")}>
      <button
        type="button"
        aria-pressed={chosen}
        aria-label={name}
        title={chosen && menu ? "Click again: the picture up to here, or the finished one" : undefined}
        onClick={onChoose}
        className={clsx("relative block h-[66px] w-full overflow-hidden border-2", chosen ? "border-ink" : "border-transparent", dim && "opacity-45")}
      >
        {begun && <SteadyImage url={url} />}
        {upTo && <span className="absolute bottom-0 left-0 bg-inverse px-1 text-[11px] text-inverse-ink">up to here</span>}
      </button>
      <div className="mt-0.5 flex items-center justify-between gap-1 text-[12px]">
        <span className={clsx("min-w-0 truncate font-semibold", dim && "line-through")} title={name}>
          {name}
        </span>
        <span className="shrink-0 text-quiet">{aside}</span>
      </div>
      {menu}
    </div>
  );
}

/** An image that keeps showing the old picture until the new one has arrived. */
function SteadyImage({ url }: { url: string }) {
  const [shown, setShown] = useState(url);
  const newest = useRef(url);
  newest.current = url;
  useEffect(() => {
    if (url === shown) return;
    const image = new Image();
    image.onload = () => newest.current === url && setShown(url);
    image.src = url;
  }, [url, shown]);
  return <img src={shown} alt="" draggable={false} className="h-full w-full object-cover" />;
}
