import { useState } from "react";

import { frameOf, TIME_FORMS, timecode } from "../ui/words";
import { useTime, useTimed } from "./engine";

/** Where the playhead is: typed, it goes there. */
export function TimeField({ as }: { as: "frame" | "timecode" }) {
  const engine = useTimed();
  const frame = useTime((s) => s.frame);
  const { rate } = engine.timeline;
  return <PlaceField label={as === "frame" ? "Frame" : "Timecode"} told={as === "frame" ? String(frame) : timecode(frame, rate)} rate={rate} now={frame} onPlace={(to) => engine.go(to)} />;
}

/** A place in time, or a length, in a field that takes it in any form. */
export function PlaceField({ label, told, rate, now, onPlace }: { label: string; told: string; rate: number; now: number; onPlace: (frame: number) => void }) {
  const [text, setText] = useState<string | null>(null);
  const [wrong, setWrong] = useState(false);
  const submit = () => {
    const wanted = text === null ? null : frameOf(text, rate, now);
    if (text !== null && wanted === null) return setWrong(true);
    close();
    if (wanted !== null && wanted !== now) onPlace(wanted);
  };
  const close = () => {
    setText(null);
    setWrong(false);
  };
  return (
    <input
      aria-label={label}
      aria-invalid={wrong}
      title={wrong ? `“${text}” is no time. ${TIME_FORMS}` : TIME_FORMS}
      value={text ?? told}
      onFocus={(e) => e.currentTarget.select()}
      onChange={(e) => {
        setText(e.currentTarget.value);
        setWrong(false);
      }}
      onBlur={() => (text !== null && frameOf(text, rate, now) === null ? close() : submit())}
      onKeyDown={(e) => {
        if (e.key === "Enter") {
          submit();
          if (text === null || frameOf(text, rate, now) !== null) e.currentTarget.blur();
        }
        if (e.key === "Escape") {
          e.stopPropagation();
          close();
        }
      }}
      className="bg-transparent text-center font-semibold text-ink tabular-nums outline-none hover:bg-raised focus:bg-raised aria-invalid:bg-inverse aria-invalid:text-inverse-ink"
      style={{ width: `${(text ?? told).length + 1}ch` }}
    />
  );
}
