import clsx from "clsx";
import { useState, type KeyboardEvent, type PointerEvent, type ReactNode } from "react";

import { parseNumber } from "./numbers";
import { useSettling } from "./settle";

type Limits = { low: number; high: number; step: number };
type Props = Limits & { label: string; value: number; unit?: string; default?: number; onLive?: (v: number) => void; onCommit: (v: number) => void; className?: string; name?: ReactNode };

const limited = ({ low, high }: Limits, v: number) => Number(Math.min(Math.max(v, low), high).toFixed(4));

/** A number field without a slider: typed, stepped by arrows, reset by a double click on its name. */
export function SmallNumber(props: Props) {
  const { label, value, unit, step, onLive, onCommit, className, name } = props;
  const [text, setText] = useState<string | null>(null);
  const [held, setHeld] = useState<number | null>(null);
  const shown = held ?? value;
  const digits = Math.max(0, Math.ceil(-Math.log10(step)));
  const settling = useSettling(null);
  const store = (typed: number | null, stepped: number | null) => {
    setText(null);
    setHeld(null);
    if (typed !== null && limited(props, typed) !== value) onCommit(limited(props, typed));
    else if (stepped !== null && stepped !== value) onCommit(stepped);
  };
  const settle = () => {
    if (text === null && held === null) return;
    settling.forget();
    store(text === null ? null : parseNumber(text, unit), held);
  };
  const onKey = (e: KeyboardEvent<HTMLInputElement>) => {
    e.stopPropagation();
    if (e.key === "Enter") e.currentTarget.blur();
    if (e.key === "Escape") {
      setText(null);
      setHeld(null);
      settling.giveUp();
    }
    const direction = { ArrowUp: 1, ArrowDown: -1 }[e.key];
    if (!direction) return;
    e.preventDefault();
    setText(null);
    const next = limited(props, shown + direction * step * (e.shiftKey ? 10 : e.altKey ? 0.1 : 1));
    setHeld(next);
    settling.later(() => store(null, next));
    onLive?.(next);
  };
  const type = (typed: string) => {
    setText(typed);
    settling.later(() => store(parseNumber(typed, unit), held));
  };
  return (
    <label className={clsx("flex items-baseline gap-1", className)} onDoubleClick={() => props.default !== undefined && onCommit(props.default)}>
      {name && <span className="text-quiet">{name}</span>}
      <input
        aria-label={label}
        inputMode="decimal"
        value={text ?? shown.toFixed(Number.isInteger(shown * 10 ** digits) ? digits : digits + 1)}
        onFocus={(e) => e.currentTarget.select()}
        onChange={(e) => type(e.currentTarget.value)}
        onBlur={settle}
        onKeyDown={onKey}
        className="w-full min-w-0 border-b border-line bg-transparent text-right font-semibold outline-none focus:border-ink focus-visible:outline focus-visible:outline-2 focus-visible:outline-ink"
      />
      {unit && <span className="text-quiet">{unit}</span>}
    </label>
  );
}

/** Something that is shown only while the button is held, by pointer or by Enter; then nothing of it is left. */
export function HoldButton({ children, tip, onHold }: { children: ReactNode; tip: string; onHold: () => void }) {
  const { giveUp } = useSettling(null);
  const [down, setDown] = useState(false);
  const hold = () => {
    if (down) return;
    setDown(true);
    onHold();
  };
  const release = () => {
    if (!down) return;
    setDown(false);
    giveUp();
  };
  return (
    <button
      type="button"
      title={tip}
      aria-pressed={down}
      className={clsx("px-1 text-[12px]", down ? "bg-inverse text-inverse-ink" : "text-quiet hover:text-ink")}
      onPointerDown={(e: PointerEvent<HTMLButtonElement>) => {
        e.currentTarget.setPointerCapture(e.pointerId);
        hold();
      }}
      onPointerUp={release}
      onPointerCancel={release}
      onBlur={release}
      onKeyDown={(e) => {
        if (e.key !== "Enter") return;
        e.preventDefault();
        e.stopPropagation();
        hold();
      }}
      onKeyUp={release}
    >
      {children}
    </button>
  );
}
