import clsx from "clsx";
import { useId, useRef, useState, type KeyboardEvent, type PointerEvent } from "react";

import { useDrag } from "./drag";
import { useSay } from "./notices";
import { clampTo, format, readEntry, stepOf, type NumberInfo } from "./numbers";
import { placeOf, valueAt } from "./scale";
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
    <div data-help={info.help} className={clsx("relative h-[30px]", disabled && "opacity-40")}>
      <Track info={info} value={shown} disabled={disabled} onKey={onKey} onLive={show} onCommit={commit} onRest={rest} onReset={reset} onGiveUp={giveUp} />
      <div className="pointer-events-none absolute inset-x-0 top-0 flex h-[20px] items-baseline justify-between gap-2">
        <label htmlFor={id} className="min-w-0 truncate">
          {info.name}
        </label>
        <Field id={id} info={info} value={shown} disabled={disabled} onLive={show} onCommit={commit} onStep={step} onGiveUp={giveUp} />
      </div>
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

type Held = { x: number; place: number; last: number; moved: boolean };

const LINE = 16; // pixels from the top of a row from which a press is on the track itself: it goes there

/** The whole row is the slider, its track along the foot: a press on the track goes there, a drag anywhere in the row goes on from where the value is. */
function Track({ info, value, disabled, onKey, onLive, onCommit, onRest, onReset, onGiveUp }: TrackProps) {
  const track = useRef<HTMLDivElement>(null);
  const place = placeOf(info, value);
  const { begin, handlers } = useDrag<Held>({
    move: (held, e) => {
      const width = track.current!.getBoundingClientRect().width;
      // From the last place on: Alt makes what comes finer, and what was passed stays passed.
      const to = Math.min(Math.max(held.place + ((e.clientX - held.x) / width) * (e.altKey ? 0.1 : 1), 0), 1);
      const next = valueAt(info, to, e.altKey ? info.step / 10 : info.step);
      if (next !== held.last) onLive(next);
      return { x: e.clientX, place: to, last: next, moved: held.moved || next !== held.last };
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
    const here = (e.clientX - box.left) / box.width;
    const stays = Math.abs(here - place) * box.width < 8 || e.clientY - box.top < LINE;
    const start = stays ? value : valueAt(info, here);
    begin(e, { x: e.clientX, place: placeOf(info, start), last: start, moved: false });
    if (!stays) onRest(start);
  };
  return (
    <div
      ref={track}
      role="slider"
      tabIndex={disabled ? -1 : 0}
      title={`${info.help} Alt: finer. A double click: ${format(info, Number(info.default))}${info.unit && ` ${info.unit}`}.`}
      aria-label={info.name}
      aria-description={info.help}
      aria-valuenow={value}
      aria-valuemin={info.low}
      aria-valuemax={info.high}
      aria-valuetext={`${format(info, value)} ${info.unit}`}
      aria-disabled={disabled}
      data-place={place}
      onKeyDown={onKey}
      onPointerDown={down}
      {...handlers}
      onDoubleClick={onReset}
      className="absolute inset-0 cursor-ew-resize touch-none"
    >
      <div className="absolute inset-x-0 top-[23px] h-[2px] bg-strong" />
      <div className="absolute top-[23px] left-0 h-[2px] bg-ink" style={{ width: `${place * 100}%` }} />
      <div className="absolute top-[19px] h-[10px] w-[5px] bg-ink" style={{ left: `calc(${place} * (100% - 5px))` }} />
    </div>
  );
}

const STILL = 3; // pixels that a press on a number may move and still be a click

/** A number that is dragged sideways: a step for each pixel, ten with Shift, a tenth with Alt. A press that stays is a click into the field. */
function useScrub(info: NumberInfo, value: number, disabled: boolean | undefined, onLive: (v: number) => void, onCommit: (v: number) => void, onGiveUp: () => void) {
  const { begin, handlers } = useDrag<{ x: number; value: number; moved: boolean }>({
    move: (held, e) => {
      const by = e.clientX - held.x;
      if (!held.moved && Math.abs(by) < STILL) return held;
      if (!held.moved) (e.currentTarget as HTMLElement).blur();
      const next = clampTo(info, held.value + by * stepOf(info, e));
      onLive(next);
      return { x: e.clientX, value: next, moved: true };
    },
    end: (held) => held.moved && onCommit(held.value),
    giveUp: onGiveUp,
  });
  const down = (e: PointerEvent) => {
    if (!disabled && e.button === 0 && document.activeElement !== e.currentTarget) begin(e, { x: e.clientX, value, moved: false });
  };
  return { onPointerDown: down, ...handlers };
}

type FieldProps = { id: string; info: NumberInfo; value: number; disabled?: boolean; onLive: (v: number) => void; onCommit: (v: number) => void; onStep: (direction: number, e: KeyboardEvent) => void; onGiveUp: () => void };

/** A number as text: what is typed is stored by Enter, on leaving it, and before anything moves on. */
function Field({ id, info, value, disabled, onLive, onCommit, onStep, onGiveUp }: FieldProps) {
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
  const scrub = useScrub(info, value, disabled, onLive, onCommit, onGiveUp);
  return (
    <span className="pointer-events-auto flex w-[78px] shrink-0 items-baseline justify-end gap-[3px]">
      <input
        {...scrub}
        id={id}
        inputMode="decimal"
        title={`From ${format(info, info.low)} to ${format(info, info.high)}${info.unit && ` ${info.unit}`}; neutral ${format(info, Number(info.default))}. Drag to scrub; sums like 1/3 are worked out.`}
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
        className="h-[20px] w-full min-w-0 cursor-ew-resize bg-transparent text-right font-semibold outline-none focus:cursor-text focus:bg-raised focus-visible:outline focus-visible:outline-2 focus-visible:outline-ink"
      />
      <span className="w-[14px] shrink-0 text-quiet">{info.unit}</span>
    </span>
  );
}
