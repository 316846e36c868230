import clsx from "clsx";
import { Library } from "lucide-react";
import { createContext, Fragment, memo, useContext, useEffect, useRef, useState, type DragEvent, type MouseEvent, type RefObject } from "react";

import { useCatalogue } from "../api/queries";
import type { Bundle, Pass } from "../api/types";
import { Menu, type MenuItem } from "../ui/menu";
import { useHint } from "../ui/does";
import { useSize } from "../ui/size";
import { Sortable, SortableItem } from "../ui/sortable";
import { AddPass } from "./AddPass";
import { AMOUNT, SWITCH } from "../engine/lanes";
import { duplicatePass, movePass, removePass, renamePass, shiftPass, switchPass } from "../engine/passes";
import { copyLink, copyPass, saveOnShelf } from "../engine/pocket";
import { useApp } from "./app";
import { useAtRest, useChoice, useEngine, useShown, useShownParts, useStage, useValue, useView } from "./engine";
import { useAskName } from "../ui/prompt";
import { bundlesOf, passesOf } from "../engine/scene";
import { bundle, removeBundle, renameBundle, shiftBundle, switchBundle, takeOut, unbundle, unitsOf } from "../engine/bundles";

/** The picture after every pass, always visible. */
export function StageStrip() {
  const engine = useEngine();
  const app = useApp();
  const passes = useShown(passesOf);
  const bundles = useShown(bundlesOf);
  const view = useView();
  const { frame, revision } = useAtRest(passes.map((p) => p.id).join());
  const show = useStage((s) => s.show);
  const open = useChoice((s) => s.open);
  const url = (upto: number) => `/api/shots/${view.shot.id}/stages/${revision}/${frame}.jpg?upto=${upto}`;
  const drop = (e: DragEvent) => {
    e.preventDefault();
    const [file] = e.dataTransfer.files;
    if (file) engine.choice.set({ likeness: { file } }); // a picture: a look like it
  };
  const move = (id: string, before: string | null) => {
    const pass = passes.find((p) => p.id === id);
    if (pass) movePass(engine, pass, before);
  };
  const card = (pass: Pass) => {
    const n = passes.indexOf(pass);
    return (
      <SortableItem key={pass.id} id={pass.id} className={clsx("flex items-start", pass.bundle && "border-t-2 border-strong")}>
        <PassCard pass={pass} number={n} count={passes.length} url={url(n + 1)} />
      </SortableItem>
    );
  };
  const strip = useRef<HTMLOListElement>(null);
  const units = unitsOf(passes, bundles);
  const cards = 1 + units.reduce((n, u) => n + (u.bundle ? 1 : 0) + (!u.bundle || open.includes(u.bundle.id) ? u.passes.length : 0), 0);
  const width = useCardWidth(strip, cards);
  return (
    <WidthContext value={width}>
    <Sortable items={passes} across onMove={move}>
      <ol ref={strip} aria-label="Stages" className="flex h-full items-start overflow-x-auto overflow-y-hidden pt-2 pl-4" onDragOver={(e) => e.preventDefault()} onDrop={drop}>
        <li>
          <Card name="Source" aside={`frame ${frame}`} url={url(0)} chosen={show === "source"} onChoose={() => engine.stage.set({ show: show === "source" ? "result" : "source" })} />
        </li>
        {units.map(({ bundle, passes: members }) => (
          <Fragment key={bundle?.id ?? members[0]!.id}>
            {bundle && <BundleCard bundle={bundle} members={members} url={url(passes.indexOf(members.at(-1)!) + 1)} />}
            {(!bundle || open.includes(bundle.id)) && members.map((pass) => card(pass))}
          </Fragment>
        ))}
        <li className="sticky right-0 flex items-start gap-1 bg-ground pr-3 pl-1">
          <AddPass invite={passes.length === 0} />
          {passes.length === 0 && (
            <button type="button" className="flex h-[60px] w-[142px] items-center justify-center gap-2 border border-dashed border-strong text-quiet hover:border-ink hover:text-ink" onClick={() => app.dialogs.setState({ shelf: true })}>
              <Library size={15} /> Take a look
            </button>
          )}
        </li>
      </ol>
    </Sortable>
    </WidthContext>
  );
}

/** A bundle as one card, that opens to show its passes. */
function BundleCard({ bundle, members, url }: { bundle: Bundle; members: Pass[]; url: string }) {
  const askName = useAskName();
  const engine = useEngine();
  const open = useChoice((s) => s.open);
  const chosen = useChoice((s) => s.bundleId) === bundle.id;
  const upTo = useStage((s) => s.upTo);
  const on = useValue(`bundles/${bundle.id}/on`, SWITCH, bundle.on) === true;
  const isOpen = open.includes(bundle.id);
  const passId = useChoice((s) => s.passId);
  const within = members.some((p) => p.id === passId);
  const toggle = () => engine.choice.set({ open: isOpen ? open.filter((id) => id !== bundle.id) : [...open, bundle.id] });
  const menu = (
    <CardMenu
      name={bundle.name}
      items={[
        { name: isOpen ? "Close" : "Open", onSelect: toggle },
        { name: on ? "Bypass" : "Switch on", onSelect: () => switchBundle(engine, bundle) },
        { name: "Rename…", onSelect: () => askName("Rename the bundle", bundle.name, (name) => renameBundle(engine, bundle, name)) },
        { name: "Take apart", onSelect: () => unbundle(engine, bundle) },
        { name: "Earlier", onSelect: () => shiftBundle(engine, bundle, -1) },
        { name: "Later", onSelect: () => shiftBundle(engine, bundle, 1) },
        "line",
        { name: "Remove with its passes", onSelect: () => removeBundle(engine, bundle) },
      ]}
    />
  );
  const how = useHow(`bundles/${bundle.id}`, bundle);
  const choose = () => {
    engine.choice.chooseBundle(bundle.id, members.at(-1)!.id);
    engine.stage.set({ show: "result" });
  };
  return (
    <li className="flex items-start">
      <div className="relative">
        <Card name={bundle.name} aside={on ? [`${members.length} ${members.length === 1 ? "pass" : "passes"}`, ...how].join(" · ") : "bypassed"} url={url} chosen={chosen || (!isOpen && within)} dim={!on} upTo={chosen && upTo} onChoose={choose} menu={menu} />
        <button type="button" aria-expanded={isOpen} aria-label={`${isOpen ? "Close" : "Open"} ${bundle.name}`} title={isOpen ? "Close the bundle" : "Open the bundle: its passes"} className="absolute top-[2px] left-[2px] h-[24px] w-[24px] bg-black text-white" onClick={toggle}>
          {isOpen ? "◂" : "▸"}
        </button>
      </div>
    </li>
  );
}

/** How much of a pass or bundle there is and how it is laid over, as far as that is out of the ordinary. */
function useHow(target: string, item: { amount?: number; blend?: string }): string[] {
  const { data } = useCatalogue();
  const plain = item.amount ?? 100;
  const amount = Number(useValue(`${target}/amount`, data?.amount ?? AMOUNT, plain));
  const blend = item.blend ?? "normal";
  return [...(blend === "normal" ? [] : [blend]), ...(amount === 100 ? [] : [`${Math.round(amount)} %`])];
}

function CardMenu({ name, items }: { name: string; items: MenuItem[] }) {
  return (
    <Menu
      align="start"
      trigger={
        <button type="button" aria-label={`Do something with ${name}`} className="absolute top-[2px] right-[2px] h-[24px] w-[24px] bg-black leading-none font-bold text-white opacity-0 group-hover:opacity-100 focus-visible:opacity-100 data-[state=open]:opacity-100">
          ⋯
        </button>
      }
      items={items}
    />
  );
}

const OF_CARD = ["id", "name", "on", "treatment", "side", "blend", "amount", "bundle"] as const;
type PassCardProps = { pass: Pass; number: number; count: number; url: string };

/** The same card: what is dragged in the pass is not on it. */
const sameCard = (a: PassCardProps, b: PassCardProps) =>
  OF_CARD.every((key) => a.pass[key] === b.pass[key]) && a.number === b.number && a.count === b.count && a.url === b.url;

const PassCard = memo(function PassCard({ pass, number, count, url }: PassCardProps) {
  const askName = useAskName();
  const engine = useEngine();
  const now = () => engine.passes.find((p) => p.id === pass.id) ?? pass; // the card may be older than the values of the pass
  const passId = useChoice((s) => s.passId);
  const upTo = useStage((s) => s.upTo);
  const { data } = useCatalogue();
  const known = !data || data.treatments.some((t) => t.id === pass.treatment);
  const bundleId = useChoice((s) => s.bundleId);
  const run = useChoice((s) => s.marked);
  const chosen = pass.id === passId && !bundleId;
  const on = useValue(`passes/${pass.id}/on`, SWITCH, pass.on) === true;
  const how = useHow(`passes/${pass.id}`, pass);
  const aside = !known ? "unknown, bypassed" : on ? [pass.side === "everywhere" ? "all" : pass.side!, ...how].join(" · ") : "bypassed";
  const ends = useShownParts((d) => (run && passId ? [run, passId].map((id) => passesOf(d).findIndex((p) => p.id === id)).sort((a, b) => a - b) : null));
  const inMarked = !!ends && number >= ends[0]! && number <= ends[1]!;
  const own = useShown((d) => bundlesOf(d).find((b) => b.id === pass.bundle));
  const before = useShown((d) => passesOf(d)[number - 1]?.bundle ?? null);
  const bundling: MenuItem[] = [
    "line",
    ...(ends && inMarked ? [{ name: `Bundle these ${ends[1]! - ends[0]! + 1} passes`, onSelect: () => bundle(engine, run!, passId!) }] : []),
    { name: "Bundle with the one before", disabled: number === 0 || (!!own && before === own.id), onSelect: () => bundle(engine, engine.passes[number - 1]!.id, pass.id) },
    ...(own ? [{ name: `Take out of ${own.name}`, onSelect: () => takeOut(engine, now(), own) }] : []),
  ];
  const menu = (
    <CardMenu
      name={pass.name}
      items={[
        { name: on ? "Bypass" : "Switch on", does: "bypass", onSelect: () => switchPass(engine, now()) },
        { name: "Rename…", onSelect: () => askName("Rename the pass", pass.name, (name) => renamePass(engine, now(), name)) },
        { name: "Duplicate", onSelect: () => duplicatePass(engine, now()) },
        { name: "Copy for another shot", onSelect: () => copyPass(engine, now()) },
        { name: "Copy a link to this pass", onSelect: () => copyLink(engine, now()) },
        { name: "Save on the shelf…", onSelect: () => askName("Save this pass on the shelf", pass.name, (name) => void saveOnShelf(engine, name, "", pass.id)) },
        { name: "Earlier", disabled: number === 0, onSelect: () => shiftPass(engine, now(), -1) },
        { name: "Later", disabled: number === count - 1, onSelect: () => shiftPass(engine, now(), 1) },
        ...bundling,
        "line",
        { name: "Remove", does: "remove", onSelect: () => removePass(engine, now()) },
      ]}
    />
  );
  const choose = (e: MouseEvent) => {
    if (e.shiftKey && passId && passId !== pass.id) return engine.choice.set({ marked: pass.id });
    engine.choosePass(pass.id, true);
    engine.choice.set({ marked: null });
  };
  return <Card name={pass.name} aside={aside} url={url} chosen={chosen || inMarked} dim={!on || !known} upTo={chosen && upTo} onChoose={choose} menu={menu} />;
}, sameCard);

type CardProps = { name: string; aside: string; url: string; chosen: boolean; dim?: boolean; upTo?: boolean; onChoose: (e: MouseEvent) => void; menu?: React.ReactNode };

function Card({ name, aside, url, chosen, dim, upTo, onChoose, menu }: CardProps) {
  const engine = useEngine();
  const begun = useStage((s) => s.begun);
  const hint = useHint("up to");
  const width = useContext(WidthContext);
  return (
    <div className={clsx("group relative transition-transform", chosen && "-translate-y-1")} style={{ width }}>
      <button
        type="button"
        aria-pressed={chosen}
        aria-label={name}
        title={menu ? "Shift and a click mark the passes up to this one" : undefined}
        onClick={onChoose}
        className={clsx("relative block w-full overflow-hidden", chosen && "border-2 border-ink", dim && "opacity-45")}
        style={{ height: heightOf(width) }}
      >
        {begun && <SteadyImage url={url} />}
      </button>
      {chosen && menu && (
        <button
          type="button"
          aria-pressed={upTo}
          title={hint(upTo ? "The picture is shown up to here: show the finished one" : "Show the picture up to here")}
          className={clsx("absolute left-0 h-[24px] px-1 text-[11px]", upTo ? "bg-inverse text-inverse-ink" : "bg-black text-white opacity-0 group-hover:opacity-100 focus-visible:opacity-100")}
          style={{ top: heightOf(width) - 24 }}
          onClick={() => engine.stage.set({ upTo: !upTo, solo: false, show: "result" })}
        >
          up to here
        </button>
      )}
      <p className={clsx("mt-0.5 truncate pr-2 text-[12px] leading-[15px]", dim && "line-through")} title={name}>
        <span className="font-semibold">{name}</span>
      </p>
      <p className="truncate pr-2 text-[11px] leading-[14px] text-quiet" title={aside}>
        {aside}
      </p>
      {menu}
    </div>
  );
}

const WIDEST = 112; // pixels of a card that has room
const NARROWEST = 76; // and of one that has little: then the strip is scrolled
const BESIDE = 92; // pixels of the strip that are not cards: its margins, and + at its end
const WidthContext = createContext(WIDEST);
const heightOf = (width: number) => Math.min(60, Math.round((width * 9) / 16));

/** The width of a card: all of them fit side by side as long as each can be told. */
function useCardWidth(strip: RefObject<HTMLElement | null>, cards: number): number {
  const { width } = useSize(strip, { width: 1280, height: 0 });
  return Math.floor(Math.min(Math.max((width - BESIDE) / cards, NARROWEST), WIDEST));
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
