import clsx from "clsx";
import { useId, useRef, useState, type KeyboardEvent, type PointerEvent } from "react";

import { useDrag } from "./drag";
import { useSay } from "./notices";
import { clampTo, format, readEntry, stepOf, type NumberInfo } from "./numbers";
import { useSettling } from "./settle";

type Props = {
  info: NumberInfo;
  value: number;
  /** While dragged or stepped: show it, do not store it. */
  onLive: (value: number) => void;
  /** At rest: one step of history, from the value that it had before. */
  onCommit: (value: number, before: number) => void;
  disabled?: boolean;
};

const REST = 450; // ms after the last arrow key, or a click, before the value is stored

/** A slider and a number field for one parameter, drawn from its metadata. */
export function NumberRow({ info, value, onLive, onCommit, disabled }: Props) {
  const id = useId();
  const before = useRef<number | null>(null); // the value while one is being shown that is not stored
  const [held, setHeld] = useState<number | null>(null); // a value that is shown and not stored yet
  const shown = held ?? value;
  const settling = useSettling(REST);
  const show = (next: number) => {
    before.current ??= value;
    setHeld(next);
    onLive(next);
  };
  const over = () => {
    setHeld(null);
    before.current = null;
  };
  const commit = (next: number) => {
    const from = before.current ?? value;
    settling.forget();
    over();
    onCommit(clampTo(info, next), from);
  };
  const giveUp = () => {
    settling.giveUp();
    over();
  };
  /** Show it, and store it after a moment in which nothing more comes. */
  const rest = (next: number) => {
    show(next);
    settling.later(() => commit(next));
  };
  const reset = () => !disabled && commit(Number(info.default));
  const step = (direction: number, e: KeyboardEvent) => rest(clampTo(info, shown + direction * stepOf(info, e)));
  const onKey = (e: KeyboardEvent) => {
    const end = { Home: info.low, End: info.high }[e.key];
    const direction = { ArrowUp: 1, ArrowRight: 1, ArrowDown: -1, ArrowLeft: -1 }[e.key];
    if (e.key === "Escape" && held !== null) {
      e.stopPropagation();
      return giveUp();
    }
    if ((direction === undefined && end === undefined) || disabled) return;
    e.preventDefault();
    e.stopPropagation();
    if (direction) step(direction, e);
    else rest(end!);
  };

  return (
    <div data-help={info.help} className={clsx("flex h-[26px] items-center gap-2", disabled && "opacity-40")}>
      <label htmlFor={id} title={info.help} onDoubleClick={reset} className="w-[98px] shrink-0 truncate">
        {info.name}
      </label>
      <Track info={info} value={shown} disabled={disabled} onKey={onKey} onLive={show} onCommit={commit} onRest={rest} onReset={reset} onGiveUp={giveUp} />
      <Field id={id} info={info} value={shown} disabled={disabled} onCommit={commit} onStep={step} onGiveUp={giveUp} />
    </div>
  );
}

type TrackProps = {
  info: NumberInfo;
  value: number;
  disabled?: boolean;
  onKey: (e: KeyboardEvent) => void;
  onLive: (v: number) => void;
  onCommit: (v: number) => void;
  /** A click without a drag: it may be the first of two. */
  onRest: (v: number) => void;
  onReset: () => void;
  onGiveUp: () => void;
};

type Held = { x: number; value: number; last: number; moved: boolean };

function Track({ info, value, disabled, onKey, onLive, onCommit, onRest, onReset, onGiveUp }: TrackProps) {
  const track = useRef<HTMLDivElement>(null);
  const share = (value - info.low) / (info.high - info.low);
  const stepped = (v: number) => clampTo(info, Math.round(v / info.step) * info.step);
  const { begin, handlers } = useDrag<Held>({
    move: (held, e) => {
      const width = track.current!.getBoundingClientRect().width;
      const next = stepped(held.value + ((e.clientX - held.x) / width) * (info.high - info.low) * (e.altKey ? 0.1 : 1));
      if (next === held.last) return held;
      onLive(next);
      return { ...held, last: next, moved: true };
    },
    end: ({ last, moved }) => {
      if (moved) onCommit(last);
      else if (last !== value) onRest(last);
    },
    giveUp: onGiveUp,
  });
  const down = (e: PointerEvent) => {
    if (disabled || e.button !== 0) return;
    const box = track.current!.getBoundingClientRect();
    const here = info.low + Math.min(Math.max((e.clientX - box.left) / box.width, 0), 1) * (info.high - info.low);
    const onHandle = Math.abs(e.clientX - box.left - share * box.width) < 8;
    const start = onHandle ? value : stepped(here);
    begin(e, { x: e.clientX, value: start, last: start, moved: false });
    if (!onHandle) onRest(start);
  };
  return (
    <div
      ref={track}
      role="slider"
      tabIndex={disabled ? -1 : 0}
      aria-label={info.name}
      aria-description={info.help}
      aria-valuenow={value}
      aria-valuemin={info.low}
      aria-valuemax={info.high}
      aria-valuetext={`${format(info, value)} ${info.unit}`}
      aria-disabled={disabled}
      onKeyDown={onKey}
      onPointerDown={down}
      {...handlers}
      onDoubleClick={onReset}
      className="relative h-[24px] min-w-0 flex-1 cursor-ew-resize touch-none"
    >
      <div className="absolute inset-x-0 top-[11px] h-[2px] bg-strong" />
      <div className="absolute top-[11px] left-0 h-[2px] bg-ink" style={{ width: `${share * 100}%` }} />
      <div className="absolute top-[5px] h-[14px] w-[5px] bg-ink" style={{ left: `calc(${share * 100}% - 2.5px)` }} />
    </div>
  );
}

type FieldProps = { id: string; info: NumberInfo; value: number; disabled?: boolean; onCommit: (v: number) => void; onStep: (direction: number, e: KeyboardEvent) => void; onGiveUp: () => void };

/** A number as text: what is typed is stored by Enter, on leaving it, and before anything moves on. */
function Field({ id, info, value, disabled, onCommit, onStep, onGiveUp }: FieldProps) {
  const [text, setText] = useState<string | null>(null);
  const settling = useSettling(null);
  const say = useSay();
  const store = (typed: string) => {
    setText(null);
    if (!typed.trim()) return;
    const entry = readEntry(typed, info);
    if ("wrong" in entry) return say(entry.wrong);
    if (entry.words) say(entry.words);
    if (entry.value !== value) onCommit(entry.value);
  };
  const type = (typed: string) => {
    setText(typed);
    settling.later(() => store(typed));
  };
  const submit = () => {
    if (text === null) return;
    settling.forget();
    store(text);
  };
  return (
    <span className="flex w-[62px] shrink-0 items-baseline justify-end gap-[3px]">
      <input
        id={id}
        inputMode="decimal"
        title={`From ${format(info, info.low)} to ${format(info, info.high)}${info.unit && ` ${info.unit}`}; neutral ${format(info, Number(info.default))}. Sums like 1/3 are worked out.`}
        aria-label={`${info.name}${info.unit ? ` in ${info.unit}` : ""}`}
        disabled={disabled}
        value={text ?? format(info, value)}
        onFocus={(e) => e.currentTarget.select()}
        onChange={(e) => type(e.currentTarget.value)}
        onBlur={submit}
        onKeyDown={(e) => {
          e.stopPropagation();
          if (e.key === "Enter") e.currentTarget.blur(); // which submits, and gives the keyboard back to the Bench
          if (e.key === "Escape") {
            settling.forget();
            setText(null);
            onGiveUp();
          }
          if (e.key === "ArrowUp" || e.key === "ArrowDown") {
            e.preventDefault();
            settling.forget();
            setText(null);
            onStep(e.key === "ArrowUp" ? 1 : -1, e);
          }
        }}
        className="h-[22px] w-full min-w-0 bg-transparent text-right font-semibold outline-none focus:bg-raised focus-visible:outline focus-visible:outline-2 focus-visible:outline-ink"
      />
      <span className="w-[14px] shrink-0 text-quiet">{info.unit}</span>
    </span>
  );
}
