import clsx from "clsx";
import { ChevronRight, Library } from "lucide-react";
import { useEffect, useRef, useState, type DragEvent } from "react";

import { useCatalogue } from "../api/queries";
import type { Pass } from "../api/types";
import { Menu } from "../ui/menu";
import { AddPass } from "./AddPass";
import { SWITCH } from "../engine/lanes";
import { duplicatePass, movePass, removePass, renamePass, shiftPass, switchPass } from "../engine/passes";
import { copyLink, copyPass, saveOnShelf } from "../engine/pocket";
import { useApp } from "./app";
import { useChoice, useDocument, useEngine, useSettledFrame, useStage, useValue, useView } from "./engine";
import { useAskName } from "../ui/prompt";
import { passesOf } from "../engine/scene";

/** The picture after every pass, always visible. */
export function StageStrip() {
  const engine = useEngine();
  const app = useApp();
  const passes = passesOf(useDocument());
  const view = useView();
  const frame = useSettledFrame();
  const show = useStage((s) => s.show);
  const [dragged, setDragged] = useState<Pass | null>(null);
  const [target, setTarget] = useState<string | null>(null); // the pass that it is held over
  const url = (upto: number) => `/api/shots/${view.shot.id}/stages/${view.revision}/${frame}.jpg?upto=${upto}`;
  const drop = (e: DragEvent) => {
    e.preventDefault();
    const [from, to] = [dragged, target].map((p) => passes.findIndex((q) => q.id === (typeof p === "string" ? p : p?.id)));
    // Dropped on a pass it takes that one's place: the others move up behind it, or down before it.
    if (dragged && target && dragged.id !== target) movePass(engine, dragged, to! > from! ? (passes[to! + 1]?.id ?? null) : target);
    setDragged(null);
    setTarget(null);
  };
  return (
    <ol aria-label="Stages" className="flex h-full items-start gap-1 overflow-x-auto px-4 pt-2" onDragOver={(e) => e.preventDefault()} onDrop={drop}>
      <li>
        <Card name="Source" aside={`frame ${frame}`} url={url(0)} chosen={show === "source"} onChoose={() => engine.put({ show: show === "source" ? "result" : "source" })} />
      </li>
      {passes.map((pass, n) => (
        <li
          key={pass.id}
          draggable
          className={clsx("flex items-start gap-1", dragged?.id === pass.id && "opacity-40")}
          onDragStart={(e) => {
            e.dataTransfer.effectAllowed = "move";
            setDragged(pass);
          }}
          onDragEnter={() => setTarget(pass.id)}
          onDragEnd={() => setDragged(null)}
        >
          <ChevronRight size={12} className="mt-[24px] shrink-0 text-quiet" aria-hidden />
          <PassCard pass={pass} number={n} count={passes.length} url={url(n + 1)} marked={target === pass.id && dragged !== null && dragged.id !== pass.id} />
        </li>
      ))}
      <li className="flex items-start gap-1">
        <ChevronRight size={12} className="mt-[24px] shrink-0 text-quiet" aria-hidden />
        <AddPass invite={passes.length === 0} />
        {passes.length === 0 && (
          <button type="button" className="flex h-[66px] w-[142px] items-center justify-center gap-2 border border-dashed border-strong text-quiet hover:border-ink hover:text-ink" onClick={() => app.sheets.setState({ shelf: true })}>
            <Library size={15} /> Take a look
          </button>
        )}
      </li>
    </ol>
  );
}

function PassCard({ pass, number, count, url, marked }: { pass: Pass; number: number; count: number; url: string; marked: boolean }) {
  const askName = useAskName();
  const engine = useEngine();
  const passId = useChoice((s) => s.passId);
  const upTo = useStage((s) => s.upTo);
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
        { name: on ? "Bypass" : "Switch on", aside: "X", onSelect: () => switchPass(engine, pass) },
        { name: "Rename…", onSelect: () => askName("Rename the pass", pass.name, (name) => renamePass(engine, pass, name)) },
        { name: "Duplicate", onSelect: () => duplicatePass(engine, pass) },
        { name: "Copy for another shot", onSelect: () => copyPass(engine, pass) },
        { name: "Copy a link to this pass", onSelect: () => copyLink(engine, pass) },
        { name: "Save on the shelf…", onSelect: () => askName("Save this pass on the shelf", pass.name, (name) => void saveOnShelf(engine, name, "", pass.id)) },
        { name: "Earlier", disabled: number === 0, onSelect: () => shiftPass(engine, pass, -1) },
        { name: "Later", disabled: number === count - 1, onSelect: () => shiftPass(engine, pass, 1) },
        "line",
        { name: "Remove", aside: "Del", onSelect: () => removePass(engine, pass) },
      ]}
    />
  );
  const choose = () => engine.put(chosen ? { upTo: !upTo, solo: false, show: "result" } : { passId: pass.id, show: "result" });
  return <Card name={`${number + 1} ${pass.name}`} aside={aside} url={url} chosen={chosen} dim={!on || !known} upTo={chosen && upTo} marked={marked} onChoose={choose} menu={menu} />;
}

type CardProps = { name: string; aside: string; url: string; chosen: boolean; dim?: boolean; upTo?: boolean; marked?: boolean; onChoose: () => void; menu?: React.ReactNode };

function Card({ name, aside, url, chosen, dim, upTo, marked, onChoose, menu }: CardProps) {
  const begun = useStage((s) => s.begun);
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
