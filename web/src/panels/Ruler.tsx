import { useEffect, useRef, type PointerEvent, type RefObject } from "react";

import { frameAt, panned, perFrame, xOf, zoomed, type Span } from "../engine/timespan";
import { timecode } from "../ui/words";
import { MarksOnRuler } from "./Checks";
import { Curve } from "./Curve";
import { SureBand } from "./SureBand";
import { Overview } from "./Overview";
import { endCommands, setEnd } from "../engine/transport";
import { useLayout } from "./app";
import { useAtRest, useDoc, useEngine, useShown, useShownParts, useStage, useTime, useTimed, useView } from "./engine";
import { useDrag } from "../ui/drag";
import { useSize } from "../ui/size";

const CLOSER = 1.0016; // per pixel of wheel

/** The stretch of time that is shown, over the width of an element. */
export function useSpan(box: RefObject<HTMLElement | null>, less = 0): Span {
  const last = Math.max(1, useTimed().timeline.last);
  const stretch = useTime((s) => s.held ?? s.stretch);
  const { width } = useSize(box, { width: 800 + less, height: 0 });
  return { from: stretch?.from ?? 0, to: stretch?.to ?? last, width: width - less };
}

/** The wheel over a stretch of time: it pans; with Ctrl it zooms where the pointer is. `must`: what is there scrolls by it, and it pans sideways or with Shift alone. */
export function useWheel(box: RefObject<HTMLElement | null>, span: Span, left: number, must = false) {
  const engine = useTimed();
  useEffect(() => {
    const element = box.current!;
    const wheel = (e: WheelEvent) => {
      const sideways = e.shiftKey || Math.abs(e.deltaX) > Math.abs(e.deltaY);
      if (must && !e.ctrlKey && !sideways) return;
      e.preventDefault();
      const last = engine.timeline.last;
      const by = (sideways && e.deltaX) || e.deltaY || e.deltaX;
      const at = frameAt(span, e.clientX - element.getBoundingClientRect().left - left);
      engine.timeline.set({ stretch: e.ctrlKey || e.metaKey ? zoomed(span, last, at, CLOSER ** -by) : panned(span, last, by / perFrame(span)) });
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
  const box = useRef<HTMLDivElement>(null);
  const span = useSpan(box);
  useWheel(box, span, 0);
  const { at, handlers } = useScrub(box, span);
  const document = useShownParts((d) => ({ first: d.first, last: d.last }));
  const part = useDoc((s) => s.view.part);
  const { rate } = useEngine().timeline;
  const { width } = span;
  const x = (n: number) => xOf(span, n);
  return (
    <div className="flex min-h-0 flex-col px-3">
      <div ref={box} className="relative flex min-h-0 flex-1 touch-none flex-col overflow-x-clip select-none" {...handlers}>
        <Marks span={span} rate={rate} />
        <MarksOnRuler span={span} />
        <div className="relative max-h-[96px] min-h-[44px] flex-[3] overflow-hidden bg-black">
          <Film span={span} />
          <div className="absolute inset-y-0 left-0 bg-black/70" style={{ width: Math.max(0, x(document.first)) }} />
          <div className="absolute inset-y-0 right-0 bg-black/70" style={{ width: Math.max(0, width - x(document.last)) }} />
          {!part && <End which="first" at={x(document.first)} frameAt={at} />}
          {!part && <End which="last" at={x(document.last)} frameAt={at} />}
        </div>
        <SureBand span={span} />
        <Curve span={span} />
        <Playhead span={span} rate={rate} />
      </div>
      <Overview />
    </div>
  );
}

/** The ruler by itself. */
export function RulerLine() {
  const box = useRef<HTMLDivElement>(null);
  const span = useSpan(box);
  useWheel(box, span, 0);
  const { handlers } = useScrub(box, span);
  const { rate } = useEngine().timeline;
  return (
    <div ref={box} className="relative h-full touch-none overflow-x-clip pt-2 select-none" {...handlers}>
      <div className="relative h-full">
        <Marks span={span} rate={rate} />
        <Playhead span={span} rate={rate} />
      </div>
    </div>
  );
}

/** The pointer on time takes the playhead along. */
export function useScrub(box: RefObject<HTMLElement | null>, span: Span) {
  const engine = useTimed();
  const scrubbing = useRef(false);
  const at = (e: PointerEvent) => Math.round(frameAt(span, e.clientX - box.current!.getBoundingClientRect().left));
  const over = () => (scrubbing.current = false);
  const down = (e: PointerEvent) => {
    if (e.button !== 0) return;
    e.currentTarget.setPointerCapture(e.pointerId);
    scrubbing.current = true;
    engine.go(at(e));
  };
  return { at, handlers: { onPointerDown: down, onPointerMove: (e: PointerEvent) => scrubbing.current && engine.go(at(e)), onPointerUp: over, onPointerCancel: over } };
}

export function Marks({ span, rate }: { span: Span; rate: number }) {
  const x = (n: number) => xOf(span, n);
  const step = stepsAt(rate).find((s) => s * perFrame(span) > 74) ?? 600 * Math.round(rate);
  const begin = Math.ceil(span.from / step);
  const marks = Array.from({ length: Math.max(0, Math.floor(span.to / step) - begin + 1) }, (_, n) => (begin + n) * step);
  return (
    <div className="h-[22px] shrink-0" title="The wheel pans, with Ctrl it zooms">
      {marks.map((n) => (
        <span key={n} className="absolute top-[1px] text-[11px] text-quiet" style={{ left: x(n) + 3 }}>
          {x(n) > span.width - 48 ? "" : timecode(n, rate)}
        </span>
      ))}
      {marks.map((n) => (
        <span key={`m${n}`} className="absolute top-0 h-[22px] w-px bg-line" style={{ left: x(n) }} />
      ))}
      <Rendered span={span} />
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

const STRIP = 24; // pictures in the strip that the server makes of all of the footage

/** Pictures along the ruler, side by side in their own proportions: of the source, or of the finished picture. */
function Film({ span }: { span: Span }) {
  const { shot, footage } = useView();
  const begun = useStage((s) => s.begun);
  const finished = useLayout((s) => s.strip) === "result";
  const box = useRef<HTMLDivElement>(null);
  const { height } = useSize(box, { width: 800, height: 44 });
  const { revision } = useAtRest();
  const { facts } = footage;
  const cell = Math.max(24, (height * facts.width) / facts.height);
  const each = cell / perFrame(span);
  const begin = Math.floor(span.from / each);
  const cells = begun ? Array.from({ length: Math.min(Math.ceil(span.to / each) - begin + 1, 400) }, (_, n) => begin + n) : [];
  const coarse = 2 ** Math.max(0, Math.floor(Math.log2(each / 2))); // frames are taken from a few, so that another zoom finds them again
  const url = (frame: number) => (finished || !footage.id ? `/api/shots/${shot.id}/pictures/${revision}/${frame}.jpg?width=160${finished ? "" : "&view=source"}` : `/api/footage/${footage.id}/frames/${frame}.jpg`);
  const whole = useTime((s) => s.stretch === null) && !finished && footage.id !== ""; // of all time together there is one picture, made when the footage came
  const strip = `url(/api/footage/${footage.id}/strip.jpg?${footage.content})`;
  return (
    <div ref={box} className="absolute inset-0">
      {cells.map((n) => {
        if (whole) {
          const at = Math.min(Math.floor((((n + 0.5) * each) / facts.length) * STRIP), STRIP - 1);
          return <span key={n} className="absolute inset-y-0 border-r border-black" style={{ left: xOf(span, n * each), width: cell, background: `${strip} ${-at * cell}px 0 / ${STRIP * cell}px 100%` }} />;
        }
        const frame = Math.min(Math.round(((n + 0.5) * each) / coarse) * coarse, facts.length - 1);
        return <img key={n} src={url(frame)} alt="" draggable={false} className="absolute inset-y-0 h-full max-w-none border-r border-black object-cover" style={{ left: xOf(span, n * each), width: cell }} />;
      })}
    </div>
  );
}

/** The line at the frame on screen, with its timecode. It alone is drawn anew with every frame. */
export function Playhead({ span, rate }: { span: Span; rate: number }) {
  const frame = useTime((s) => s.frame);
  const { last } = useTimed().timeline;
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
  const value = useShown((d) => d[which]);
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
      className="absolute inset-y-0 z-10 w-[24px] cursor-ew-resize touch-none"
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
