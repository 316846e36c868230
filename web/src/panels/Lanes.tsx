import clsx from "clsx";
import { useRef, useState } from "react";

import { useCatalogue } from "../api/queries";
import type { Catalogue, Lane, ParamInfo } from "../api/types";
import type { Span } from "../engine/timespan";
import { Menu } from "../ui/menu";
import { SmallNumber } from "../ui/small";
import { GRAPH_HEIGHT, LANE_HEIGHT, LaneTrack, PAD, type Row } from "./LaneTrack";
import { useSpan, useWheel } from "./Ruler";
import { numberWords, toldIn } from "../ui/lengths";
import { useLines } from "./lines";
import { helper, stopAnimating } from "../engine/keyframes";
import { type How, lanesOf, PATH, type Pin, SWITCH, valueAt } from "../engine/lanes";
import { useDocument, useEngine, usePins, useTime } from "./engine";
import { useAskName } from "../ui/prompt";
import { bundlesOf, passesOf, selectionsOf, shapesOf } from "../engine/scene";
import { copyChosen, pasteHere } from "../engine/clipboard";

const LABEL = 268;

/** What a lane animates: whose parameter it is, and its declaration. */
function rowOf(lane: Lane, document: ReturnType<typeof useDocument>, data: Catalogue): Row | null {
  const words = lane.target.split("/");
  const key = words.at(-1)!;
  if (words[0] === "passes") {
    const pass = passesOf(document).find((p) => p.id === words[1]);
    if (!pass) return null;
    if (words.length === 6) {
      const params = data.treatments.find((t) => t.id === pass.treatment)?.params.find((p) => p.key === words[3]);
      const band = ((pass.params?.[words[3]!] ?? []) as { id: string; hue: number }[]).find((b) => b.id === words[4]);
      const field = params?.fields?.find((f) => f.key === key) as ParamInfo | undefined;
      return field && band ? { lane, info: { ...field, name: `${Math.round(band.hue)}° ${field.name.toLowerCase()}` }, owner: pass.name, of: pass.id } : null;
    }
    const info = words[2] === "amount" ? data.amount : words[2] === "on" ? SWITCH : data.treatments.find((t) => t.id === pass.treatment)?.params.find((p) => p.key === key);
    return info ? { lane, info, owner: pass.name, of: pass.id } : null;
  }
  if (words[0] === "bundles") {
    const bundle = bundlesOf(document).find((b) => b.id === words[1]);
    return bundle ? { lane, info: key === "on" ? SWITCH : data.amount, owner: bundle.name, of: bundle.id } : null;
  }
  const selection = selectionsOf(document).find((s) => s.id === words[1]);
  if (!selection) return null;
  const type = words[2] === "keys" ? selection.keys?.find((k) => k.id === words[3])?.type : null;
  const infos = words[2] === "cleaning" ? data.cleaning : words[2] === "shapes" ? data.shape : (data.keys.find((k) => k.id === type)?.params ?? []);
  const info = key === "on" ? SWITCH : key === "points" ? PATH : infos.find((p) => p.key === key);
  const shape = words[2] === "shapes" ? shapesOf(selection).find((s) => s.id === words[3]) : null;
  return info ? { lane, info, owner: shape ? shape.name : selection.name, of: shape ? shape.id : selection.id } : null;
}

/** One lane for each animated value, under the ruler and in step with it. */
export function Lanes() {
  const engine = useEngine();
  const box = useRef<HTMLDivElement>(null);
  const span = useSpan(box, LABEL + 2 * PAD);
  useWheel(box, span, LABEL + PAD, true);
  const document = useDocument();
  const { data } = useCatalogue();
  const rate = engine.timeline.rate;
  const chosen = usePins((s) => s.chosen);
  const [folded, setFolded] = useState<string[]>([]);
  const rows = data ? lanesOf(document).flatMap((lane) => rowOf(lane, document, data) ?? []) : [];
  const owners = [...new Map(rows.map((r) => [r.of, r.owner]))];
  const alive = chosen.filter((p) => rows.some((r) => r.lane.target === p.target && r.lane.keyframes.some((k) => k.frame === p.frame)));
  return (
    // What is measured does not scroll: a scroll bar takes no width from the time, which is the ruler's.
    <div ref={box} className="h-full">
      <div role="group" aria-label="Lanes" className="h-full overflow-x-hidden overflow-y-auto border-t border-line">
        {owners.map(([of, owner]) => {
          const mine = rows.filter((r) => r.of === of);
          const isFolded = folded.includes(of);
          const fold = () => setFolded(isFolded ? folded.filter((f) => f !== of) : [...folded, of]);
          if (isFolded)
            return (
              <button key={of} type="button" aria-expanded={false} className="flex w-full items-center px-3.5 text-quiet hover:text-ink" style={{ height: LANE_HEIGHT }} onClick={fold}>
                ▸ {owner}: {mine.length} {mine.length === 1 ? "lane" : "lanes"}
              </button>
            );
          return mine.map((row, n) => <LaneRow key={row.lane.target} row={row} first={n === 0} onFold={fold} span={span} rate={rate} chosen={alive} rows={rows} />);
        })}
      </div>
    </div>
  );
}

type RowProps = { row: Row; first: boolean; onFold: () => void; span: Span; rate: number; chosen: Pin[]; rows: Row[] };

function LaneRow({ row, first, onFold, span, rate, chosen, rows }: RowProps) {
  const engine = useEngine();
  const { lane, info, owner } = row;
  const open = usePins((s) => s.open === lane.target) && info.kind === "number";
  const height = open ? GRAPH_HEIGHT : LANE_HEIGHT;
  const mine = chosen.filter((p) => p.target === lane.target);
  const single = chosen.length === 1 && mine.length === 1 ? lane.keyframes.find((k) => k.frame === mine[0]!.frame)! : null;
  const store = (next: Lane, words: string) => void engine.document.edit(engine.target.lanes([next]), words);
  const told = toldIn(info, useLines());
  const put = (change: { frame?: number; value?: number }) => {
    const next = { ...single!, ...change };
    engine.pins.choose([{ target: lane.target, frame: next.frame }]);
    store({ ...lane, keyframes: [...lane.keyframes.filter((k) => k !== single && k.frame !== next.frame), next].sort((a, b) => a.frame - b.frame) }, `${info.name}: keyframe at frame ${next.frame}`);
  };
  return (
    <div className="flex items-stretch border-b border-line" style={{ height }}>
      <div className="flex shrink-0 items-center gap-2 border-r border-line px-3.5 text-[12px]" style={{ width: LABEL }}>
        <button type="button" aria-expanded aria-label={`Fold the lanes of ${owner}`} className={clsx("w-[10px] text-quiet", !first && "invisible")} onClick={onFold}>
          ▾
        </button>
        <button
          type="button"
          className="min-w-0 flex-1 truncate text-left"
          title={`${owner}: ${info.name}${info.kind === "number" ? "; click for its graph" : ""}`}
          aria-expanded={info.kind === "number" ? open : undefined}
          onClick={() => info.kind === "number" && engine.pins.state.setState({ open: open ? null : lane.target })}
        >
          <span className="text-quiet">{owner}</span> {info.name}
        </button>
        {single ? (
          <>
            <SmallNumber className="w-[46px]" label="Keyframe at frame" name="fr" value={single.frame} low={0} high={engine.timeline.last} step={1} onCommit={(v) => put({ frame: Math.round(v) })} />
            {info.kind === "number" && <SmallNumber className="w-[52px]" label="Keyframe value" value={told.shown(Number(single.value))} low={told.info.low} high={told.info.high} step={info.step} unit={info.unit} onCommit={(v) => put({ value: told.stored(v) })} />}
          </>
        ) : (
          <ValueNow lane={lane} info={info} rate={rate} />
        )}
        <LaneMenu row={row} chosen={mine} store={store} />
      </div>
      <LaneTrack row={row} span={span} rate={rate} chosen={chosen} rows={rows} height={height} open={open} />
    </div>
  );
}

/** The value at the frame on screen. It alone is drawn anew with every frame. */
function ValueNow({ lane, info, rate }: { lane: Lane; info: ParamInfo; rate: number }) {
  const frame = useTime((s) => s.frame);
  const shown = valueAt(lane, info, frame, rate);
  const lines = useLines();
  return <b className="tabular-nums">{info.kind === "number" ? numberWords(info, Number(shown), lines) : info.kind === "colour" ? String(shown) : ""}</b>;
}

/** Whether a value from another lane makes sense in this one. */
function fitsLane(value: unknown, lane: Lane, info: ParamInfo): boolean {
  const own = lane.keyframes[0]!.value;
  if (info.kind === "number") return typeof value === "number" && value >= info.low && value <= info.high;
  if (info.kind === "choice") return info.choices?.includes(value as string) ?? false;
  if (Array.isArray(own)) return Array.isArray(value) && typeof value[0] === typeof own[0] && (info.kind !== "points" || value.length === own.length);
  return typeof value === typeof own;
}

/** The drift with which a value that goes round is where it began after the last frame; none for other values. */
function closing(info: ParamInfo, { first, last }: { first: number; last: number }, rate: number): { frames: number; drift: number }[] {
  const frames = last - first + 1;
  return info.period ? [{ frames, drift: Number(((info.period * rate) / frames).toFixed(6)) }] : [];
}

function LaneMenu({ row, chosen, store }: { row: Row; chosen: Pin[]; store: (lane: Lane, words: string) => void }) {
  const askName = useAskName();
  const engine = useEngine();
  const { lane, info } = row;
  const some = new Set(chosen.map((p) => p.frame));
  const touched = (k: { frame: number }) => !some.size || some.has(k.frame);
  const which = some.size ? "chosen" : "all";
  const shape = (how: How, words: string) => store({ ...lane, keyframes: lane.keyframes.map((k) => (touched(k) ? { ...k, how } : k)) }, `${info.name}: ${words}`);
  const number = info.kind === "number";
  const made = (what: "in" | "out" | "flash" | "step") => helper(lane, info, what, engine.timeline.frame, engine.timeline.rate);
  const copied = usePins((s) => s.copied);
  const fits = copied.length > 0 && copied.every((c) => fitsLane(c.keyframe.value, lane, info));
  const eased = lane.keyframes.filter(touched).map((k) => k.ease ?? 100);
  const askEase = () =>
    askName(`Ease of ${info.name} in % (${which}): how much it slows down at its keyframes`, String(eased[0] ?? 100), (text) => {
      const ease = Math.min(Math.max(Number(text.replace(",", ".")), 0), 100);
      if (Number.isFinite(ease)) store({ ...lane, keyframes: lane.keyframes.map((k) => (touched(k) ? { ...k, how: "smooth", ease } : k)) }, `${info.name}: ease ${ease} %`);
    });
  const easeAll = () => {
    const smooth = lanesOf(engine.shown).map((l) => ({ ...l, keyframes: l.keyframes.map((k) => ({ ...k, how: "smooth" as const, ease: 100 })) }));
    void engine.document.edit(engine.target.lanes(smooth), "Everything eased");
  };
  const lines = useLines();
  const told = toldIn({ ...info, low: -1e9, high: 1e9 }, lines); // a rate may be any
  const drifts = told.shown(lane.drift ?? 0);
  const askDrift = () =>
    askName(`Drift of ${info.name}, ${info.unit || "units"} per second`, String(drifts), (text) => {
      const drift = Number(text.replace(",", "."));
      if (Number.isFinite(drift)) store({ ...lane, drift: told.stored(drift), start: engine.timeline.frame }, `${info.name} drifts by ${drift} ${info.unit} per second`);
    });
  return (
    <Menu
      trigger={
        <button type="button" aria-label={`Do something with the lane ${info.name}`} className="px-1 text-quiet hover:text-ink">
          ⋯
        </button>
      }
      items={[
        { name: `Hold (${which})`, aside: "flat cap", onSelect: () => shape("hold", "held") },
        { name: `Linear (${which})`, aside: "slanted", onSelect: () => shape("linear", "straight") },
        { name: `Smooth (${which})`, aside: "arched", onSelect: () => shape("smooth", "smooth") },
        { name: `Ease (${which})…`, aside: `${eased[0] ?? 100} %`, onSelect: askEase },
        { name: "Ease everything, in all lanes", onSelect: easeAll },
        ...(number
          ? ([
              "line",
              { name: "Fade in from here, one second", onSelect: () => store(made("in"), `${info.name} fades in`) },
              { name: "Fade out from here, one second", onSelect: () => store(made("out"), `${info.name} fades out`) },
              { name: "Flash here", onSelect: () => store(made("flash"), `${info.name} flashes at frame ${engine.timeline.frame}`) },
              { name: "Step here", onSelect: () => store(made("step"), `${info.name} steps at frame ${engine.timeline.frame}`) },
              "line",
              ...closing(info, engine.timeline.ends, engine.timeline.rate).map(({ frames, drift }) => ({ name: `Drift that closes in ${frames} frames`, aside: `${Number((drift / engine.timeline.rate).toFixed(3))} ${info.unit} a frame`, checked: Math.abs((lane.drift ?? 0) - drift) < 1e-3, onSelect: () => store({ ...lane, drift, start: engine.timeline.ends.first }, `${info.name} goes round once in ${frames} frames`) })),
              { name: lane.drift ? `Drift: ${drifts} ${info.unit} per second…` : "Drift…", onSelect: askDrift },
            ] as const)
          : []),
        ...(number && info.period ? (["as typed", "short", "long"] as const).map((way) => ({ name: `Turns ${way === "as typed" ? way : `the ${way} way`}`, checked: (lane.way ?? "as typed") === way, onSelect: () => store({ ...lane, way }, `${info.name} turns ${way}`) })) : []),
        "line",
        { name: some.size === 1 ? "Copy the keyframe" : "Copy the chosen keyframes", aside: "Ctrl C", disabled: !some.size, onSelect: () => void copyChosen(engine) },
        { name: "Paste into this lane", aside: "Ctrl V", disabled: !fits, onSelect: () => void pasteHere(engine, lane.target) },
        "line",
        { name: "Remove the animation, keep this value", onSelect: () => stopAnimating(engine, lane.target, info) },
      ]}
    />
  );
}
