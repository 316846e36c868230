import { HelpButton } from "./HelpButton";
import clsx from "clsx";
import { useQuery } from "@tanstack/react-query";
import { useEffect, useRef, useState } from "react";

import { ask, client } from "../api/client";
import { useCatalogue } from "../api/queries";
import type { Pass, MainColour, Selection } from "../api/types";
import { Button, Heading, Segments, Tip } from "../ui/basics";
import { Menu, type MenuItem } from "../ui/menu";
import { OwnRow } from "./Pin";
import { Census } from "./Census";
import { Islands } from "./Islands";
import { Keys } from "./Keys";
import { Objects } from "./Objects";
import { Shapes } from "./Shapes";
import { type Tool } from "../engine/choice";
import { duplicateSelection, keyedTheOlderWay, pick, removeSelection, renameSelection, renew, setReads, usersOf } from "../engine/selections";
import { useChoice, useEngine, useSelection, useSettledFrame, useStage, useStored, useView } from "./engine";
import { useAskName } from "../ui/prompt";
import { passesOf, selectionsOf } from "../engine/scene";

/** Where a look works: the selection, its keys, its edge, its shapes. */
export function Where() {
  const selection = useSelection();
  return (
    <>
      <div className="flex h-[40px] items-center justify-between gap-2">
        <span className="flex items-baseline gap-0.5">
          <h2 className="text-[18px] font-bold">Where</h2>
          <HelpButton of="Where" page="bench" part="where" />
        </span>
        {selection && (
          <span className="flex min-w-0 items-center text-quiet">
            <SelectionMenu selection={selection} />
            <Coverage />
          </span>
        )}
      </div>
      <Census />
      <Tools />
      {!selection && <FirstPick />}
      <Suggested />
      {selection && <Keys key={selection.id} selection={selection} />}
      <Objects />
      <Shapes />
      {selection && (
        <>
          <Islands />
          <CleaningPanel selection={selection} />
        </>
      )}
    </>
  );
}

function FirstPick() {
  const engine = useEngine();
  const tool = useChoice((s) => s.tool);
  return (
    <div className="mt-3 border border-dashed border-strong p-3">
      <p className="font-bold">Click the colour that stays.</p>
      <p className="mt-1 text-quiet">A mid-tone of the object, not its brightest or darkest part. Lit and shaded parts are added with further clicks.</p>
      {tool === "hand" && (
        <Button look="solid" className="mt-2" title="A click in the picture then selects its colour" does="pick" onClick={() => engine.choice.set({ tool: "pick" })}>
          Pick a colour
        </Button>
      )}
    </div>
  );
}

const TOOLS: { value: Tool; name: string; tip: string; does: string }[] = [
  { value: "pick", name: "New pick", tip: "A click starts a new selection", does: "pick" },
  { value: "add", name: "Add pick", tip: "A click widens this selection", does: "add pick" },
  { value: "refuse", name: "Not this", tip: "A click narrows this selection", does: "not this" },
  { value: "hand", name: "Hand", tip: "Drag the picture", does: "hand" },
];

function Tools() {
  const engine = useEngine();
  const tool = useChoice((s) => s.tool);
  const selection = useSelection();
  const patch = useChoice((s) => s.patch);
  return (
    <div className="mt-2">
      <Segments
        boxed
        wide
        label="What a click in the picture does"
        value={tool}
        onChange={(value) => engine.choice.set({ tool: value, drawing: null })}
        options={TOOLS.map((t) => ({ ...t, disabled: !selection && (t.value === "add" || t.value === "refuse") }))}
      />
      <div className="mt-0.5 flex items-center justify-between text-[12px] text-quiet">
        <span>A click takes the median of</span>
        <Menu
          trigger={<button type="button" className="as-button">{patch === 1 ? "one pixel" : `${patch} × ${patch} pixels`} ▾</button>}
          items={[1, 3, 5, 9, 15, 25, 51].map((n) => ({ name: n === 1 ? "one pixel" : `${n} × ${n} pixels`, checked: n === patch, onSelect: () => engine.choice.set({ patch: n }) }))}
        />
      </div>
    </div>
  );
}

/** The frame's main colours, each one click from a selection. */
function Suggested() {
  const engine = useEngine();
  const { shot, footage } = useView();
  const begun = useStage((s) => s.begun);
  const frame = useSettledFrame();
  const { data, isPlaceholderData: old } = useQuery({
    queryKey: ["colours", footage.id || shot.id, frame],
    enabled: begun,
    placeholderData: (old) => old,
    queryFn: () => ask(client.GET("/api/shots/{shot_id}/colours/{frame}", { params: { path: { shot_id: shot.id, frame } } })),
  });
  const colours = useRef<HTMLDivElement>(null);
  const asked = useChoice((s) => s.asks?.selection ?? null);
  useEffect(() => {
    // What is asked for can be answered from the keyboard at once; who is elsewhere is left there, and who stood on a colour that went is led back.
    if (asked && data && !old && document.activeElement === document.body) colours.current?.querySelector("button")?.focus();
  }, [asked, data, old]);
  if (!data?.length) return null;
  const css = (c: MainColour) => `rgb(${c.colour.map((v) => Math.round(Math.min(Math.max(v, 0), 1) * 255)).join(" ")})`;
  return (
    <>
      <Heading>Main colours here</Heading>
      <div ref={colours} className="flex gap-1.5" role="group" aria-label="Main colours">
        {data.slice(0, 7).map((c) => (
          <Tip key={`${c.x},${c.y}`} text={`${c.name}, ${c.coverage.toFixed(1)} % of the frame: select it`}>
            <button type="button" aria-label={`Select ${c.name}`} className="h-[20px] max-w-[72px] flex-1 border border-line hover:border-ink" style={{ background: css(c) }} onClick={() => void pick(engine, c.x, c.y, false, asked, undefined, c.name)} />
          </Tip>
        ))}
      </div>
    </>
  );
}

/** How much of the frame is selected. */
function Coverage() {
  const coverage = useStage((s) => s.coverage);
  const settled = useStage((s) => s.settled);
  if (coverage === null) return null;
  return (
    <span className={clsx("shrink-0", !settled && "opacity-40")} aria-label="Coverage" aria-busy={!settled} title={settled ? "Share of the frame that is selected" : "Of the picture before: it is measured anew"}>
      {coverage.toFixed(1)} %
    </span>
  );
}

function SelectionMenu({ selection }: { selection: Selection }) {
  const askName = useAskName();
  const engine = useEngine();
  const all = useStored(selectionsOf);
  const view = useView();
  const frame = useSettledFrame();
  const users = usersOf(engine, selection.id).map((p) => p.name);
  const matte = (s: Selection) => `/api/shots/${view.shot.id}/pictures/${view.revision}/${frame}.jpg?width=96&view=matte&selection=${s.id}`;
  const items: MenuItem[] = [
    ...all.map((s) => ({
      name: s.name,
      image: matte(s),
      aside: usersOf(engine, s.id).map((p) => p.name).join(", ") || "not used",
      checked: s.id === selection.id,
      onSelect: () => engine.choice.set({ selectionId: s.id, keyId: null, shapeId: null }),
    })),
    "line",
    { name: "Rename…", onSelect: () => askName(users.length ? `Rename the selection (used by ${users.join(", ")})` : "Rename the selection", selection.name, (name) => renameSelection(engine, selection, name)) },
    { name: "Duplicate", onSelect: () => duplicateSelection(engine, selection) },
    { name: users.length ? `Remove (bypasses ${users.join(", ")})` : "Remove", onSelect: () => removeSelection(engine, selection) },
  ];
  return (
    <Menu
      trigger={
        <button type="button" className="as-button mr-2 truncate font-semibold text-ink" title="Selections of this look">
          {selection.name} ▾
        </button>
      }
      items={items}
    />
  );
}

/** Cleaning, and what the selection reads. */
function CleaningPanel({ selection }: { selection: Selection }) {
  const engine = useEngine();
  const { data } = useCatalogue();
  const named = useStored((d) => JSON.stringify(passesOf(d).map(({ id, name, selection }) => ({ id, name, selection }))));
  const passes = JSON.parse(named) as Pick<Pass, "id" | "name" | "selection">[];
  const [open, setOpen] = useState(false);
  const values = (selection.cleaning ?? {}) as Record<string, number | boolean>;
  const changed = (data?.cleaning ?? []).filter((p) => Number(values[p.key] ?? p.default) !== p.default).map((p) => p.name.toLowerCase());
  const firstUser = passes.findIndex((p) => p.selection === selection.id);
  const readable = firstUser < 0 ? passes : passes.slice(0, firstUser);
  const reads = passes.find((p) => p.id === selection.reads);
  const choose = (id: string | null, name: string) => setReads(engine, selection, id, name);
  return (
    <>
      {keyedTheOlderWay(selection) && (
        <p className="mt-2 flex items-baseline justify-between gap-2 text-[12px] text-quiet">
          Keyed the older way.
          <button type="button" className="shrink-0 underline hover:text-ink" title="Fits its keys anew and lets its edge follow the picture; both are shown, and one undo takes it back" onClick={() => void renew(engine, selection)}>
            Key it the newer way
          </button>
        </p>
      )}
      <Heading aside={<span className="truncate">{changed.join(", ")}</span>}>
        <button type="button" className="as-button" aria-expanded={open} onClick={() => setOpen(!open)}>
          Cleaning {open ? "▴" : "▾"}
        </button>
      </Heading>
      {open &&
        data?.cleaning.map((p) => <OwnRow key={p.key} target={`selections/${selection.id}/cleaning/${p.key}`} info={p} prefix={`${selection.name}: `} />)}
      <div className="mt-2 flex items-center justify-between">
        <span title="Which picture the colours are matched in">Reads</span>
        <Menu
          trigger={<button type="button" className="as-button font-semibold">{reads ? `after ${reads.name}` : "the source"} ▾</button>}
          items={[
            { name: "the source", checked: !reads, onSelect: () => choose(null, "the source") },
            ...readable.map((p) => ({ name: `after ${p.name}`, checked: p.id === reads?.id, onSelect: () => choose(p.id, `the picture after ${p.name}`) })),
          ]}
        />
      </div>
    </>
  );
}
