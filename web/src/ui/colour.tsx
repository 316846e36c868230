import { Pipette } from "lucide-react";
import { Popover } from "radix-ui";
import { createContext, useContext, useRef, useState } from "react";

import { hexOf, lchOf } from "../colour/oklch";
import { parseColour } from "../colour/stops";
import { readColours } from "../colour/typed";
import { useAskFor } from "./prompt";
import { useSettling } from "./settle";
import { SmallNumber } from "./small";

/** Takes a colour from what is on screen, and hands it over. */
export const DropperContext = createContext<(take: (hex: string) => void) => void>(() => undefined);

type Change = { value: string; onLive: (hex: string) => void; onCommit: (hex: string) => void };

/** A colour as text: hex or any CSS colour. What is typed is stored before anything else is done. */
export function ColourField({ label, value, onCommit, className }: { label: string; value: string; onCommit: (hex: string) => void; className?: string }) {
  const [text, setText] = useState<string | null>(null);
  const [wrong, setWrong] = useState(false);
  const settling = useSettling(null);
  const store = (typed: string) => {
    const colour = parseColour(typed);
    setWrong(colour === null);
    if (colour === null) return;
    setText(null);
    if (colour !== value) onCommit(colour);
  };
  const submit = () => {
    if (text === null) return;
    settling.forget();
    store(text);
  };
  const type = (typed: string) => {
    setText(typed);
    settling.later(() => store(typed));
  };
  const back = () => {
    setText(null);
    setWrong(false);
    settling.forget();
  };
  return (
    <input
      aria-label={label}
      aria-invalid={wrong}
      spellCheck={false}
      title={wrong ? "Not a colour: type #rrggbb or a CSS colour" : "#rrggbb or a CSS colour"}
      value={text ?? value}
      onFocus={(e) => e.currentTarget.select()}
      onChange={(e) => type(e.currentTarget.value)}
      onBlur={submit}
      onKeyDown={(e) => {
        e.stopPropagation();
        if (e.key === "Enter") submit();
        if (e.key === "Escape") back();
      }}
      className={className ?? `w-[84px] min-w-0 border-b bg-transparent px-0.5 font-semibold outline-none focus:border-ink ${wrong ? "border-dashed border-ink" : "border-line"}`}
    />
  );
}

const LANES = [
  { name: "Lightness", high: 100, unit: "%", step: 1 },
  { name: "Chroma", high: 0.33, unit: "", step: 0.005 },
  { name: "Hue", high: 360, unit: "°", step: 1 },
] as const;

/** A swatch that opens sliders of lightness, chroma and hue. */
export function Swatch({ label, value, onLive, onCommit, size = 22 }: Change & { label: string; size?: number }) {
  return (
    <Popover.Root>
      <Popover.Trigger asChild>
        <button type="button" aria-label={`${label}: ${value}`} title={value} className="shrink-0 border border-strong hover:border-ink" style={{ background: value, width: size, height: size }} />
      </Popover.Trigger>
      <Popover.Portal>
        <Popover.Content align="end" sideOffset={4} collisionPadding={8} aria-label={label} className="z-50 w-[256px] border border-strong bg-raised p-3">
          <Mixer value={value} onLive={onLive} onCommit={onCommit} />
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  );
}

function Mixer({ value, onLive, onCommit }: Change) {
  const take = useContext(DropperContext);
  const dirty = useRef(false); // moved since it was stored
  const [mine, setMine] = useState<{ hex: string; lch: [number, number, number] } | null>(null);
  const lch = mine && mine.hex === value ? mine.lch : lchOf(value); // a grey keeps the hue that was set for it
  const at = (n: number, v: number) => {
    const next = [...lch] as [number, number, number];
    next[n] = n === 0 ? v / 100 : v;
    return next;
  };
  const shown = (n: number) => (n === 0 ? lch[0] * 100 : lch[n]!);
  const send = (n: number, v: number, store: boolean) => {
    const next = at(n, v);
    const hex = hexOf(...next);
    setMine({ hex, lch: next });
    dirty.current = !store;
    (store ? onCommit : onLive)(hex);
  };
  return (
    <div className="flex flex-col gap-2">
      {LANES.map((lane, n) => (
        <div key={lane.name} className="grid grid-cols-[62px_1fr_58px] items-center gap-2">
          <span>{lane.name}</span>
          <input
            type="range"
            aria-label={lane.name}
            min={0}
            max={lane.high}
            step={lane.step}
            value={shown(n)}
            onChange={(e) => send(n, Number(e.currentTarget.value), false)}
            onPointerUp={(e) => dirty.current && send(n, Number(e.currentTarget.value), true)}
            onKeyUp={(e) => dirty.current && send(n, Number(e.currentTarget.value), true)}
            className="lane h-[14px] w-full"
            style={{ background: `linear-gradient(to right, ${Array.from({ length: 13 }, (_, k) => hexOf(...at(n, (k / 12) * lane.high))).join(", ")})` }}
          />
          <SmallNumber label={`${lane.name}, typed`} value={shown(n)} low={0} high={lane.high} step={lane.step} unit={lane.unit} onCommit={(v) => send(n, v, true)} />
        </div>
      ))}
      <div className="flex items-center justify-between">
        <ColourField label="Colour" value={value} onCommit={onCommit} />
        <Popover.Close asChild>
          <button type="button" className="flex h-[24px] items-center gap-1 border border-strong px-2 hover:border-ink" onClick={() => take(onCommit)}>
            <Pipette size={13} /> From the picture
          </button>
        </Popover.Close>
      </div>
    </div>
  );
}

/** One colour of a pass: name, text, swatch. */
export function ColourRow({ name, help, value, onLive, onCommit, fallback }: Change & { name: string; help: string; fallback: string }) {
  return (
    <div className="flex h-[28px] items-center gap-2" data-help={help}>
      <span className="min-w-0 flex-1 truncate" title={`${help} Double-click resets.`} onDoubleClick={() => onCommit(fallback)}>
        {name}
      </span>
      <ColourField label={name} value={value} onCommit={onCommit} />
      <Swatch label={name} value={value} onLive={onLive} onCommit={onCommit} />
    </div>
  );
}

/** A list of colours in order: added, removed, changed. */
export function ColoursRow({ name, help, value, onLive, onCommit, most = 16 }: { name: string; help: string; value: string[]; onLive: (v: string[]) => void; onCommit: (v: string[]) => void; most?: number }) {
  const ask = useAskFor();
  const put = (n: number, hex: string) => value.map((c, k) => (k === n ? hex : c));
  const type = () =>
    ask({
      title: name,
      label: "Colours",
      help: `Hexes or CSS colours, one a line or with commas between them; at most ${most}.`,
      value: value.join("\n"),
      lines: true,
      save: "Put them in",
      check: (text) => ((read) => ("wrong" in read ? read.wrong : read.found.length > most ? `These are ${read.found.length} colours; at most ${most} are taken.` : null))(readColours(text)),
      done: (text) => ((read) => "found" in read && onCommit(read.found))(readColours(text)),
    });
  return (
    <div className="py-1" data-help={help}>
      <div className="flex items-center justify-between" title={help}>
        {name}
        <span className="flex gap-2 text-[12px] text-quiet">
          <button type="button" className="as-button hover:text-ink" title="Type or paste all of them" onClick={type}>
            Type…
          </button>
          <button type="button" className="as-button hover:text-ink" onClick={() => onCommit([...value].reverse())}>
            Reverse
          </button>
          <button type="button" className="as-button hover:text-ink" disabled={!value.length} onClick={() => onCommit(value.slice(0, -1))}>
            − last
          </button>
          <button type="button" className="as-button hover:text-ink" disabled={value.length >= most} onClick={() => onCommit([...value, value.at(-1) ?? "#808080"])}>
            + one
          </button>
        </span>
      </div>
      <div className="mt-1 flex flex-wrap gap-1">
        {value.map((c, n) => (
          <Swatch key={n} label={`${name} ${n + 1}`} value={c} size={26} onLive={(hex) => onLive(put(n, hex))} onCommit={(hex) => onCommit(put(n, hex))} />
        ))}
      </div>
    </div>
  );
}
