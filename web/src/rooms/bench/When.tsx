import { Pause, Play, Repeat, SkipBack, SkipForward, StepBack, StepForward, Volume2, VolumeX } from "lucide-react";
import { useEffect, useRef, useState, type PointerEvent } from "react";

import { edit, live } from "../../editor/edits";
import { bench, documentOf, rateOf, setBench, useBench, useDocument } from "../../editor/store";
import { Button, IconButton } from "../../ui/basics";
import { frameOf, timecode } from "../../ui/words";
import { go, setEnd, togglePlay } from "./actions";
import { lanesOf } from "../../editor/lanes";
import { Curve, CurveWords } from "./Curve";
import { Lanes } from "./Lanes";

/** Time: the ruler, the film strip, the in and out, the playhead. */
export function When() {
  const lanes = lanesOf(useDocument()).length;
  return (
    <div className="grid h-full grid-cols-[268px_minmax(0,1fr)] grid-rows-[139px_minmax(0,1fr)]">
      <Transport />
      <Ruler />
      {lanes > 0 && (
        <div className="col-span-2 min-h-0">
          <RulerLanes />
        </div>
      )}
    </div>
  );
}

function Transport() {
  const view = useBench((s) => s.view)!;
  const playing = useBench((s) => s.playing);
  const speed = useBench((s) => s.speed);
  const reached = useBench((s) => s.reached);
  const loop = useBench((s) => s.loop);
  const sound = useBench((s) => s.sound);
  const document = useDocument()!;
  const rate = rateOf(view);
  const { facts } = view.footage;
  return (
    <div className="flex flex-col gap-1 border-r border-line px-3.5 py-1.5">
      <div className="flex items-baseline justify-between">
        <h2 className="text-[18px] font-bold">When</h2>
        <FrameField length={facts.length} />
      </div>
      <div className="flex items-center">
        <IconButton tip="To the in (Home)" onClick={() => go(document.first)}>
          <SkipBack size={15} />
        </IconButton>
        <IconButton tip="One frame back (←)" onClick={() => go(bench().frame - 1)}>
          <StepBack size={15} />
        </IconButton>
        <IconButton tip={playing ? "Pause (Space)" : "Play (Space)"} on={playing} onClick={togglePlay}>
          {playing ? <Pause size={16} /> : <Play size={16} />}
        </IconButton>
        <IconButton tip="One frame on (→)" onClick={() => go(bench().frame + 1)}>
          <StepForward size={15} />
        </IconButton>
        <IconButton tip="To the out (End)" onClick={() => go(document.last)}>
          <SkipForward size={15} />
        </IconButton>
        <span className="flex-1" />
        <IconButton tip={loop ? "Loops between in and out" : "Stops at the out"} on={loop} onClick={() => setBench({ loop: !loop })}>
          <Repeat size={15} />
        </IconButton>
        {facts.sound && (
          <IconButton tip={sound ? "Sound on" : "Sound off"} on={sound} onClick={() => setBench({ sound: !sound })}>
            {sound ? <Volume2 size={15} /> : <VolumeX size={15} />}
          </IconButton>
        )}
      </div>
      <div className="flex items-center gap-2">
        <Button title="Set the in at this frame (I)" onClick={() => setEnd("first", bench().frame)}>
          In {document.first}
        </Button>
        <Button title="Set the out at this frame (O)" onClick={() => setEnd("last", bench().frame)}>
          Out {document.last}
        </Button>
        <span className="ml-auto text-quiet">{document.last - document.first + 1} frames</span>
      </div>
      <p className="text-quiet" aria-label="Rate">
        {playing && reached > 0 ? (
          <>
            showing <b className="text-ink">{reached.toFixed(1)}</b> of {(rate * Math.abs(speed)).toFixed(rate % 1 ? 2 : 0)} fps
          </>
        ) : (
          `${Number(rate.toFixed(3))} fps`
        )}
      </p>
      <CurveWords />
    </div>
  );
}

/** The frame number: typed, it goes there. */
function FrameField({ length }: { length: number }) {
  const frame = useBench((s) => s.frame);
  const [text, setText] = useState<string | null>(null);
  const submit = () => {
    const wanted = text === null ? null : frameOf(text, rateOf(bench().view));
    setText(null);
    if (wanted !== null) go(wanted);
  };
  return (
    <label className="flex items-baseline gap-1 text-quiet">
      frame
      <input
        aria-label="Frame"
        title="A frame, or a timecode like 1:12 or 00:01:12"
        inputMode="numeric"
        value={text ?? String(frame)}
        onFocus={(e) => e.currentTarget.select()}
        onChange={(e) => setText(e.currentTarget.value)}
        onBlur={submit}
        onKeyDown={(e) => {
          if (e.key === "Enter") e.currentTarget.blur();
          if (e.key === "Escape") setText(null);
        }}
        className="w-[48px] bg-transparent text-right font-semibold text-ink outline-none focus:bg-raised"
      />
      of {length}
    </label>
  );
}

/** Distances between marks, in frames: even parts of a second, then seconds and minutes. */
const stepsAt = (rate: number) => {
  const second = Math.round(rate);
  const parts = [1, 2, 3, 4, 5, 6, 10, 12, 15, 20, 30].filter((n) => n < second && second % n === 0);
  return [...parts, ...[1, 2, 5, 10, 15, 30, 60, 120, 300, 600].map((n) => n * second)];
};

function Ruler() {
  const view = useBench((s) => s.view)!;
  const begun = useBench((s) => s.begun);
  const document = useDocument()!;
  const box = useRef<HTMLDivElement>(null);
  const [width, setWidth] = useState(800);
  const scrubbing = useRef(false);
  const { facts } = view.footage;
  const rate = rateOf(view);
  const last = Math.max(1, facts.length - 1);
  const x = (n: number) => (n / last) * width;

  useEffect(() => {
    const observer = new ResizeObserver(() => box.current && setWidth(box.current.clientWidth));
    observer.observe(box.current!);
    return () => observer.disconnect();
  }, []);

  const frameAt = (e: PointerEvent) => Math.round(((e.clientX - box.current!.getBoundingClientRect().left) / width) * last);
  const down = (e: PointerEvent) => {
    if (e.button !== 0) return;
    e.currentTarget.setPointerCapture(e.pointerId);
    scrubbing.current = true;
    go(frameAt(e));
  };
  const step = stepsAt(rate).find((s) => x(s) > 74) ?? 600 * Math.round(rate);
  const marks = Array.from({ length: Math.floor(last / step) + 1 }, (_, n) => n * step);
  return (
    <div className="px-3">
      <div
        ref={box}
        className="relative h-full touch-none select-none"
        onPointerDown={down}
        onPointerMove={(e) => scrubbing.current && go(frameAt(e))}
        onPointerUp={() => (scrubbing.current = false)}
        onPointerCancel={() => (scrubbing.current = false)}
      >
        <div className="h-[22px]">
          {marks.map((n) => (
            <span key={n} className="absolute top-[3px] text-[11px] text-quiet" style={x(n) > width - 48 ? { right: 0 } : { left: x(n) + 3 }}>
              {x(n) > width - 48 ? "" : timecode(n, rate)}
            </span>
          ))}
          {marks.map((n) => (
            <span key={`m${n}`} className="absolute top-0 h-[22px] w-px bg-line" style={{ left: x(n) }} />
          ))}
        </div>
        <div className="relative h-[44px] overflow-hidden bg-black">
          {begun && <img src={`/api/footage/${view.footage.id}/strip.jpg`} alt="" draggable={false} className="h-full w-full object-fill" />}
          <div className="absolute inset-y-0 left-0 bg-black/70" style={{ width: x(document.first) }} />
          <div className="absolute inset-y-0 right-0 bg-black/70" style={{ width: width - x(document.last) }} />
        </div>
        <Curve width={width} last={last} />
        <End which="first" at={x(document.first)} frameAt={frameAt} />
        <End which="last" at={x(document.last)} frameAt={frameAt} />
        <Playhead width={width} last={last} rate={rate} />
      </div>
    </div>
  );
}

/** The lanes, as wide as the ruler above them. */
function RulerLanes() {
  const last = useBench((s) => Math.max(1, (s.view?.footage.facts.length ?? 2) - 1));
  const box = useRef<HTMLDivElement>(null);
  const [width, setWidth] = useState(800);
  useEffect(() => {
    const observer = new ResizeObserver(() => box.current && setWidth(box.current.clientWidth - 268 - 24));
    observer.observe(box.current!);
    return () => observer.disconnect();
  }, []);
  return (
    <div ref={box} className="h-full">
      <Lanes width={width} last={last} />
    </div>
  );
}

/** The line at the frame on screen, with its timecode. It alone is drawn anew with every frame. */
function Playhead({ width, last, rate }: { width: number; last: number; rate: number }) {
  const frame = useBench((s) => s.frame);
  const x = (frame / last) * width;
  return (
    <div role="slider" tabIndex={0} aria-label="Playhead" aria-valuenow={frame} aria-valuemin={0} aria-valuemax={last} aria-valuetext={`frame ${frame}`}>
      <div className="pointer-events-none absolute top-0 bottom-0 left-0 w-[2px] bg-ink" style={{ transform: `translateX(${x - 1}px)` }} />
      <span
        className="pointer-events-none absolute top-0 left-0 w-[60px] bg-inverse py-px text-center font-bold text-inverse-ink"
        style={{ transform: `translateX(${Math.min(Math.max(x - 30, 0), width - 60)}px)` }}
      >
        {timecode(frame, rate)}
      </span>
    </div>
  );
}

/** A handle for the in or the out, below the strip. */
function End({ which, at, frameAt }: { which: "first" | "last"; at: number; frameAt: (e: PointerEvent) => number }) {
  const drag = useRef<number | null>(null);
  const name = which === "first" ? "In" : "Out";
  const limit = (n: number) => {
    const { first, last } = documentOf(bench())!;
    const end = bench().view!.footage.facts.length - 1;
    return which === "first" ? Math.min(Math.max(n, 0), last) : Math.max(Math.min(n, end), first);
  };
  return (
    <div
      role="slider"
      tabIndex={0}
      aria-label={name}
      aria-valuenow={documentOf(bench())![which]}
      aria-valuemin={0}
      aria-valuemax={bench().view!.footage.facts.length - 1}
      title={`${name}: drag, or press ${name[0]} at the playhead`}
      className="absolute top-[22px] z-10 h-[44px] w-[7px] cursor-ew-resize touch-none border border-black bg-white"
      style={{ left: at, transform: which === "first" ? "translateX(-7px)" : undefined }}
      onKeyDown={(e) => {
        const by = { ArrowLeft: -1, ArrowRight: 1 }[e.key];
        if (!by) return;
        e.preventDefault();
        e.stopPropagation();
        setEnd(which, limit(documentOf(bench())![which] + by * (e.shiftKey ? 10 : 1)));
      }}
      onPointerDown={(e) => {
        e.stopPropagation();
        e.currentTarget.setPointerCapture(e.pointerId);
        drag.current = limit(frameAt(e));
      }}
      onPointerMove={(e) => {
        if (drag.current === null) return;
        drag.current = limit(frameAt(e));
        live([{ op: "replace", path: `/${which}`, value: drag.current }]);
      }}
      onPointerUp={() => {
        const value = drag.current;
        drag.current = null;
        if (value !== null && value !== bench().view!.document[which]) void edit([{ op: "replace", path: `/${which}`, value }], `${name} at frame ${value}`);
      }}
    />
  );
}
