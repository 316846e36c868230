import { useEffect, useRef } from "react";

import { perFrame, xOf, type Span } from "../engine/timespan";
import { Button } from "../ui/basics";
import { useSize } from "../ui/size";
import { followCoverage, nextWeak } from "../engine/coverage";
import { useChoice, useEngine, useShapes, useTime } from "./engine";
import { doubtful, DOUBTFUL } from "../engine/geometry";

const LEAST = 34; // pixels of the curve, which takes what height there is
const SURE = 10; // pixels of the graph that tells how sure the chosen shape's track is

/** Selected area over time along the ruler; weak frames are marked. Below it how sure the chosen shape's track is. */
export function Curve({ span }: { span: Span }) {
  const engine = useEngine();
  const box = useRef<HTMLDivElement>(null);
  const height = Math.max(LEAST, useSize(box, { width: 0, height: 0 }).height - SURE - 4);
  const { width } = span;
  useEffect(() => followCoverage(engine), [engine]);
  const curve = useChoice((s) => s.curve);
  const shapeId = useChoice((s) => s.shapeId);
  const shape = useShapes().find((s) => s.id === shapeId);
  const x = (n: number) => xOf(span, n);
  const most = Math.max(0.5, ...(curve?.values.filter(Number.isFinite) ?? []));
  const y = (v: number) => height - 2 - (v / most) * (height - 8);
  const area = (from: number, to: number) => {
    const values = curve!.values.slice(from, to).map((v, n) => [from + n, v] as const).filter(([, v]) => Number.isFinite(v));
    if (!values.length) return "";
    return `M${x(values[0]![0])} ${height}` + values.map(([n, v]) => `L${x(n).toFixed(1)} ${y(v).toFixed(1)}`).join("") + `L${x(values.at(-1)![0])} ${height}Z`;
  };
  return (
    <div ref={box} className="relative flex-[2]" style={{ minHeight: LEAST + SURE + 4 }}>
      <svg width={width} height={height + SURE + 4} className="pointer-events-none absolute" aria-label="Selected area over time" role="img" data-fresh={curve?.fresh ?? false}>
        <defs>
          <pattern id="old-curve" width="5" height="5" patternUnits="userSpaceOnUse" patternTransform="rotate(45)">
            <line x1="0" y1="0" x2="0" y2="5" stroke="var(--quiet)" strokeWidth="1.4" />
          </pattern>
        </defs>
        {curve && !curve.fresh && <path d={area(0, curve.values.length)} fill="url(#old-curve)" />}
        {curve?.known.map(([from, to]) => <g key={from}><path d={area(from, to)} fill="var(--panel)" /><path d={area(from, to)} fill="var(--quiet)" /></g>)}
        {shape?.track.map((t) => {
          const high = 1 + SURE * t.confidence;
          const sure = t.confidence >= DOUBTFUL;
          return <rect key={t.frame} x={x(t.frame)} y={height + 2 + SURE + 1 - high} width={Math.max(1, perFrame(span) - 0.3)} height={high} fill={sure ? "var(--quiet)" : "url(#old-curve)"} />;
        })}
      </svg>
      {shape &&
        doubtful(shape.track).map(([from, to]) => (
          <button key={from} type="button" className="absolute bottom-0 -translate-x-1/2 bg-black px-1 text-[11px] leading-[14px] whitespace-nowrap text-white outline outline-1 outline-strong" style={{ left: Math.min(Math.max(x((from + to) / 2), 70), width - 70) }} title={`Frames ${from} to ${to}: what is under ${shape.name} looks unlike where it was drawn`} onPointerDown={(e) => e.stopPropagation()} onClick={() => engine.go(from)}>
            {shape.name} drifts? {from}–{to}
          </button>
        ))}
      {curve?.fresh &&
        curve.weak.filter((w) => w.frame >= span.from && w.frame <= span.to).map((w) => (
          <button
            key={w.frame}
            type="button"
            className="absolute bottom-[12px] -translate-x-1/2 bg-black px-1 text-[11px] whitespace-nowrap text-white outline outline-1 outline-strong"
            style={{ left: Math.min(Math.max(x(w.frame), 70), width - 70) }}
            title={`usually ${w.usual.toFixed(1)} %`}
            onPointerDown={(e) => e.stopPropagation()}
            onClick={() => engine.go(w.frame)}
          >
            {w.kind === "drop" ? "drops" : "jumps"} to {w.value.toFixed(1)} % at frame {w.frame}
          </button>
        ))}
    </div>
  );
}

/** What the left column says of the curve. */
export function CurveWords() {
  const engine = useEngine();
  const curve = useChoice((s) => s.curve);
  const frame = useTime((s) => s.frame);
  const selection = useChoice((s) => s.selectionId);
  if (!selection) return null;
  const value = curve?.values[frame];
  const step = (direction: 1 | -1) => {
    const next = nextWeak(curve?.weak ?? [], frame, direction);
    if (next !== null) engine.go(next);
  };
  return (
    <div className="flex items-center justify-between">
      <span>Selected over time</span>
      {curve?.fresh && curve.weak.length > 0 ? (
        <Button className="h-[22px] px-1.5" title="Next weak frame" does="weak" onClick={() => step(1)}>
          {curve.weak.length} weak ▸
        </Button>
      ) : (
        <b>{curve && value !== undefined && Number.isFinite(value) ? `${value.toFixed(1)} %` : "…"}</b>
      )}
    </div>
  );
}
