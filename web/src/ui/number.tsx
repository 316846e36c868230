import clsx from "clsx";
import { useId, useRef, useState, type KeyboardEvent, type PointerEvent } from "react";

import type { ParamInfo } from "../api/types";
import { clampTo, format, parseNumber, stepOf } from "./numbers";
import { useSettling } from "./settle";

type Props = {
  info: ParamInfo;
  value: number;
  /** While dragged or stepped: show it, do not store it. */
  onLive: (value: number) => void;
  /** At rest: one step of history, from the value that it had before. */
  onCommit: (value: number, before: number) => void;
  disabled?: boolean;
};

const REST = 450; // ms after the last arrow key before the step is stored

/** A slider and a number field for one parameter, drawn from its metadata. */
export function NumberRow({ info, value, onLive, onCommit, disabled }: Props) {
  const id = useId();
  const before = useRef<number | null>(null); // the value while one is being shown that is not stored
  const show = (next: number) => {
    before.current ??= value;
    onLive(next);
  };
  const [held, setHeld] = useState<number | null>(null); // a stepped value that is not stored yet
  const shown = held ?? value;
  const settling = useSettling(REST);

  const commit = (next: number) => {
    settling.forget();
    setHeld(null);
    onCommit(clampTo(info, next), before.current ?? value);
    before.current = null;
  };
  const stepTo = (next: number) => {
    setHeld(next);
    show(next);
    settling.later(() => commit(next));
  };
  const step = (direction: number, e: KeyboardEvent) => stepTo(clampTo(info, shown + direction * stepOf(info, e)));
  const onKey = (e: KeyboardEvent) => {
    const end = { Home: info.low, End: info.high }[e.key];
    const direction = { ArrowUp: 1, ArrowRight: 1, ArrowDown: -1, ArrowLeft: -1 }[e.key];
    if ((direction === undefined && end === undefined) || disabled) return;
    e.preventDefault();
    e.stopPropagation();
    if (direction) step(direction, e);
    else stepTo(end!);
  };

  return (
    <div className={clsx("flex h-[26px] items-center gap-2", disabled && "opacity-40")}>
      <label htmlFor={id} title={info.help} onDoubleClick={() => commit(Number(info.default))} className="w-[98px] shrink-0 truncate">
        {info.name}
      </label>
      <Track info={info} value={shown} disabled={disabled} onKey={onKey} onLive={show} onCommit={commit} />
      <Field id={id} info={info} value={shown} disabled={disabled} onCommit={commit} onStep={step} />
    </div>
  );
}

type TrackProps = { info: ParamInfo; value: number; disabled?: boolean; onKey: (e: KeyboardEvent) => void; onLive: (v: number) => void; onCommit: (v: number) => void };

function Track({ info, value, disabled, onKey, onLive, onCommit }: TrackProps) {
  const track = useRef<HTMLDivElement>(null);
  const drag = useRef<{ x: number; value: number; last: number } | null>(null);
  const share = (value - info.low) / (info.high - info.low);

  const at = (e: PointerEvent) => {
    const width = track.current!.getBoundingClientRect().width;
    const fine = e.altKey ? 0.1 : 1;
    const moved = ((e.clientX - drag.current!.x) / width) * (info.high - info.low) * fine;
    return clampTo(info, Math.round((drag.current!.value + moved) / info.step) * info.step);
  };
  const down = (e: PointerEvent) => {
    if (disabled || e.button !== 0) return;
    const box = track.current!.getBoundingClientRect();
    const here = info.low + Math.min(Math.max((e.clientX - box.left) / box.width, 0), 1) * (info.high - info.low);
    const onHandle = Math.abs(e.clientX - box.left - share * box.width) < 8;
    const start = onHandle ? value : clampTo(info, Math.round(here / info.step) * info.step);
    drag.current = { x: e.clientX, value: start, last: start };
    e.currentTarget.setPointerCapture(e.pointerId);
    if (!onHandle) onLive(start);
  };
  const move = (e: PointerEvent) => {
    if (!drag.current) return;
    const next = at(e);
    if (next !== drag.current.last) onLive((drag.current.last = next));
  };
  const up = () => {
    if (!drag.current) return;
    const { last } = drag.current;
    drag.current = null;
    onCommit(last);
  };
  return (
    <div
      ref={track}
      role="slider"
      tabIndex={disabled ? -1 : 0}
      aria-label={info.name}
      aria-valuenow={value}
      aria-valuemin={info.low}
      aria-valuemax={info.high}
      aria-valuetext={`${format(info, value)} ${info.unit}`}
      aria-disabled={disabled}
      onKeyDown={onKey}
      onPointerDown={down}
      onPointerMove={move}
      onPointerUp={up}
      onPointerCancel={up}
      onDoubleClick={() => !disabled && onCommit(Number(info.default))}
      className="relative h-[22px] min-w-0 flex-1 cursor-ew-resize touch-none"
    >
      <div className="absolute inset-x-0 top-[10px] h-[2px] bg-strong" />
      <div className="absolute top-[10px] left-0 h-[2px] bg-ink" style={{ width: `${share * 100}%` }} />
      <div className="absolute top-[4px] h-[14px] w-[5px] bg-ink" style={{ left: `calc(${share * 100}% - 2.5px)` }} />
    </div>
  );
}

type FieldProps = { id: string; info: ParamInfo; value: number; disabled?: boolean; onCommit: (v: number) => void; onStep: (direction: number, e: KeyboardEvent) => void };

function Field({ id, info, value, disabled, onCommit, onStep }: FieldProps) {
  const [text, setText] = useState<string | null>(null);
  const submit = () => {
    if (text === null) return;
    const parsed = parseNumber(text);
    setText(null);
    if (parsed !== null && clampTo(info, parsed) !== value) onCommit(parsed);
  };
  return (
    <span className="flex w-[62px] shrink-0 items-baseline justify-end gap-[3px]">
      <input
        id={id}
        inputMode="decimal"
        aria-label={`${info.name}${info.unit ? ` in ${info.unit}` : ""}`}
        disabled={disabled}
        value={text ?? format(info, value)}
        onFocus={(e) => e.currentTarget.select()}
        onChange={(e) => setText(e.currentTarget.value)}
        onBlur={submit}
        onKeyDown={(e) => {
          e.stopPropagation();
          if (e.key === "Enter") e.currentTarget.blur(); // which submits, and gives the keyboard back to the Bench
          if (e.key === "Escape") setText(null);
          if (e.key === "ArrowUp" || e.key === "ArrowDown") {
            e.preventDefault();
            setText(null);
            onStep(e.key === "ArrowUp" ? 1 : -1, e);
          }
        }}
        className="w-full min-w-0 bg-transparent text-right font-semibold outline-none focus:bg-raised"
      />
      <span className="w-[14px] shrink-0 text-quiet">{info.unit}</span>
    </span>
  );
}
