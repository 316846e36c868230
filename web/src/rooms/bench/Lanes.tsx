import clsx from "clsx";
import { useEffect, useRef, useState, type KeyboardEvent, type PointerEvent } from "react";

import { useCatalogue } from "../../api/queries";
import type { Catalogue, Lane, ParamInfo } from "../../api/types";
import { helper, stopAnimating } from "../../editor/animate";
import { edit, live } from "../../editor/edits";
import { lanesOf, movePins, PATH, pinKey, putLane, snapTo, SWITCH, valueAt, withKeyframe, type How, type Pin } from "../../editor/lanes";
import { bench, passesOf, rateOf, selectionsOf, shapesOf, useBench, useDocument } from "../../editor/store";
import { frameAt as frameOf, perFrame, xOf, type Span } from "../../editor/timespan";
import { Menu } from "../../ui/menu";
import { format } from "../../ui/numbers";
import { askName } from "../../ui/prompt";
import { SmallNumber } from "../../ui/small";
import { go } from "./actions";
import { pinForm } from "./Pin";
import { useSpan, useWheel } from "./Ruler";

export const LANE_HEIGHT = 26;
const SNAP = 6; // pixels within which a dragged pin takes a place
const LABEL = 268;
const PAD = 12;

type Row = { lane: Lane; info: ParamInfo; owner: string };

/** What a lane animates: whose parameter it is, and its declaration. */
function rowOf(lane: Lane, document: ReturnType<typeof useDocument>, data: Catalogue): Row | null {
  const words = lane.target.split("/");
  const key = words.at(-1)!;
  if (words[0] === "passes") {
    const pass = passesOf(document).find((p) => p.id === words[1]);
    if (!pass) return null;
    const info = words[2] === "amount" ? data.amount : words[2] === "on" ? SWITCH : data.treatments.find((t) => t.id === pass.treatment)?.params.find((p) => p.key === key);
    return info ? { lane, info, owner: pass.name } : null;
  }
  const selection = selectionsOf(document).find((s) => s.id === words[1]);
  if (!selection) return null;
  const type = words[2] === "keys" ? selection.keys?.[Number(words[3])]?.type : null;
  const infos = words[2] === "cleaning" ? data.cleaning : words[2] === "shapes" ? data.shape : (data.keys.find((k) => k.id === type)?.params ?? []);
  const info = key === "on" ? SWITCH : key === "points" ? PATH : infos.find((p) => p.key === key);
  const shape = words[2] === "shapes" ? shapesOf(selection).find((s) => s.id === words[3]) : null;
  return info ? { lane, info, owner: shape ? shape.name : selection.name } : null;
}

/** One lane for each animated value, under the ruler and in step with it. */
export function Lanes() {
  const box = useRef<HTMLDivElement>(null);
  const span = useSpan(box, LABEL + 2 * PAD);
  useWheel(box, span, LABEL + PAD, true);
  const document = useDocument();
  const { data } = useCatalogue();
  const rate = useBench((s) => rateOf(s.view));
  const [chosen, setChosen] = useState<Pin[]>([]);
  const [folded, setFolded] = useState<string[]>([]);
  const rows = data ? lanesOf(document).flatMap((lane) => rowOf(lane, document, data) ?? []) : [];
  const owners = [...new Set(rows.map((r) => r.owner))];
  const alive = chosen.filter((p) => rows.some((r) => r.lane.target === p.target && r.lane.keyframes.some((k) => k.frame === p.frame)));
  return (
    <div ref={box} role="group" aria-label="Lanes" className="h-full overflow-auto border-t border-line">
      {owners.map((owner) => {
        const mine = rows.filter((r) => r.owner === owner);
        const isFolded = folded.includes(owner);
        const fold = () => setFolded(isFolded ? folded.filter((f) => f !== owner) : [...folded, owner]);
        if (isFolded)
          return (
            <button key={owner} type="button" aria-expanded={false} className="flex w-full items-center px-3.5 text-quiet hover:text-ink" style={{ height: LANE_HEIGHT }} onClick={fold}>
              ▸ {owner}: {mine.length} {mine.length === 1 ? "lane" : "lanes"}
            </button>
          );
        return mine.map((row, n) => <LaneRow key={row.lane.target} row={row} first={n === 0} onFold={fold} span={span} rate={rate} chosen={alive} onChoose={setChosen} rows={rows} />);
      })}
    </div>
  );
}

type RowProps = { row: Row; first: boolean; onFold: () => void; span: Span; rate: number; chosen: Pin[]; onChoose: (pins: Pin[]) => void; rows: Row[] };

function LaneRow({ row, first, onFold, span, rate, chosen, onChoose, rows }: RowProps) {
  const { lane, info, owner } = row;
  const frame = useBench((s) => s.frame);
  const mine = chosen.filter((p) => p.target === lane.target);
  const single = chosen.length === 1 && mine.length === 1 ? lane.keyframes.find((k) => k.frame === mine[0]!.frame)! : null;
  const shown = valueAt(lane, info, frame, rate);
  const store = (next: Lane, words: string) => void edit([putLane(bench().view!.document, next)], words);
  const put = (change: { frame?: number; value?: number }) => {
    const next = { ...single!, ...change };
    onChoose([{ target: lane.target, frame: next.frame }]);
    store({ ...lane, keyframes: [...lane.keyframes.filter((k) => k !== single && k.frame !== next.frame), next].sort((a, b) => a.frame - b.frame) }, `${info.name}: keyframe at frame ${next.frame}`);
  };
  return (
    <div className="flex items-stretch border-b border-line" style={{ height: LANE_HEIGHT }}>
      <div className="flex shrink-0 items-center gap-2 border-r border-line px-3.5 text-[12px]" style={{ width: LABEL }}>
        <button type="button" aria-expanded aria-label={`Fold the lanes of ${owner}`} className={clsx("w-[10px] text-quiet", !first && "invisible")} onClick={onFold}>
          ▾
        </button>
        <span className="min-w-0 flex-1 truncate" title={`${owner}: ${info.name}`}>
          <span className="text-quiet">{owner}</span> {info.name}
        </span>
        {single && info.kind === "number" ? (
          <>
            <SmallNumber className="w-[46px]" label="Keyframe at frame" name="fr" value={single.frame} low={0} high={bench().view!.footage.facts.length - 1} step={1} onCommit={(v) => put({ frame: Math.round(v) })} />
            <SmallNumber className="w-[52px]" label="Keyframe value" value={Number(single.value)} low={info.low} high={info.high} step={info.step} unit={info.unit} onCommit={(v) => put({ value: v })} />
          </>
        ) : (
          <b className="tabular-nums">{info.kind === "number" ? `${format(info, Number(shown))} ${info.unit}` : info.kind === "colour" ? String(shown) : ""}</b>
        )}
        <LaneMenu row={row} chosen={mine} store={store} />
      </div>
      <Track row={row} span={span} rate={rate} chosen={chosen} onChoose={onChoose} rows={rows} />
    </div>
  );
}

function LaneMenu({ row, chosen, store }: { row: Row; chosen: Pin[]; store: (lane: Lane, words: string) => void }) {
  const { lane, info } = row;
  const some = new Set(chosen.map((p) => p.frame));
  const touched = (k: { frame: number }) => !some.size || some.has(k.frame);
  const which = some.size ? "chosen" : "all";
  const shape = (how: How, words: string) => store({ ...lane, keyframes: lane.keyframes.map((k) => (touched(k) ? { ...k, how } : k)) }, `${info.name}: ${words}`);
  const number = info.kind === "number";
  const askDrift = () =>
    askName(`Drift of ${info.name}, ${info.unit || "units"} per second`, String(lane.drift ?? 0), (text) => {
      const drift = Number(text.replace(",", "."));
      if (Number.isFinite(drift)) store({ ...lane, drift, start: bench().frame }, `${info.name} drifts by ${drift} ${info.unit} per second`);
    });
  return (
    <Menu
      trigger={
        <button type="button" aria-label={`Do something with the lane ${info.name}`} className="px-1 text-quiet hover:text-ink">
          ⋯
        </button>
      }
      items={[
        { name: `Hold (${which})`, aside: "square", onSelect: () => shape("hold", "held") },
        { name: `Linear (${which})`, aside: "triangle", onSelect: () => shape("linear", "straight") },
        { name: `Smooth (${which})`, aside: "round", onSelect: () => shape("smooth", "smooth") },
        ...(number
          ? ([
              "line",
              { name: "Fade in from here, one second", onSelect: () => store(helper(lane, info, "in"), `${info.name} fades in`) },
              { name: "Fade out from here, one second", onSelect: () => store(helper(lane, info, "out"), `${info.name} fades out`) },
              { name: "Flash here", onSelect: () => store(helper(lane, info, "flash"), `${info.name} flashes at frame ${bench().frame}`) },
              { name: "Step here", onSelect: () => store(helper(lane, info, "step"), `${info.name} steps at frame ${bench().frame}`) },
              "line",
              { name: lane.drift ? `Drift: ${lane.drift} ${info.unit} per second…` : "Drift…", onSelect: askDrift },
            ] as const)
          : []),
        ...(number && info.unit === "°" ? (["as typed", "short", "long"] as const).map((way) => ({ name: `Turns ${way === "as typed" ? way : `the ${way} way`}`, checked: (lane.way ?? "as typed") === way, onSelect: () => store({ ...lane, way }, `${info.name} turns ${way}`) })) : []),
        "line",
        { name: "Remove the animation, keep this value", onSelect: () => stopAnimating(lane.target, info) },
      ]}
    />
  );
}

type TrackProps = Omit<RowProps, "first" | "onFold">;
type Drag = { grab: number; from: number; pins: Pin[]; stretch: boolean; to: { lanes: Lane[]; pins: Pin[] } | null; box: boolean };

function Track({ row, span, rate, chosen, onChoose, rows }: TrackProps) {
  const { lane, info } = row;
  const last = bench().view!.footage.facts.length - 1;
  const area = useRef<HTMLDivElement>(null);
  const drag = useRef<Drag | null>(null);
  const timer = useRef<number>(undefined);
  const [boxed, setBoxed] = useState<[number, number] | null>(null);
  useEffect(() => () => window.clearTimeout(timer.current), []);
  const x = (n: number) => xOf(span, n);
  const frameAt = (e: { clientX: number }) => frameOf(span, e.clientX - area.current!.getBoundingClientRect().left);
  const isChosen = (pin: Pin) => chosen.some((p) => pinKey(p) === pinKey(pin));
  const storeMove = (to: { lanes: Lane[]; pins: Pin[] }) => {
    const document = bench().view!.document;
    onChoose(to.pins);
    void edit(to.lanes.map((l) => putLane(document, l)), to.pins.length === 1 ? `${info.name}: keyframe moved to frame ${to.pins[0]!.frame}` : `${to.pins.length} keyframes moved`);
  };
  const move = (pins: Pin[], place: (frame: number) => number) => {
    const to = movePins(lanesOf(bench().view!.document), pins, place);
    live(to.lanes.map((l) => putLane(bench().view!.document, l)));
    return to;
  };
  const down = (frame: number) => (e: PointerEvent) => {
    e.stopPropagation();
    if (e.button !== 0) return;
    area.current!.setPointerCapture(e.pointerId);
    const pin = { target: lane.target, frame };
    let pins = isChosen(pin) ? chosen : e.shiftKey ? [...chosen, pin] : [pin];
    if (e.shiftKey && isChosen(pin)) pins = chosen.filter((p) => pinKey(p) !== pinKey(pin));
    onChoose(pins);
    drag.current = { grab: frameAt(e), from: frame, pins, stretch: e.altKey, to: null, box: false };
  };
  const downTrack = (e: PointerEvent) => {
    if (e.button !== 0) return;
    area.current!.setPointerCapture(e.pointerId);
    drag.current = { grab: frameAt(e), from: 0, pins: [], stretch: false, to: null, box: true };
  };
  const moving = (e: PointerEvent) => {
    const d = drag.current;
    if (!d) return;
    const at = frameAt(e);
    if (d.box) return setBoxed([Math.min(d.grab, at), Math.max(d.grab, at)]);
    if (!d.pins.length || (Math.abs(x(at) - x(d.grab)) < 3 && !d.to)) return;
    const mine = new Set(d.pins.map(pinKey));
    const others = rows.flatMap((r) => r.lane.keyframes.filter((k) => !mine.has(pinKey({ target: r.lane.target, frame: k.frame }))).map((k) => k.frame));
    const seconds = Array.from({ length: Math.floor(last / rate) + 1 }, (_, n) => Math.round(n * rate));
    const landed = snapTo(d.from + at - d.grab, [bench().frame, ...others, ...seconds], SNAP / perFrame(span));
    const anchor = Math.min(...d.pins.map((p) => p.frame));
    const factor = (landed - anchor) / Math.max(d.from - anchor, 1);
    d.to = move(d.pins, d.stretch && d.from > anchor ? (f) => anchor + (f - anchor) * factor : (f) => f + landed - d.from);
  };
  const up = () => {
    const d = drag.current;
    drag.current = null;
    if (d?.box) {
      const inside = boxed && boxed[1] - boxed[0] > 4 / perFrame(span) ? lane.keyframes.filter((k) => k.frame >= boxed[0] && k.frame <= boxed[1]) : [];
      onChoose(inside.map((k) => ({ target: lane.target, frame: k.frame })));
      setBoxed(null);
    } else if (d?.to) storeMove(d.to);
  };
  const key = (frame: number) => (e: KeyboardEvent) => {
    const by = { ArrowLeft: -1, ArrowRight: 1 }[e.key];
    const pins = chosen.length ? chosen : [{ target: lane.target, frame }];
    if (by) {
      e.preventDefault();
      e.stopPropagation();
      const to = movePins(lanesOf(bench().view!.document), pins, (f) => f + by * (e.shiftKey ? 10 : 1));
      storeMove(to);
    } else if (e.key === "Delete" || e.key === "Backspace") {
      e.preventDefault();
      e.stopPropagation();
      removePins(pins, rows);
      onChoose([]);
    } else if (e.key === "Enter") {
      e.stopPropagation();
      go(frame);
    }
  };
  return (
    <div className="min-w-0 flex-1" style={{ paddingInline: PAD }}>
      <div
        ref={area}
        role="group"
        aria-label={`Lane of ${info.name}`}
        title="Double-click puts a keyframe; drag over pins chooses them; Alt stretches"
        className="relative h-full touch-none select-none"
        onPointerDown={downTrack}
        onPointerMove={moving}
        onPointerUp={up}
        onPointerCancel={up}
        onDoubleClick={(e) => {
          const frame = Math.min(Math.max(Math.round(frameAt(e)), 0), last);
          const document = bench().view!.document;
          void edit([putLane(document, withKeyframe(lane, info, frame, valueAt(lane, info, frame, rate), rate))], `${info.name}: keyframe at frame ${frame}`);
        }}
      >
        <Graph lane={lane} info={info} span={span} rate={rate} />
        {boxed && <span className="absolute inset-y-0 bg-ink opacity-20" style={{ left: x(boxed[0]), width: x(boxed[1] - boxed[0]) }} />}
        {lane.keyframes
          .filter((k) => k.frame >= span.from && k.frame <= span.to)
          .map((k) => (
            <button
              key={k.frame}
              type="button"
              aria-label={`${info.name}: keyframe at frame ${k.frame}`}
              aria-pressed={isChosen({ target: lane.target, frame: k.frame })}
              title={`frame ${k.frame}, ${k.how}`}
              className="absolute top-1/2 flex h-[18px] w-[14px] -translate-x-1/2 -translate-y-1/2 cursor-ew-resize items-center justify-center"
              style={{ left: x(k.frame) }}
              onPointerDown={down(k.frame)}
              onDoubleClick={(e) => {
                e.stopPropagation();
                go(k.frame);
              }}
              onKeyDown={key(k.frame)}
            >
              <span className={clsx("block bg-ink", pinForm(k.how), isChosen({ target: lane.target, frame: k.frame }) ? "h-[13px] w-[13px]" : "h-[9px] w-[9px]")} />
            </button>
          ))}
        <Now span={span} />
      </div>
    </div>
  );
}

function removePins(pins: Pin[], rows: Row[]) {
  const document = bench().view!.document;
  const gone = new Set(pins.map(pinKey));
  const patch = rows.flatMap(({ lane }) => {
    const left = lane.keyframes.filter((k) => !gone.has(pinKey({ target: lane.target, frame: k.frame })));
    if (left.length === lane.keyframes.length) return [];
    return [putLane(document, { ...lane, keyframes: left.length ? left : lane.keyframes.slice(0, 1) })]; // a lane keeps its last keyframe; its menu removes the animation
  });
  if (patch.length) void edit(patch, pins.length === 1 ? "Keyframe removed" : `${pins.length} keyframes removed`);
}

/** The value over time, faint behind the pins; for colours the colours themselves. */
function Graph({ lane, info, span, rate }: { lane: Lane; info: ParamInfo; span: Span; rate: number }) {
  const { from, to, width } = span;
  if (info.kind === "colour") {
    const stops = Array.from({ length: 25 }, (_, n) => String(valueAt(lane, info, from + (n / 24) * (to - from), rate)));
    return <div className="absolute inset-x-0 bottom-[3px] h-[4px]" style={{ background: `linear-gradient(to right, ${stops.join(", ")})` }} />;
  }
  if (info.kind !== "number") return <div className="absolute inset-x-0 top-1/2 h-px bg-line" />;
  const count = Math.min(200, Math.ceil(to - from) + 1);
  const values = Array.from({ length: count }, (_, n) => Number(valueAt(lane, info, from + (n / (count - 1)) * (to - from), rate)));
  const [low, high] = [Math.min(...values), Math.max(...values)];
  const y = (v: number) => (high > low ? LANE_HEIGHT - 5 - ((v - low) / (high - low)) * (LANE_HEIGHT - 10) : LANE_HEIGHT / 2);
  const points = values.map((v, n) => `${((n / (count - 1)) * width).toFixed(1)},${y(v).toFixed(1)}`).join(" ");
  return (
    <svg aria-hidden className="absolute inset-0" width={width} height={LANE_HEIGHT}>
      <polyline points={points} fill="none" className="stroke-strong" strokeWidth={1} />
    </svg>
  );
}

function Now({ span }: { span: Span }) {
  const frame = useBench((s) => s.frame);
  if (frame < span.from || frame > span.to) return null;
  return <span aria-hidden className="pointer-events-none absolute inset-y-0 w-[2px] bg-ink" style={{ left: xOf(span, frame) - 1 }} />;
}

/** Bring the hue bands of a pass back one after another: helper of the moves that are made all the time. */
export function returnOneByOne(passId: string, infos: ParamInfo[], frames: number) {
  const { view, frame } = bench();
  const document = view!.document;
  const patch = infos.map((info, n) => {
    const begin = frame + n * frames;
    const keyframes = [
      { frame: begin, value: 0, how: "smooth" as const, ease: 100 },
      { frame: begin + frames, value: 100, how: "smooth" as const, ease: 100 },
    ];
    return putLane(document, { target: `passes/${passId}/params/${info.key}`, keyframes, drift: 0, start: 0, way: "as typed" });
  });
  void edit(patch, `Colours return one by one from frame ${frame}`);
}

