import { useEffect, useRef, useState, type PointerEvent, type RefObject } from "react";

import { frameAt, panned, perFrame, xOf, zoomed, type Span } from "../engine/timespan";
import { timecode } from "../ui/words";
import { Curve } from "./Curve";
import { Overview } from "./Overview";
import { endCommands, setEnd } from "../engine/transport";
import { useDocument, useEngine, useStage, useTime, useView } from "./engine";
import { useDrag } from "../ui/drag";

const CELL = 78; // pixels of a picture in the film strip
const CLOSER = 1.0016; // per pixel of wheel

/** The stretch of time that is shown, over the width of an element. */
export function useSpan(box: RefObject<HTMLElement | null>, less = 0): Span {
  const last = Math.max(1, useEngine().timeline.last);
  const stretch = useTime((s) => s.stretch);
  const [width, setWidth] = useState(800);
  useEffect(() => {
    const observer = new ResizeObserver(() => box.current && setWidth(box.current.clientWidth - less));
    observer.observe(box.current!);
    return () => observer.disconnect();
  }, [box, less]);
  return { from: stretch?.from ?? 0, to: stretch?.to ?? last, width };
}

/** The wheel over a stretch of time: zooms where the pointer is; sideways or with Shift it pans. `must`: only with Ctrl or Shift held. */
export function useWheel(box: RefObject<HTMLElement | null>, span: Span, left: number, must = false) {
  const engine = useEngine();
  useEffect(() => {
    const element = box.current!;
    const wheel = (e: WheelEvent) => {
      const sideways = e.shiftKey || Math.abs(e.deltaX) > Math.abs(e.deltaY);
      if (must && !e.ctrlKey && !sideways) return;
      e.preventDefault();
      const last = engine.timeline.last;
      const by = sideways ? e.deltaX || e.deltaY : e.deltaY;
      const at = frameAt(span, e.clientX - element.getBoundingClientRect().left - left);
      engine.put({ stretch: sideways ? panned(span, last, by / perFrame(span)) : zoomed(span, last, at, CLOSER ** -by) });
    };
    element.addEventListener("wheel", wheel, { passive: false }); // React's own listener could not keep the page still
    return () => element.removeEventListener("wheel", wheel);
  });
}

/** Distances between marks, in frames: single ones, even parts of a second, then seconds and minutes. */
const stepsAt = (rate: number) => {
  const second = Math.round(rate);
  const parts = [1, 2, 3, 4, 5, 6, 10, 12, 15, 20, 30].filter((n) => n < second && second % n === 0);
  return [...parts, ...[1, 2, 5, 10, 15, 30, 60, 120, 300, 600].map((n) => n * second)];
};

/** The ruler, the film strip, the in and out, what is rendered, the selected area over time, the playhead. */
export function Ruler() {
  const engine = useEngine();
  const document = useDocument();
  const box = useRef<HTMLDivElement>(null);
  const span = useSpan(box);
  const scrubbing = useRef(false);
  useWheel(box, span, 0);
  const { width } = span;
  const { rate } = engine.timeline;
  const x = (n: number) => xOf(span, n);
  const at = (e: PointerEvent) => Math.round(frameAt(span, e.clientX - box.current!.getBoundingClientRect().left));
  const down = (e: PointerEvent) => {
    if (e.button !== 0) return;
    e.currentTarget.setPointerCapture(e.pointerId);
    scrubbing.current = true;
    engine.go(at(e));
  };
  const step = stepsAt(rate).find((s) => s * perFrame(span) > 74) ?? 600 * Math.round(rate);
  const begin = Math.ceil(span.from / step);
  const marks = Array.from({ length: Math.max(0, Math.floor(span.to / step) - begin + 1) }, (_, n) => (begin + n) * step);
  return (
    <div className="flex flex-col px-3">
      <div
        ref={box}
        className="relative min-h-0 flex-1 touch-none overflow-x-clip select-none"
        onPointerDown={down}
        onPointerMove={(e) => scrubbing.current && engine.go(at(e))}
        onPointerUp={() => (scrubbing.current = false)}
        onPointerCancel={() => (scrubbing.current = false)}
      >
        <div className="h-[22px]" title="The wheel zooms time; with Shift it pans">
          {marks.map((n) => (
            <span key={n} className="absolute top-[1px] text-[11px] text-quiet" style={{ left: x(n) + 3 }}>
              {x(n) > width - 48 ? "" : timecode(n, rate)}
            </span>
          ))}
          {marks.map((n) => (
            <span key={`m${n}`} className="absolute top-0 h-[22px] w-px bg-line" style={{ left: x(n) }} />
          ))}
          <Rendered span={span} />
        </div>
        <div className="relative h-[44px] overflow-hidden bg-black">
          <Film span={span} />
          <div className="absolute inset-y-0 left-0 bg-black/70" style={{ width: Math.max(0, x(document.first)) }} />
          <div className="absolute inset-y-0 right-0 bg-black/70" style={{ width: Math.max(0, width - x(document.last)) }} />
        </div>
        <Curve span={span} />
        <End which="first" at={x(document.first)} frameAt={at} />
        <End which="last" at={x(document.last)} frameAt={at} />
        <Playhead span={span} rate={rate} />
      </div>
      <Overview />
    </div>
  );
}

/** Hatched where frames are rendered and will play at once. */
function Rendered({ span }: { span: Span }) {
  const ready = useTime((s) => s.ready);
  const said = ready?.stretches.map(([a, b]) => (a === b ? `${a}` : `${a} to ${b}`)).join(", ");
  return (
    <div role="img" aria-label={said ? `Rendered frames: ${said}` : "No frames rendered"} title="Hatched: rendered, plays at once" className="pointer-events-none absolute inset-x-0 top-[15px] h-[6px] overflow-hidden">
      {ready?.stretches.map(([first, last]) => {
        const [left, right] = [xOf(span, first - 0.5), xOf(span, last + 0.5)];
        return <span key={first} className="hatched absolute inset-y-0 border-b border-quiet" style={{ left, width: Math.max(1, right - left) }} />;
      })}
    </div>
  );
}

/** Pictures along the ruler: the whole strip, or where time is zoomed the frames themselves. */
function Film({ span }: { span: Span }) {
  const footage = useView().footage;
  const begun = useStage((s) => s.begun);
  const stretch = useTime((s) => s.stretch);
  if (!begun) return null;
  if (!stretch) return <img src={`/api/footage/${footage.id}/strip.jpg`} alt="" draggable={false} className="h-full w-full object-fill" />;
  // A power of two of frames a picture, counted from frame 0, so that a pan finds the same pictures again.
  const each = 2 ** Math.max(0, Math.ceil(Math.log2(CELL / perFrame(span))));
  const begin = Math.floor(span.from / each);
  const cells = Array.from({ length: Math.ceil(span.to / each) - begin + 1 }, (_, n) => begin + n);
  return cells.map((n) => {
    const frame = Math.min(Math.floor((n + 0.5) * each), footage.facts.length - 1);
    return <img key={n} src={`/api/footage/${footage.id}/frames/${frame}.jpg`} alt="" draggable={false} className="absolute inset-y-0 h-full object-cover" style={{ left: xOf(span, n * each - 0.5), width: each * perFrame(span) }} />;
  });
}

/** The line at the frame on screen, with its timecode. It alone is drawn anew with every frame. */
function Playhead({ span, rate }: { span: Span; rate: number }) {
  const frame = useTime((s) => s.frame);
  const { last } = useEngine().timeline;
  const x = xOf(span, frame);
  return (
    <div role="slider" tabIndex={0} aria-label="Playhead" aria-valuenow={frame} aria-valuemin={0} aria-valuemax={last} aria-valuetext={`frame ${frame}, ${timecode(frame, rate)}`} className="group outline-none">
      <div className="pointer-events-none absolute top-0 bottom-0 left-0 w-[2px] bg-ink group-focus-visible:outline group-focus-visible:outline-2 group-focus-visible:outline-offset-2 group-focus-visible:outline-ink" style={{ transform: `translateX(${x - 1}px)` }} />
      <span
        className="pointer-events-none absolute top-0 left-0 w-[60px] bg-inverse py-px text-center leading-[14px] font-bold text-inverse-ink group-focus-visible:underline"
        style={{ transform: `translateX(${Math.min(Math.max(x - 30, 0), span.width - 60)}px)` }}
      >
        {timecode(frame, rate)}
      </span>
    </div>
  );
}

/** A handle for the in or the out, below the strip. */
function End({ which, at, frameAt }: { which: "first" | "last"; at: number; frameAt: (e: PointerEvent) => number }) {
  const engine = useEngine();
  const value = useDocument()[which];
  const name = which === "first" ? "In" : "Out";
  const limit = (n: number) => {
    const { first, last } = engine.document.stored;
    return which === "first" ? Math.min(Math.max(n, 0), last) : Math.max(Math.min(n, engine.timeline.last), first);
  };
  const { begin, handlers } = useDrag<number | null>({
    move: (_, e) => {
      const to = limit(frameAt(e));
      engine.document.show(endCommands(engine, which, to));
      return to;
    },
    end: (to) => to !== null && setEnd(engine, which, to),
    giveUp: () => engine.document.drop(),
  });
  return (
    <div
      role="slider"
      tabIndex={0}
      aria-label={name}
      aria-valuenow={value}
      aria-valuemin={0}
      aria-valuemax={engine.timeline.last}
      aria-valuetext={`frame ${value}`}
      title={`${name}: drag, or press ${name[0]} at the playhead`}
      className="absolute top-[22px] z-10 h-[44px] w-[24px] cursor-ew-resize touch-none"
      style={{ left: at, transform: which === "first" ? "translateX(-15px)" : "translateX(-9px)" }}
      onKeyDown={(e) => {
        const by = { ArrowLeft: -1, ArrowRight: 1 }[e.key];
        if (!by) return;
        e.preventDefault();
        e.stopPropagation();
        setEnd(engine, which, limit(value + by * (e.shiftKey ? 10 : 1)));
      }}
      onPointerDown={(e) => {
        e.stopPropagation();
        if (e.button === 0) begin(e, null);
      }}
      {...handlers}
    >
      <span className="absolute inset-y-0 w-[7px] border border-black bg-white" style={{ left: which === "first" ? 8 : 9 }} />
    </div>
  );
}
