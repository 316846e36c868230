import { memo, useRef, useState, type KeyboardEvent, type PointerEvent, type RefObject } from "react";

import { ask, client } from "../../api/client";
import type { ParamInfo, Pass } from "../../api/types";
import { addStop, background, changeStop, evenly, named, removeStop, reversed, type Loose, type Stop } from "../../colour/stops";
import type { Change } from "../../engine/target";
import { ColourField, Swatch } from "../../ui/colour";
import { FileInput } from "../../ui/fileinput";
import { useHeld } from "../../ui/held";
import { Menu } from "../../ui/menu";
import { SmallNumber } from "../../ui/small";
import { useDrag } from "../../ui/drag";
import { useSay } from "../../ui/notices";
import { useAskFor } from "../../ui/prompt";
import { readStops, stopsText } from "../../colour/typed";
import { useEngine } from "../engine";

type Props = {
  pass: Pass;
  info: ParamInfo;
  /** As they are at the frame on screen. */
  value: Loose[];
  look: { mixing?: string; space?: string };
  palettes: [string, Loose[]][];
};

const OFF = 28; // pixels below the bar from which a dragged stop is taken away

/** The stops of a gradient on the gradient itself: click to add, drag to move, drag off to remove. */
export function GradientEditor({ pass, info, value, look, palettes }: Props) {
  const { target: looks, around } = useEngine();
  const say = useSay();
  const askFor = useAskFor();
  const { name } = info;
  const target = `passes/${pass.id}/params/${info.key}`;
  const changed = (change: Change<Stop[]>) => looks.items(target, info, named, change);
  const live = (change: Change<Stop[]>) => looks.display(changed(change));
  const commit = (change: Change<Stop[]>, words: string) => void looks.store(changed(change), `${pass.name}: ${words}`);
  const held = useHeld<Stop[]>(live, commit);
  const [chosen, setChosen] = useState("");
  const bar = useRef<HTMLDivElement>(null);
  const file = useRef<HTMLInputElement>(null);
  const stops = named(value);
  const current = stops.find((s) => s.id === chosen) ?? stops[0]!;
  const at = stops.indexOf(current);
  const called = (id: string) => `stop ${stops.findIndex((s) => s.id === id) + 1}`;
  const placeOf = (id: string) => looks.shown<Stop[]>(target, info).find((s) => s.id === id)?.position ?? 0;
  const whole = (list: Loose[], words: string) => held.commit(() => named(list), words);

  const percent = (e: PointerEvent) => {
    const box = bar.current!.getBoundingClientRect();
    return ((e.clientX - box.left) / box.width) * 100;
  };
  const { begin, handlers } = useDrag<{ id: string; off: boolean; words: string }>({
    move: (d, e) => {
      const box = bar.current!.getBoundingClientRect();
      const to = percent(e);
      held.drag((now) => changeStop(now, d.id, { position: to }));
      return { ...d, off: e.clientY > box.bottom + OFF || e.clientY < box.top - OFF };
    },
    end: (d) => (d.off ? held.commit((now) => removeStop(now, d.id), `${called(d.id)} removed`) : held.rest(`${d.words} ${placeOf(d.id)} %`)),
    giveUp: held.drop,
  });
  const grab = (id: string, e: PointerEvent) => {
    e.stopPropagation();
    if (e.button === 0) begin(e, () => (setChosen(id), { id, off: false, words: `${called(id)} from ${placeOf(id)} % to` }), bar.current!);
  };
  const press = (e: PointerEvent) => {
    if (e.button !== 0) return;
    const place = Math.min(Math.max(percent(e), 0), 100);
    begin(e, () => {
      const id = around.newId();
      held.drag((now) => addStop(now, id, place));
      setChosen(id);
      return { id, off: false, words: "a stop at" };
    }, bar.current!);
  };
  const key = (id: string) => (e: KeyboardEvent) => {
    if (e.key === "Delete" || e.key === "Backspace") {
      e.preventDefault();
      e.stopPropagation();
      return held.commit((now) => removeStop(now, id), `${called(id)} removed`);
    }
    const by = { ArrowLeft: -1, ArrowRight: 1 }[e.key];
    if (!by) return;
    e.preventDefault();
    e.stopPropagation();
    const far = by * (e.shiftKey ? 10 : e.altKey ? 0.1 : 1);
    setChosen(id);
    held.step((now) => changeStop(now, id, { position: (now.find((s) => s.id === id)?.position ?? 0) + far }), `${called(id)} moved`);
  };
  const colour = (hex: string): Change<Stop[]> => (now) => changeStop(now, current.id, { colour: hex });
  const store = (hex: string) => commit(colour(hex), `${called(current.id)} ${current.colour} → ${hex}`);
  const place = (to: number) => commit((now) => changeStop(now, current.id, { position: to }), `${called(current.id)} from ${current.position} % to ${to} %`);
  const read = async (text: string) => {
    try {
      whole(await ask(client.POST("/api/gradients/read", { body: { text } })), `${name.toLowerCase()} from a file`);
    } catch (error) {
      say(error instanceof Error ? error.message : "The gradient was not read.", { bad: true });
    }
  };
  const tools = useRef<ToolsDo>(null!);
  tools.current = {
    reverse: () => held.commit(reversed, "stops reversed"),
    even: () => held.commit(evenly, "stops spread evenly"),
    remove: () => held.commit((now) => removeStop(now, current.id), `${called(current.id)} removed`),
    take: whole,
    open: () => file.current?.click(),
    paste: () => void paste(),
    type: () =>
      askFor({
        title: `${name} of ${pass.name}`,
        label: "Stops",
        help: "One stop a line: a colour and where it lies. Hexes or CSS colours; without places they lie evenly. A CSS gradient can be pasted too.",
        value: stopsText(stops),
        lines: true,
        save: "Put them in",
        check: (text) => ((found) => ("wrong" in found ? found.wrong : null))(readStops(text)),
        done: (text) => ((found) => "found" in found && whole(found.found, `${found.found.length} stops typed`))(readStops(text)),
      }),
    save: (kind) => void save(say, stops, kind),
  };
  const paste = () => navigator.clipboard.readText().then(read, () => say("The browser does not let this page read the clipboard.", { bad: true }));
  return (
    <div className="mb-1">
      <div ref={bar} role="group" aria-label={name} className="relative h-[48px] touch-none" onPointerDown={press} {...handlers}>
        <div className="h-[30px] cursor-copy border border-line" style={{ background: background(stops, look) }} title="Click to add a stop" />
        {stops.map((s, n) => (
          <button
            key={s.id}
            type="button"
            role="slider"
            aria-label={`Stop ${n + 1} of ${stops.length}`}
            aria-valuenow={s.position}
            aria-valuemin={0}
            aria-valuemax={100}
            aria-valuetext={`${s.position} %, ${s.colour}`}
            title={`${s.position} %, ${s.colour}: drag, or drag off to remove`}
            className="absolute top-[24px] h-[20px] w-[11px] -translate-x-1/2 cursor-ew-resize border"
            style={{ left: `${s.position}%`, background: s.colour, borderColor: n === at ? "var(--ink)" : "var(--strong-line)", boxShadow: n === at ? "0 0 0 1px var(--ink)" : undefined }}
            onPointerDown={(e) => grab(s.id, e)}
            onFocus={() => setChosen(s.id)}
            onKeyDown={key(s.id)}
          />
        ))}
      </div>
      <div className="flex items-center gap-2">
        <Swatch label={`Stop ${at + 1}`} value={current.colour} onLive={(c) => live(colour(c))} onCommit={store} />
        <ColourField label="Stop colour" value={current.colour} onCommit={store} />
        <SmallNumber className="w-[70px]" name="at" label="Stop position" value={current.position} low={0} high={100} step={1} unit="%" onCommit={place} />
        <span className="flex-1 text-right text-[12px] text-quiet">
          {at + 1} of {stops.length}
        </span>
      </div>
      <Tools latest={tools} many={stops.length > 1} palettes={palettes} />
      <FileInput ref={file} label="Gradient file" accept=".svg,.css,.txt" onFile={(found) => void found.text().then(read)} />
    </div>
  );
}

type ToolsDo = { reverse: () => void; even: () => void; remove: () => void; take: (list: Loose[], words: string) => void; type: () => void; open: () => void; paste: () => void; save: (kind: "svg" | "css") => void };

/** What is done with all stops at once: the same while one of them is dragged. */
const Tools = memo(function Tools({ latest, many, palettes }: { latest: RefObject<ToolsDo>; many: boolean; palettes: [string, Loose[]][] }) {
  const button = (name: string, run: () => void, disabled = false) => (
    <button type="button" className="as-button hover:text-ink" disabled={disabled} onClick={run}>
      {name}
    </button>
  );
  return (
    <div className="mt-1.5 flex items-center gap-3 text-[12px] text-quiet">
      {button("Reverse", () => latest.current.reverse())}
      {button("Even", () => latest.current.even())}
      {button("Remove", () => latest.current.remove(), !many)}
      {button("Type…", () => latest.current.type())}
      <span className="flex-1" />
      <Menu
        trigger={
          <button type="button" className="as-button hover:text-ink">
            Palettes ▾
          </button>
        }
        items={[
          ...palettes.map(([title, list]) => ({ name: title, swatch: background(list), onSelect: () => latest.current.take(list, title) })),
          "line",
          { name: "From an SVG or CSS file…", onSelect: () => latest.current.open() },
          { name: "From CSS on the clipboard", onSelect: () => latest.current.paste() },
          { name: "Save as SVG", onSelect: () => latest.current.save("svg") },
          { name: "Copy as CSS", onSelect: () => latest.current.save("css") },
        ]}
      />
    </div>
  );
});

type Say = ReturnType<typeof useSay>;

async function save(say: Say, stops: Stop[], kind: "svg" | "css") {
  let text: string;
  try {
    text = await ask(client.POST("/api/gradients/write", { body: { stops, kind, name: "Gradient" }, parseAs: "text" }));
  } catch (error) {
    return say(error instanceof Error ? error.message : "The gradient was not written.", { bad: true });
  }
  if (kind === "css") return void navigator.clipboard.writeText(text).then(() => say("The gradient is on the clipboard as CSS."), () => say(text));
  download(text, "gradient.svg", "image/svg+xml");
}

/** Hand a text over as a file. */
export function download(text: string, name: string, type: string) {
  const link = Object.assign(document.createElement("a"), { href: URL.createObjectURL(new Blob([text], { type })), download: name });
  link.click();
  URL.revokeObjectURL(link.href);
}
