import clsx from "clsx";
import { useEffect, useRef } from "react";

import { ask, client } from "../../api/client";
import { useCatalogue } from "../../api/queries";
import type { Key, KeyInfo, Pick, Selection } from "../../api/types";
import { edit, enqueue, live } from "../../editor/edits";
import { keysReordered, SWITCH } from "../../editor/lanes";
import { acceptView, bench, selectionPath, setBench, useBench } from "../../editor/store";
import { Button, Heading, Segments, Tip } from "../../ui/basics";
import { Menu, type MenuItem } from "../../ui/menu";
import { say } from "../../ui/notices";
import { AnimatedRow } from "./Pin";

const POINTED = 350; // ms over a pick before it is shown alone

const COMBINE = [
  { value: "add" as const, name: "Add" },
  { value: "intersect" as const, name: "Intersect" },
  { value: "subtract" as const, name: "Subtract" },
];

/** The keys of a selection, in order, and the editor of the chosen one. */
export function Keys({ selection }: { selection: Selection }) {
  const { data } = useCatalogue();
  const chosen = useBench((s) => s.keyNumber);
  const keys = selection.keys ?? [];
  const key = keys[Math.min(chosen, keys.length - 1)];
  const number = key ? keys.indexOf(key) : 0;
  const info = data?.keys.find((k) => k.id === key?.type);
  const path = `${selectionPath(selection.id)}/keys`;
  const add = (k: KeyInfo) => void edit([{ op: "add", path: `${path}/-`, value: { type: k.id, combine: keys.length ? "intersect" : "add" } }], `Key ${k.name.toLowerCase()} added`).then(() => setBench({ keyNumber: keys.length }));
  return (
    <>
      <Heading aside={<Menu trigger={<button type="button">Add a key ▾</button>} items={(data?.keys ?? []).map((k) => ({ name: k.name, onSelect: () => add(k) }))} />}>Keys</Heading>
      {keys.length > 1 && (
        <ul aria-label="Keys">
          {keys.map((k, n) => (
            <Row key={n} item={k} n={n} count={keys.length} chosen={n === number} selectionId={selection.id} path={path} name={data?.keys.find((i) => i.id === k.type)?.name ?? k.type} />
          ))}
        </ul>
      )}
      {key && info && <Editor key={number} selection={selection} item={key} info={info} number={number} path={`${path}/${number}`} alone={keys.length === 1} />}
    </>
  );
}

type RowProps = { item: Key; n: number; count: number; chosen: boolean; selectionId: string; path: string; name: string };

function Row({ item, n, count, chosen, selectionId, path, name }: RowProps) {
  const set = (field: string, value: unknown, words: string) => void edit([{ op: "replace", path: `${path}/${n}/${field}`, value }], words);
  const places = Array.from({ length: count }, (_, k) => k);
  const reorder = (order: number[]) => keysReordered(bench().view!.document, selectionId, order);
  const move = (to: number) => {
    const order = places.filter((k) => k !== n);
    order.splice(to, 0, n);
    void edit([{ op: "move", from: `${path}/${n}`, path: `${path}/${to}` }, ...reorder(order)], `Key ${name.toLowerCase()} moved`);
  };
  const items: MenuItem[] = [
    { name: item.on ? "Switch off" : "Switch on", onSelect: () => set("on", !item.on, `Key ${name.toLowerCase()} switched ${item.on ? "off" : "on"}`) },
    ...COMBINE.map((c) => ({ name: c.name, checked: item.combine === c.value, onSelect: () => set("combine", c.value, `Key ${name.toLowerCase()}: ${c.value}`) })),
    "line",
    { name: "Earlier", disabled: n === 0, onSelect: () => move(n - 1) },
    { name: "Later", disabled: n === count - 1, onSelect: () => move(n + 1) },
    { name: "Remove", onSelect: () => void edit([{ op: "remove", path: `${path}/${n}` }, ...reorder(places.filter((k) => k !== n))], `Key ${name.toLowerCase()} removed`) },
  ];
  return (
    <li className={clsx("flex h-[26px] items-center border-b border-line", chosen && "bg-raised", !item.on && "text-quiet line-through")}>
      <button type="button" aria-pressed={chosen} className="flex flex-1 justify-between text-left" onClick={() => setBench({ keyNumber: n })}>
        {name}
        <span className="text-quiet">{n === 0 && item.combine === "add" ? "" : item.combine}</span>
      </button>
      <Menu trigger={<button type="button" aria-label={`Do something with the key ${name.toLowerCase()}`} className="px-1.5 text-quiet hover:text-ink">⋯</button>} items={items} />
    </li>
  );
}

type EditorProps = { selection: Selection; item: Key; info: KeyInfo; number: number; path: string; alone: boolean };

function Editor({ selection, item, info, number, path, alone }: EditorProps) {
  const values = item as unknown as Record<string, number | boolean>;
  const params = alone ? info.params : [SWITCH, ...info.params];
  return (
    <>
      {alone && <p className="text-[12px] text-quiet">{info.name}: {info.summary.charAt(0).toLowerCase() + info.summary.slice(1)}</p>}
      {!alone && number > 0 && (
        <div className="mt-1">
          <Segments boxed label="How the key combines" value={item.combine!} options={COMBINE} onChange={(value) => void edit([{ op: "replace", path: `${path}/combine`, value }], `Key ${info.name.toLowerCase()}: ${value}`)} />
        </div>
      )}
      {"picks" in item && <Picks item={item} path={path} selection={selection} number={number} />}
      {params.map((p) => {
        return <AnimatedRow key={p.key} target={`selections/${selection.id}/keys/${number}/${p.key}`} info={p} plain={values[p.key] ?? p.default} />;
      })}
    </>
  );
}

function fit(selection: string, key: number) {
  return enqueue(async () => {
    const view = bench().view;
    if (!view) return;
    try {
      const answer = await ask(client.POST("/api/shots/{shot_id}/fit", { params: { path: { shot_id: view.shot.id } }, body: { base: view.revision, selection, key } }));
      acceptView(answer.view);
      say(answer.words, answer.apart ? {} : { bad: true, action: { name: "Draw a shape", run: () => setBench({ drawing: "ellipse", shapeId: null }) } });
    } catch (error) {
      say(error instanceof Error ? error.message : "That did not work.", { bad: true });
    }
  });
}

function Picks({ item, path, selection, number }: { item: Extract<Key, { picks?: Pick[] }>; path: string; selection: Selection; number: number }) {
  const remove = (field: "picks" | "refused", n: number) => void edit([{ op: "remove", path: `${path}/${field}/${n}` }], field === "picks" ? "Pick removed" : "Not-this pick removed");
  const picks = item.picks ?? [];
  /** While a pick is pointed at: what it alone selects. */
  const alone = (p: Pick) => {
    const shown = bench().show;
    live([
      { op: "replace", path: `${path}/picks`, value: [p] },
      { op: "replace", path: `${path}/refused`, value: [] },
    ]);
    setBench({ show: "selected" });
    return () => {
      if (!bench().saving) live([]);
      setBench({ show: shown });
    };
  };
  return (
    <div className="my-1.5 flex flex-wrap items-center gap-1.5">
      {picks.map((p, n) => (
        <Swatch key={n} pick={p} onRemove={() => remove("picks", n)} onAlone={() => alone(p)} />
      ))}
      {(item.refused ?? []).map((p, n) => (
        <Swatch key={`not-${n}`} pick={p} refused onRemove={() => remove("refused", n)} />
      ))}
      {picks.length === 0 && (
        <Button look="plain" onClick={() => setBench({ tool: "add" })}>
          No picks: click one in the picture
        </Button>
      )}
      {item.type === "hue" && picks.length > 0 && (
        <Button className="ml-auto" title="Set tolerance, softness and least chroma from what was picked" onClick={() => void fit(selection.id, number)}>
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
