import clsx from "clsx";
import { useEffect, useRef, useState, type KeyboardEvent, type PointerEvent } from "react";

import type { Lane, ParamInfo } from "../api/types";
import { frameAt as frameOf, perFrame, xOf, type Span } from "../engine/timespan";
import { numberWords, valueWords } from "../ui/lengths";
import { useLines } from "./lines";
import { Post } from "./Pin";
import { type BenchSession } from "../engine/bench";
import { laneOf, lanesOf, movePins, type Pin, pinKey, snapTo, valueAt, withKeyframe } from "../engine/lanes";
import { useEngine, usePins, useTime } from "./engine";
import { useDrag } from "../ui/drag";

export const LANE_HEIGHT = 26;
export const GRAPH_HEIGHT = 92; // of a lane whose values are drawn
export const PAD = 12;
const SNAP = 6; // pixels within which a dragged pin takes a place

/** owner: what the parameter belongs to, by its name and by its ids. */
export type Row = { lane: Lane; info: ParamInfo; owner: string; of: string };

type TrackProps = { row: Row; span: Span; rate: number; chosen: Pin[]; rows: Row[]; height: number; open: boolean };
type Landed = { lanes: Lane[]; pins: Pin[] };
type Drag = { grab: number; top: number; from: number; pins: Pin[]; stretch: boolean; to: Landed | null; box: boolean };

/** The pins of a lane over its values; open, the values as a graph in which a pin is dragged up and down as well. */
export function LaneTrack({ row, span, rate, chosen, rows, height, open }: TrackProps) {
  const engine = useEngine();
  const lines = useLines();
  const { lane, info } = row;
  const last = engine.timeline.last;
  const area = useRef<HTMLDivElement>(null);
  const boxed = usePins((s) => (s.box?.targets.includes(lane.target) ? s.box : null));
  const [held, setHeld] = useState<Scale | null>(null); // while a pin is dragged the graph stands still under it
  const scale = held ?? scaleOf(lane, info, height, rate, last);
  const x = (n: number) => xOf(span, n);
  const frameAt = (e: { clientX: number }) => frameOf(span, e.clientX - area.current!.getBoundingClientRect().left);
  const isChosen = (pin: Pin) => chosen.some((p) => pinKey(p) === pinKey(pin));
  const storeMove = (to: Landed) => {
    const single = to.pins.length === 1 ? to.lanes[0]!.keyframes.find((k) => k.frame === to.pins[0]!.frame)! : null;
    const before = single && laneOf(engine.document.stored, to.pins[0]!.target)?.keyframes.find((k) => k.frame === single.frame);
    const lifted = single && before && before.value !== single.value ? `${info.name} ${valueWords(info, Number(before.value), lines)} → ${numberWords(info, Number(single.value), lines)} at frame ${single.frame}` : null;
    engine.pins.choose(to.pins);
    void engine.document.edit(engine.target.lanes(to.lanes), lifted ?? (single ? `${info.name}: keyframe moved to frame ${single.frame}` : `${to.pins.length} keyframes moved`));
  };
  const move = (pins: Pin[], lift: ((value: unknown) => number) | null, place: (frame: number) => number): Landed => {
    const to = movePins(lanesOf(engine.document.stored), pins, place, lift);
    engine.document.show(engine.target.lanes(to.lanes));
    return to;
  };
  const { begin, handlers } = useDrag<Drag>({
    move: (d, e) => {
      const at = frameAt(e);
      if (d.box) {
        engine.pins.state.setState({ box: { from: Math.min(d.grab, at), to: Math.max(d.grab, at), targets: lanesBetween(d.top, e.clientY) } });
        return d;
      }
      const lifted = open && d.pins.length === 1 && Math.abs(e.clientY - d.top) >= 3;
      if (!d.pins.length || (Math.abs(x(at) - x(d.grab)) < 3 && !lifted && !d.to)) return d;
      const mine = new Set(d.pins.map(pinKey));
      const others = rows.flatMap((r) => r.lane.keyframes.filter((k) => !mine.has(pinKey({ target: r.lane.target, frame: k.frame }))).map((k) => k.frame));
      const seconds = Array.from({ length: Math.floor(last / rate) + 1 }, (_, n) => Math.round(n * rate));
      const landed = snapTo(d.from + at - d.grab, [engine.timeline.frame, ...others, ...seconds], SNAP / perFrame(span));
      const anchor = Math.min(...d.pins.map((p) => p.frame));
      const factor = (landed - anchor) / Math.max(d.from - anchor, 1);
      const lift = open && d.pins.length === 1 ? (value: unknown) => within(info, Number(value) + scale.valueOf(e.clientY) - scale.valueOf(d.top)) : null;
      return { ...d, to: move(d.pins, lift, d.stretch && d.from > anchor ? (f) => anchor + (f - anchor) * factor : (f) => f + landed - d.from) };
    },
    end: (d) => {
      setHeld(null);
      if (!d.box) return d.to && storeMove(d.to);
      const { box } = engine.pins.state.getState();
      const wide = box !== null && box.to - box.from > 4 / perFrame(span);
      const inside = rows.filter((r) => wide && box.targets.includes(r.lane.target)).flatMap((r) => r.lane.keyframes.filter((k) => k.frame >= box!.from && k.frame <= box!.to).map((k) => ({ target: r.lane.target, frame: k.frame })));
      engine.pins.choose(inside);
      engine.pins.state.setState({ box: null });
    },
    giveUp: () => {
      setHeld(null);
      engine.document.drop();
      engine.pins.state.setState({ box: null });
    },
  });
  const down = (frame: number) => (e: PointerEvent) => {
    e.stopPropagation();
    if (e.button !== 0) return;
    const pin = { target: lane.target, frame };
    let pins = isChosen(pin) ? chosen : e.shiftKey ? [...chosen, pin] : [pin];
    if (e.shiftKey && isChosen(pin)) pins = chosen.filter((p) => pinKey(p) !== pinKey(pin));
    engine.pins.choose(pins);
    setHeld(scale);
    begin(e, { grab: frameAt(e), top: e.clientY, from: frame, pins, stretch: e.altKey, to: null, box: false }, area.current!);
  };
  const downTrack = (e: PointerEvent) => {
    if (e.button !== 0) return;
    begin(e, { grab: frameAt(e), top: e.clientY, from: 0, pins: [], stretch: false, to: null, box: true }, area.current!);
  };
  const focused = useRef<number | null>(null); // a pin that was moved by the keyboard keeps the focus where it has gone
  useEffect(() => {
    if (focused.current === null) return;
    area.current?.querySelector<HTMLElement>(`[data-frame="${focused.current}"]`)?.focus();
    focused.current = null;
  });
  const key = (frame: number) => (e: KeyboardEvent) => {
    const by = { ArrowLeft: -1, ArrowRight: 1 }[e.key];
    const pins = chosen.length ? chosen : [{ target: lane.target, frame }];
    if (by) {
      const far = by * (e.shiftKey ? 10 : 1);
      e.preventDefault();
      e.stopPropagation();
      if (pins.some((p) => p.frame + far < 0)) return;
      focused.current = frame + far;
      storeMove(movePins(lanesOf(engine.document.stored), pins, (f) => f + far));
    } else if (e.key === "Delete" || e.key === "Backspace") {
      e.preventDefault();
      e.stopPropagation();
      removePins(engine, pins, rows);
      engine.pins.choose([]);
    } else if (e.key === "Enter") {
      e.preventDefault();
      e.stopPropagation();
      engine.go(frame);
    }
  };
  return (
    <div className="min-w-0 flex-1" style={{ paddingInline: PAD }}>
      <div
        ref={area}
        role="group"
        aria-label={`Lane of ${info.name}`}
        title="Double-click puts a keyframe; drag over pins chooses them, of several lanes too; Alt stretches"
        data-lane={lane.target}
        className="relative h-full touch-none select-none"
        onPointerDown={downTrack}
        {...handlers}
        onDoubleClick={(e) => {
          const frame = Math.min(Math.max(Math.round(frameAt(e)), 0), last);
          if (lane.keyframes.some((k) => k.frame === frame)) return engine.go(frame);
          void engine.document.edit(engine.target.lanes([withKeyframe(lane, info, frame, valueAt(lane, info, frame, rate), rate)]), `${info.name}: keyframe at frame ${frame}`);
        }}
      >
        <Graph lane={lane} info={info} span={span} rate={rate} scale={scale} height={height} open={open} />
        {boxed && <span className="absolute inset-y-0 bg-ink opacity-20" style={{ left: x(boxed.from), width: x(boxed.to) - x(boxed.from) }} />}
        {lane.keyframes
          .filter((k) => k.frame >= span.from && k.frame <= span.to)
          .map((k) => (
            <button
              key={k.frame}
              type="button"
              aria-label={`${info.name}: keyframe at frame ${k.frame}`}
              aria-pressed={isChosen({ target: lane.target, frame: k.frame })}
              title={`frame ${k.frame}, ${info.kind === "number" ? `${numberWords(info, Number(k.value), lines)}, ` : ""}${k.how}`}
              data-frame={k.frame}
              className={clsx("absolute flex h-[24px] w-[14px] -translate-x-1/2 -translate-y-1/2 items-center justify-center", open ? "cursor-move" : "cursor-ew-resize")}
              style={{ left: x(k.frame), top: open ? scale.y(Number(k.value)) : "50%" }}
              onPointerDown={down(k.frame)}
              onDoubleClick={(e) => {
                e.stopPropagation();
                engine.go(k.frame);
              }}
              onKeyDown={key(k.frame)}
            >
              <Post how={k.how ?? "smooth"} strong={isChosen({ target: lane.target, frame: k.frame })} />
            </button>
          ))}
        <Now span={span} />
      </div>
    </div>
  );
}

/** A lane keeps its last keyframe; its menu removes the animation. */
function removePins(engine: BenchSession, pins: Pin[], rows: Row[]) {
  const gone = new Set(pins.map(pinKey));
  const lanes = rows.flatMap(({ lane }) => {
    const left = lane.keyframes.filter((k) => !gone.has(pinKey({ target: lane.target, frame: k.frame })));
    return left.length === lane.keyframes.length ? [] : [{ ...lane, keyframes: left.length ? left : lane.keyframes.slice(0, 1) }];
  });
  void engine.document.edit(engine.target.lanes(lanes), pins.length === 1 ? "Keyframe removed" : `${pins.length} keyframes removed`);
}

type Scale = { low: number; high: number; y: (value: number) => number; valueOf: (clientY: number) => number };

/** From values to places in a lane: all that the lane reaches, with a little room. */
function scaleOf(lane: Lane, info: ParamInfo, height: number, rate: number, last: number): Scale {
  if (info.kind !== "number") return { low: 0, high: 1, y: () => height / 2, valueOf: () => 0 };
  const ends = lane.drift ? [0, last].map((n) => Number(valueAt(lane, info, n, rate))) : [];
  const values = [...lane.keyframes.map((k) => Number(k.value)), ...ends];
  const [least, most] = [Math.min(...values), Math.max(...values)];
  const room = most > least ? (most - least) * 0.08 : (info.high - info.low) * 0.1;
  const [low, high] = [Math.max(info.low, least - room), Math.min(info.high, most + room)];
  const per = (height - 10) / (high - low || 1);
  return { low, high, y: (value) => height - 5 - (value - low) * per, valueOf: (clientY) => -clientY / per };
}

const within = (info: ParamInfo, value: number) => {
  const stepped = Math.round(value / (info.step / 10)) * (info.step / 10);
  return Math.min(Math.max(Number(stepped.toFixed(6)), info.low), info.high);
};

/** The targets of the lanes that lie between two heights on the screen. */
function lanesBetween(one: number, other: number): string[] {
  const [top, bottom] = [Math.min(one, other), Math.max(one, other)];
  return [...document.querySelectorAll<HTMLElement>("[data-lane]")].flatMap((element) => {
    const box = element.getBoundingClientRect();
    return box.top < bottom + 1 && box.bottom > top - 1 ? [element.dataset.lane!] : [];
  });
}

type GraphProps = { lane: Lane; info: ParamInfo; span: Span; rate: number; scale: Scale; height: number; open: boolean };

/** The value over time, faint behind the pins; for colours the colours themselves. */
function Graph({ lane, info, span, rate, scale, height, open }: GraphProps) {
  const { from, to, width } = span;
  const lines = useLines();
  if (info.kind === "colour") {
    const stops = Array.from({ length: 25 }, (_, n) => String(valueAt(lane, info, from + (n / 24) * (to - from), rate)));
    return <div className="absolute inset-x-0 bottom-[3px] h-[4px]" style={{ background: `linear-gradient(to right, ${stops.join(", ")})` }} />;
  }
  if (info.kind !== "number") return <div className="absolute inset-x-0 top-1/2 h-px bg-line" />;
  const count = Math.min(open ? 400 : 200, Math.ceil(to - from) + 1);
  const points = Array.from({ length: count }, (_, n) => `${((n / (count - 1)) * width).toFixed(1)},${scale.y(Number(valueAt(lane, info, from + (n / (count - 1)) * (to - from), rate))).toFixed(1)}`).join(" ");
  return (
    <>
      <svg aria-hidden className="absolute inset-0" width={width} height={height}>
        {open && [scale.low, scale.high].map((v) => <line key={v} x1={0} x2={width} y1={scale.y(v)} y2={scale.y(v)} className="stroke-line" strokeDasharray="2 3" />)}
        <polyline points={points} fill="none" className={open ? "stroke-ink" : "stroke-strong"} strokeWidth={1} />
      </svg>
      {open && <span className="pointer-events-none absolute top-[2px] right-0 text-[11px] text-quiet">{numberWords(info, scale.high, lines)}</span>}
      {open && <span className="pointer-events-none absolute right-0 bottom-[1px] text-[11px] text-quiet">{numberWords(info, scale.low, lines)}</span>}
    </>
  );
}

function Now({ span }: { span: Span }) {
  const frame = useTime((s) => s.frame);
  if (frame < span.from || frame > span.to) return null;
  return <span aria-hidden className="pointer-events-none absolute inset-y-0 w-[2px] bg-ink" style={{ left: xOf(span, frame) - 1 }} />;
}
