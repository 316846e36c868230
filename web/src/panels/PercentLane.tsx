import { useRef, useState, type KeyboardEvent, type PointerEvent } from "react";

import type { Lane, ParamInfo } from "../api/types";
import { valueAt, type How } from "../engine/lanes";
import { movedPin, type PercentPin, squeezed, withoutPin, withPin } from "../engine/percents";
import { useDrag } from "../ui/drag";
import { useSize } from "../ui/size";
import { Choice } from "../ui/choice";
import { Post } from "./Pin";
import { PlaceField } from "./TimeField";

const HEIGHT = 58;
const PAD = 6; // pixels beside and above the pins
const SAMPLES = 120;
const NEAR = 8; // pixels: a double-click there means the pin that there is
const PERCENT = { kind: "number", low: 0, high: 100, step: 1 } as unknown as ParamInfo;

type Props = {
  name: string;
  pins: PercentPin[];
  /** The last place that a pin may have; the first is 0. */
  end: number;
  /** Places in a frame. */
  step: number;
  /** The frame at the first place, and how many of them are in a second. */
  first: number;
  rate: number;
  /** Where the playhead is, where that is within. */
  at: number | null;
  onLive: (pins: PercentPin[] | null) => void;
  onCommit: (pins: PercentPin[], words: string) => void;
};
type Drag = { grab: number; top: number; pin: PercentPin; from: PercentPin[]; squeeze: boolean; to: PercentPin[] | null };

/** Percents over a stretch of time, with their pins: dragged in both directions, all of them squeezed with Alt, put by a double-click. */
export function PercentLane({ name, pins, end, step, first, rate, at, onLive, onCommit }: Props) {
  const box = useRef<HTMLDivElement>(null);
  const { width } = useSize(box, { width: 250, height: HEIGHT });
  const [chosen, setChosen] = useState<number | null>(null);
  const across = width - 2 * PAD;
  const down = HEIGHT - 2 * PAD;
  const x = (place: number) => PAD + (place / Math.max(end, 1)) * across;
  const y = (value: number) => PAD + (1 - value / 100) * down;
  const frameOf = (at: number) => first + Math.round(at / step);
  const placeOf = (frame: number) => Math.min(Math.max(Math.round((frame - first) * step), 0), end);
  const told = (pin: PercentPin) => `${Math.round(pin.value)} % at frame ${frameOf(pin.frame)}`;
  const place = (pixels: number) => (pixels / Math.max(across, 1)) * end;
  const held = pins.find((pin) => pin.frame === chosen);
  const put = (pin: PercentPin, at: number, value: number) => {
    const to = movedPin(pins, pin.frame, at, value, end);
    const landed = to[pins.indexOf(pin)]!;
    if (landed.frame === pin.frame && landed.value === pin.value) return;
    setChosen(landed.frame);
    onCommit(to, `${name}: pin moved`);
  };
  const { begin, handlers } = useDrag<Drag>({
    move: (d, e) => {
      const by = place(e.clientX - d.grab);
      const to = d.squeeze ? squeezed(d.from, d.pin.frame, d.pin.frame + by, end) : movedPin(d.from, d.pin.frame, d.pin.frame + by, d.pin.value - ((e.clientY - d.top) / down) * 100, end);
      onLive(to);
      return { ...d, to };
    },
    end: (d) => {
      if (!d.to) return;
      setChosen(d.to[d.from.indexOf(d.pin)]?.frame ?? null);
      onCommit(d.to, d.squeeze ? `${name}: pins squeezed` : `${name}: pin moved`);
    },
    giveUp: () => onLive(null),
  });
  const key = (pin: PercentPin) => (e: KeyboardEvent) => {
    const far = e.shiftKey ? 10 : 1;
    const [by, lift] = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, 1], ArrowDown: [0, -1] }[e.key] ?? [0, 0];
    if (by || lift) {
      const to = movedPin(pins, pin.frame, by ? placeOf(frameOf(pin.frame) + by * far) : pin.frame, pin.value + lift! * far, end);
      setChosen(to[pins.indexOf(pin)]?.frame ?? null);
      onCommit(to, `${name}: pin moved`);
    } else if ((e.key === "Delete" || e.key === "Backspace") && pins.length > 1) onCommit(withoutPin(pins, pin.frame), `${name}: pin removed`);
    else return;
    e.preventDefault();
    e.stopPropagation();
  };
  const lane = { target: "", keyframes: pins } as unknown as Lane;
  const points = Array.from({ length: SAMPLES + 1 }, (_, n) => `${x((n / SAMPLES) * end).toFixed(1)},${y(Number(valueAt(lane, PERCENT, (n / SAMPLES) * end, 24))).toFixed(1)}`).join(" ");
  return (
    <div className="mt-1">
      <p className="text-[12px] text-quiet">{name}</p>
      <div
        ref={box}
        role="group"
        aria-label={`${name}: pins`}
        title="Drag a pin; with Alt all of them are squeezed; double-click puts one"
        className="relative touch-none border border-line bg-ground select-none"
        style={{ height: HEIGHT }}
        {...handlers}
        onDoubleClick={(e) => {
          const from = e.currentTarget.getBoundingClientRect();
          const near = pins.find((pin) => Math.abs(x(pin.frame) - (e.clientX - from.left)) < NEAR); // a twin beside it would be none that one sees
          if (near) return setChosen(near.frame);
          onCommit(withPin(pins, place(e.clientX - from.left - PAD), (1 - (e.clientY - from.top - PAD) / down) * 100, end), `${name}: pin put`);
        }}
      >
        <svg aria-hidden className="absolute inset-0" width={width} height={HEIGHT}>
          <polyline points={points} fill="none" className="stroke-ink" strokeWidth={1} />
        </svg>
        {at !== null && <span aria-hidden className="pointer-events-none absolute inset-y-0 w-[2px] bg-strong" style={{ left: x(at) - 1 }} />}
        {pins.map((pin) => (
          <button
            key={pin.frame}
            type="button"
            aria-label={`${name}: ${told(pin)}`}
            title={told(pin)}
            aria-pressed={chosen === pin.frame}
            onFocus={() => setChosen(pin.frame)}
            className="absolute flex h-[24px] w-[16px] -translate-x-1/2 -translate-y-1/2 cursor-move items-center justify-center"
            style={{ left: x(pin.frame), top: y(pin.value) }}
            onPointerDown={(e: PointerEvent) => {
              e.stopPropagation();
              if (e.button === 0) setChosen(pin.frame);
              if (e.button === 0) begin(e, { grab: e.clientX, top: e.clientY, pin, from: pins, squeeze: e.altKey, to: null }, box.current!);
            }}
            onDoubleClick={(e) => e.stopPropagation()}
            onKeyDown={key(pin)}
          >
            <Post how={pin.how ?? "smooth"} strong={chosen === pin.frame} />
          </button>
        ))}
      </div>
      {held && (
        <div role="group" aria-label={`${name}: the chosen pin`} className="flex h-[26px] items-center gap-1.5 text-[12px] text-quiet">
          at
          <PlaceField label={`${name}: frame of the pin`} told={String(frameOf(held.frame))} rate={rate} now={frameOf(held.frame)} onPlace={(frame) => put(held, placeOf(frame), held.value)} />
          <input
            aria-label={`${name}: percent of the pin`}
            title="Percent, 0 to 100"
            inputMode="numeric"
            key={`${held.frame} ${held.value}`}
            defaultValue={Math.round(held.value)}
            className="w-[34px] bg-transparent text-right font-semibold text-ink outline-none hover:bg-raised focus:bg-raised"
            onFocus={(e) => e.currentTarget.select()}
            onKeyDown={(e) => e.key === "Enter" && e.currentTarget.blur()}
            onBlur={(e) => {
              const value = Number.parseFloat(e.currentTarget.value.replace(",", "."));
              if (Number.isFinite(value)) put(held, held.frame, value);
              else e.currentTarget.value = String(Math.round(held.value));
            }}
          />
          %
          <Choice aria-label={`${name}: how it goes on`} value={held.how ?? "smooth"} className="min-w-0 flex-1" onChange={(e) => onCommit(pins.map((p) => (p === held ? { ...p, how: e.currentTarget.value as How } : p)), `${name}: goes on otherwise`)}>
            <option value="hold">held</option>
            <option value="linear">straight</option>
            <option value="smooth">eased</option>
          </Choice>
          <button type="button" aria-label={`${name}: remove the pin`} title="Remove the pin (Delete)" disabled={pins.length < 2} className="h-[22px] px-1 hover:text-ink disabled:opacity-40" onClick={() => onCommit(withoutPin(pins, held.frame), `${name}: pin removed`)}>
            ✕
          </button>
        </div>
      )}
    </div>
  );
}
