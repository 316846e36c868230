import clsx from "clsx";
import { useEffect, useRef, useState } from "react";

import { useCatalogue } from "../api/queries";
import type { Key, KeyInfo, Pick, Selection } from "../api/types";
import { Button, Heading, Segments, Tip } from "../ui/basics";
import { Menu, type MenuItem } from "../ui/menu";
import { HoldButton } from "../ui/small";
import { OwnRow } from "./Pin";
import { SWITCH } from "../engine/lanes";
import { addKey, fit, keyOf, leaveFit, removeKey, removePick, setOfKey, shiftKey, showPickAlone } from "../engine/selections";
import { useChoice, useEngine } from "./engine";

const POINTED = 350; // ms over a pick before it is shown alone

const COMBINE = [
  { value: "add" as const, name: "Add" },
  { value: "intersect" as const, name: "Intersect" },
  { value: "subtract" as const, name: "Subtract" },
];

/** The keys of a selection, in order, and the editor of the chosen one. */
export function Keys({ selection }: { selection: Selection }) {
  const engine = useEngine();
  const { data } = useCatalogue();
  const chosen = useChoice((s) => s.keyId);
  const keys = selection.keys ?? [];
  const key = keyOf(selection, chosen);
  const info = data?.keys.find((k) => k.id === key?.type);
  return (
    <>
      <Heading aside={<Menu trigger={<button type="button" className="as-button">Add a key ▾</button>} items={(data?.keys ?? []).map((k) => ({ name: k.name, onSelect: () => addKey(engine, selection, k) }))} />}>Keys</Heading>
      {keys.length > 1 && (
        <ul aria-label="Keys">
          {keys.map((k, n) => (
            <Row key={k.id} item={k} first={n === 0} last={n === keys.length - 1} chosen={k.id === key?.id} selection={selection} name={data?.keys.find((i) => i.id === k.type)?.name ?? k.type} />
          ))}
        </ul>
      )}
      {key && info && <Editor key={key.id} selection={selection} item={key} info={info} first={key === keys[0]} alone={keys.length === 1} />}
    </>
  );
}

/** How a key combines with those before it; for the first there are none, and what it says is told as what it does. */
const combination = (key: Key, first: boolean) => (!first ? key.combine : key.combine === "subtract" ? "all but it" : "");

type RowProps = { item: Key; first: boolean; last: boolean; chosen: boolean; selection: Selection; name: string };

function Row({ item, first, last, chosen, selection, name }: RowProps) {
  const engine = useEngine();
  const words = `Key ${name.toLowerCase()}`;
  const items: MenuItem[] = [
    { name: item.on ? "Switch off" : "Switch on", onSelect: () => setOfKey(engine, selection, item, "on", !item.on, `${words} switched ${item.on ? "off" : "on"}`) },
    ...COMBINE.map((c) => ({ name: c.name, checked: item.combine === c.value, onSelect: () => setOfKey(engine, selection, item, "combine", c.value, `${words}: ${c.value}`) })),
    "line",
    { name: "Earlier", disabled: first, onSelect: () => shiftKey(engine, selection, item, -1, `${words} moved`) },
    { name: "Later", disabled: last, onSelect: () => shiftKey(engine, selection, item, 1, `${words} moved`) },
    { name: "Remove", onSelect: () => removeKey(engine, selection, item, `${words} removed`) },
  ];
  return (
    <li className={clsx("flex h-[26px] items-center border-b border-line", chosen && "bg-raised", !item.on && "text-quiet line-through")}>
      <button type="button" aria-pressed={chosen} className="flex h-full flex-1 items-center justify-between text-left" onClick={() => engine.choice.set({ keyId: item.id! })}>
        {name}
        <span className="text-quiet">{combination(item, first)}</span>
      </button>
      <Menu trigger={<button type="button" aria-label={`Do something with the key ${name.toLowerCase()}`} className="h-full min-w-[24px] px-1.5 text-quiet hover:text-ink">⋯</button>} items={items} />
    </li>
  );
}

type EditorProps = { selection: Selection; item: Key; info: KeyInfo; first: boolean; alone: boolean };

function Editor({ selection, item, info, first, alone }: EditorProps) {
  const engine = useEngine();
  const params = alone ? info.params : [SWITCH, ...info.params];
  const name = info.name.toLowerCase();
  const [more, setMore] = useState(false);
  const row = (p: (typeof params)[number]) => <OwnRow key={p.key} target={`selections/${selection.id}/keys/${item.id}/${p.key}`} info={p} />;
  return (
    <>
      {alone && <p className="text-[12px] text-quiet">{info.name}: {info.summary.charAt(0).toLowerCase() + info.summary.slice(1)}</p>}
      {(!first || item.combine === "subtract") && (
        <div className="mt-1">
          <Segments boxed label="How the key combines" value={item.combine!} options={COMBINE} onChange={(value) => setOfKey(engine, selection, item, "combine", value, `Key ${name}: ${value}`)} />
        </div>
      )}
      {"picks" in item && <Picks item={item} selection={selection} />}
      <FitAsks selection={selection} item={item} />
      {params.filter((p) => !p.fine).map(row)}
      {params.some((p) => p.fine) && (
        <button type="button" aria-expanded={more} className="as-button mt-1 text-[12px] text-quiet hover:text-ink" onClick={() => setMore(!more)}>
          {more ? "Less ▴" : "More ▾"}
        </button>
      )}
      {more && params.filter((p) => p.fine).map(row)}
    </>
  );
}

/** What a fit would do that selects much more than before; the picture shows it until it is decided on. */
function FitAsks({ selection, item }: { selection: Selection; item: Key }) {
  const engine = useEngine();
  const fitting = useChoice((s) => s.fitting);
  if (!fitting || fitting.key !== item.id) return null;
  const before = () => {
    engine.document.drop();
    return () => engine.document.show(fitting.commands);
  };
  return (
    <div role="alertdialog" aria-label="Fit to picks" className="mb-1.5 border border-strong p-2">
      <p className="font-bold">
        {fitting.before.toFixed(1)} → {fitting.after.toFixed(1)} % of the frame
      </p>
      <p className="text-[12px] text-quiet">The picture shows this fit. It selects much more than before; more picks on the object, or a shape around it, may serve better.</p>
      <div className="mt-1.5 flex items-center gap-1.5">
        <Button look="solid" onClick={() => leaveFit(engine)}>
          Leave as it was
        </Button>
        <Button onClick={() => void fit(engine, selection, item, true)}>Fit anyway</Button>
        <HoldButton tip="Hold to see the picture as it was" onHold={before}>
          before
        </HoldButton>
      </div>
    </div>
  );
}

function Picks({ item, selection }: { item: Extract<Key, { picks?: Pick[] }>; selection: Selection }) {
  const engine = useEngine();
  const picks = item.picks ?? [];
  return (
    <div className="my-1.5 flex flex-wrap items-center gap-1.5">
      {picks.map((p) => (
        <Swatch key={p.id} pick={p} onRemove={() => removePick(engine, selection, item, "picks", p)} onAlone={() => showPickAlone(engine, selection, item, p)} />
      ))}
      {(item.refused ?? []).map((p) => (
        <Swatch key={p.id} pick={p} refused onRemove={() => removePick(engine, selection, item, "refused", p)} />
      ))}
      {picks.length === 0 && (
        <Button look="plain" onClick={() => engine.choice.set({ tool: "add" })}>
          No picks: click one in the picture
        </Button>
      )}
      {item.type === "hue" && picks.length > 0 && (
        <Button className="ml-auto" title="Set tolerance, softness and least chroma from what was picked" onClick={() => void fit(engine, selection, item)}>
          Fit to picks
        </Button>
      )}
    </div>
  );
}

/** A pick as its colour; pointing at it shows what it alone selects, a click removes it. */
function Swatch({ pick, refused, onRemove, onAlone }: { pick: Pick; refused?: boolean; onRemove: () => void; onAlone?: () => () => void }) {
  const timer = useRef(0);
  const undo = useRef<(() => void) | null>(null);
  const enter = () => {
    window.clearTimeout(timer.current);
    timer.current = window.setTimeout(() => (undo.current = onAlone?.() ?? null), POINTED);
  };
  const leave = () => {
    window.clearTimeout(timer.current);
    undo.current?.();
    undo.current = null;
  };
  useEffect(() => leave, []);
  const colour = `rgb(${pick.colour.map((v) => Math.round(Math.min(Math.max(v, 0), 1) * 255)).join(" ")})`;
  const name = refused ? "Not-this pick" : "Pick";
  return (
    <Tip text={`${name} from frame ${pick.frame}. The picture shows what it alone selects; a click removes it.`}>
      <button
        type="button"
        aria-label={`${name} from frame ${pick.frame}: remove`}
        onPointerEnter={enter}
        onPointerLeave={leave}
        onClick={() => {
          leave();
          onRemove();
        }}
        className={clsx("relative h-[26px] w-[26px] overflow-hidden border", refused ? "border-dashed border-ink" : "border-ink")}
        style={{ background: colour }}
      >
        {refused && <span className="absolute top-1/2 left-1/2 h-px w-[40px] -translate-x-1/2 -translate-y-1/2 -rotate-45 bg-white" />}
      </button>
    </Tip>
  );
}
