import { useRef, type KeyboardEvent, type PointerEvent } from "react";

import { kept, LEAST, panned, type Stretch } from "../engine/timespan";
import { useTime, useTimed } from "./engine";

type Part = "from" | "to" | "both";

/** All of the shot's time, and the part of it that the ruler shows: drag it to pan, its ends to zoom; a double-click shows all. */
export function Overview() {
  const engine = useTimed();
  const last = Math.max(1, engine.timeline.last);
  const stretch = useTime((s) => s.stretch) ?? { from: 0, to: last };
  const box = useRef<HTMLDivElement>(null);
  const drag = useRef<{ part: Part; from: Stretch; x: number } | null>(null);
  const frames = (pixels: number) => (pixels / box.current!.clientWidth) * last;
  const put = (part: Part, start: Stretch, by: number) => {
    if (part === "both") return engine.timeline.set({ stretch: panned(start, last, by) });
    const from = part === "from" ? Math.min(Math.max(start.from + by, 0), start.to - LEAST) : start.from;
    const to = part === "to" ? Math.max(Math.min(start.to + by, last), start.from + LEAST) : start.to;
    engine.timeline.set({ stretch: kept({ from, to }, last) });
  };
  const down = (part: Part) => (e: PointerEvent) => {
    if (e.button !== 0) return;
    e.stopPropagation();
    box.current!.setPointerCapture(e.pointerId);
    drag.current = { part, from: stretch, x: e.clientX };
  };
  const keys = (part: Part) => (e: KeyboardEvent) => {
    const by = { ArrowLeft: -1, ArrowRight: 1 }[e.key];
    if (!by) return;
    e.preventDefault();
    e.stopPropagation();
    put(part, stretch, by * (e.shiftKey ? 10 : 1));
  };
  const share = (n: number) => `${(n / last) * 100}%`;
  const handle = (part: "from" | "to", name: string) => (
    <span
      role="slider"
      tabIndex={0}
      aria-label={name}
      aria-valuenow={Math.round(stretch[part])}
      aria-valuemin={0}
      aria-valuemax={last}
      className="absolute inset-y-0 w-[7px] cursor-ew-resize bg-ink"
      style={part === "from" ? { left: 0 } : { right: 0 }}
      onPointerDown={down(part)}
      onKeyDown={keys(part)}
    />
  );
  return (
    <div
      ref={box}
      title="The time on the ruler: drag to pan, drag the ends to zoom (+ and −), double-click for all (0)"
      className="relative mb-[3px] h-[8px] shrink-0 touch-none bg-raised"
      onPointerMove={(e) => drag.current && put(drag.current.part, drag.current.from, frames(e.clientX - drag.current.x))}
      onPointerUp={() => (drag.current = null)}
      onPointerCancel={() => (drag.current = null)}
      onDoubleClick={() => engine.timeline.set({ stretch: null })}
    >
      <div className="absolute inset-y-0 cursor-grab bg-strong" style={{ left: share(stretch.from), width: share(stretch.to - stretch.from) }} onPointerDown={down("both")}>
        {handle("from", "First frame on the ruler")}
        {handle("to", "Last frame on the ruler")}
      </div>
    </div>
  );
}
