import { useRef, useState, type KeyboardEvent, type PointerEvent } from "react";

import { ask, client } from "../../api/client";
import { addStop, background, evenly, moveStop, removeStop, reversed, type Stop } from "../../colour/stops";
import { ColourField, Swatch } from "../../ui/colour";
import { FileInput } from "../../ui/fileinput";
import { useHeld } from "../../ui/held";
import { Menu } from "../../ui/menu";
import { SmallNumber } from "../../ui/small";
import { useDrag } from "../../ui/drag";
import { useSay } from "../../ui/notices";

type Props = {
  name: string;
  value: Stop[];
  look: { mixing?: string; space?: string };
  palettes: [string, Stop[]][];
  onLive: (v: Stop[]) => void;
  onCommit: (v: Stop[], words?: string) => void;
};

const OFF = 28; // pixels below the bar from which a dragged stop is taken away

/** The stops of a gradient on the gradient itself: click to add, drag to move, drag off to remove. */
export function GradientEditor({ name, value, look, palettes, onLive, onCommit }: Props) {
  const say = useSay();
  const held = useHeld<Stop[]>(value, onLive, onCommit);
  const [chosen, setChosen] = useState(0);
  const bar = useRef<HTMLDivElement>(null);
  const file = useRef<HTMLInputElement>(null);
  const stops = held.shown;
  const at = Math.min(chosen, stops.length - 1);
  const current = stops[at]!;

  const percent = (e: PointerEvent) => {
    const box = bar.current!.getBoundingClientRect();
    return ((e.clientX - box.left) / box.width) * 100;
  };
  const { begin, handlers } = useDrag<{ at: number; off: boolean }>({
    move: (d, e) => {
      const box = bar.current!.getBoundingClientRect();
      const next = moveStop(stops, d.at, percent(e));
      setChosen(next.at);
      held.drag(next.stops);
      return { at: next.at, off: e.clientY > box.bottom + OFF || e.clientY < box.top - OFF };
    },
    end: (d) => held.commit(d.off ? removeStop(stops, d.at) : stops),
    giveUp: held.drop,
  });
  const grab = (n: number, e: PointerEvent) => {
    e.stopPropagation();
    begin(e, { at: n, off: false }, bar.current!);
    setChosen(n);
  };
  const press = (e: PointerEvent) => {
    if (e.button !== 0) return;
    const next = addStop(stops, Math.min(Math.max(percent(e), 0), 100));
    held.drag(next.stops);
    grab(next.at, e);
  };
  const key = (n: number) => (e: KeyboardEvent) => {
    if (e.key === "Delete" || e.key === "Backspace") {
      e.preventDefault();
      e.stopPropagation();
      return held.commit(removeStop(stops, n));
    }
    const by = { ArrowLeft: -1, ArrowRight: 1 }[e.key];
    if (!by) return;
    e.preventDefault();
    e.stopPropagation();
    const next = moveStop(stops, n, stops[n]!.position + by * (e.shiftKey ? 10 : e.altKey ? 0.1 : 1));
    setChosen(next.at);
    held.step(next.stops);
  };
  const put = (n: number, colour: string) => stops.map((s, k) => (k === n ? { ...s, colour } : s));
  const place = (v: number) => {
    const next = moveStop(stops, at, v);
    setChosen(next.at);
    held.commit(next.stops);
  };
  const read = async (text: string) => {
    try {
      onCommit(await ask(client.POST("/api/gradients/read", { body: { text } })), `${name} from a file`);
    } catch (error) {
      say(error instanceof Error ? error.message : "The gradient was not read.", { bad: true });
    }
  };
  const paste = () => navigator.clipboard.readText().then(read, () => say("The browser does not let this page read the clipboard.", { bad: true }));
  return (
    <div className="mb-1">
      <div ref={bar} role="group" aria-label={name} className="relative h-[48px] touch-none" onPointerDown={press} {...handlers}>
        <div className="h-[30px] cursor-copy border border-line" style={{ background: background(stops, look) }} title="Click to add a stop" />
        {stops.map((s, n) => (
          <button
            key={n}
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
            onPointerDown={(e) => grab(n, e)}
            onFocus={() => setChosen(n)}
            onKeyDown={key(n)}
          />
        ))}
      </div>
      <div className="flex items-center gap-2">
        <Swatch label={`Stop ${at + 1}`} value={current.colour} onLive={(c) => held.drag(put(at, c))} onCommit={(c) => held.commit(put(at, c))} />
        <ColourField label="Stop colour" value={current.colour} onCommit={(c) => held.commit(put(at, c))} />
        <SmallNumber className="w-[70px]" name="at" label="Stop position" value={current.position} low={0} high={100} step={1} unit="%" onCommit={place} />
        <span className="flex-1 text-right text-[12px] text-quiet">
          {at + 1} of {stops.length}
        </span>
      </div>
      <div className="mt-1.5 flex items-center gap-3 text-[12px] text-quiet">
        <button type="button" className="hover:text-ink" onClick={() => held.commit(reversed(stops))}>
          Reverse
        </button>
        <button type="button" className="hover:text-ink" onClick={() => held.commit(evenly(stops))}>
          Even
        </button>
        <button type="button" className="hover:text-ink" disabled={stops.length < 2} onClick={() => held.commit(removeStop(stops, at))}>
          Remove
        </button>
        <span className="flex-1" />
        <Menu
          trigger={
            <button type="button" className="hover:text-ink">
              Palettes ▾
            </button>
          }
          items={[
            ...palettes.map(([title, list]) => ({ name: title, swatch: background(list), onSelect: () => onCommit(list, `${name}: ${title}`) })),
            "line",
            { name: "From an SVG or CSS file…", onSelect: () => file.current?.click() },
            { name: "From CSS on the clipboard", onSelect: () => void paste() },
            { name: "Save as SVG", onSelect: () => void save(say, stops, "svg") },
            { name: "Copy as CSS", onSelect: () => void save(say, stops, "css") },
          ]}
        />
      </div>
      <FileInput ref={file} label="Gradient file" accept=".svg,.css,.txt" onFile={(found) => void found.text().then(read)} />
    </div>
  );
}

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
