import { useRef, useState, type KeyboardEvent, type PointerEvent } from "react";

import type { Lane, ParamInfo } from "../api/types";
import { valueAt } from "../engine/lanes";
import { movedPin, type PercentPin, squeezed, withoutPin, withPin } from "../engine/percents";
import { useDrag } from "../ui/drag";
import { useSize } from "../ui/size";
import { Post } from "./Pin";

const HEIGHT = 58;
const PAD = 6; // pixels beside and above the pins
const SAMPLES = 120;
const PERCENT = { kind: "number", low: 0, high: 100, step: 1 } as unknown as ParamInfo;

type Props = {
  name: string;
  pins: PercentPin[];
  /** The last place that a pin may have; the first is 0. */
  end: number;
  /** A place in words. */
  told: (place: number) => string;
  /** Where the playhead is, where that is within. */
  at: number | null;
  onLive: (pins: PercentPin[] | null) => void;
  onCommit: (pins: PercentPin[], words: string) => void;
};
type Drag = { grab: number; top: number; pin: PercentPin; from: PercentPin[]; squeeze: boolean; to: PercentPin[] | null };

/** Percents over a stretch of time, with their pins: dragged in both directions, all of them squeezed with Alt, put by a double-click. */
export function PercentLane({ name, pins, end, told, at, onLive, onCommit }: Props) {
  const box = useRef<HTMLDivElement>(null);
  const { width } = useSize(box, { width: 250, height: HEIGHT });
  const [chosen, setChosen] = useState<number | null>(null);
  const across = width - 2 * PAD;
  const down = HEIGHT - 2 * PAD;
  const x = (place: number) => PAD + (place / Math.max(end, 1)) * across;
  const y = (value: number) => PAD + (1 - value / 100) * down;
  const place = (pixels: number) => (pixels / Math.max(across, 1)) * end;
  const { begin, handlers } = useDrag<Drag>({
    move: (d, e) => {
      const by = place(e.clientX - d.grab);
      const to = d.squeeze ? squeezed(d.from, d.pin.frame, d.pin.frame + by, end) : movedPin(d.from, d.pin.frame, d.pin.frame + by, d.pin.value - ((e.clientY - d.top) / down) * 100, end);
      onLive(to);
      return { ...d, to };
    },
    end: (d) => {
      if (!d.to) return;
      setChosen(null);
      onCommit(d.to, d.squeeze ? `${name}: pins squeezed` : `${name}: pin moved`);
    },
    giveUp: () => onLive(null),
  });
  const key = (pin: PercentPin) => (e: KeyboardEvent) => {
    const far = e.shiftKey ? 10 : 1;
    const step = end > 200 ? 10 : 1; // of a transition, a percent of its time
    const [by, lift] = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, 1], ArrowDown: [0, -1] }[e.key] ?? [0, 0];
    if (by || lift) {
      const to = movedPin(pins, pin.frame, pin.frame + by! * far * step, pin.value + lift! * far, end);
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
            aria-label={`${name}: ${Math.round(pin.value)} % at ${told(pin.frame)}`}
            title={`${Math.round(pin.value)} % at ${told(pin.frame)}`}
            ref={(element) => void (chosen === pin.frame && element?.focus())}
            className="absolute flex h-[24px] w-[16px] -translate-x-1/2 -translate-y-1/2 cursor-move items-center justify-center"
            style={{ left: x(pin.frame), top: y(pin.value) }}
            onPointerDown={(e: PointerEvent) => {
              e.stopPropagation();
              if (e.button === 0) begin(e, { grab: e.clientX, top: e.clientY, pin, from: pins, squeeze: e.altKey, to: null }, box.current!);
            }}
            onDoubleClick={(e) => e.stopPropagation()}
            onKeyDown={key(pin)}
          >
            <Post how={pin.how ?? "smooth"} />
          </button>
        ))}
      </div>
    </div>
  );
}
