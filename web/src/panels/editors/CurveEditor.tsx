import { useState } from "react";

import type { ParamInfo } from "../../api/types";
import { curveOf, ringOf, type Point } from "../../engine/monotone";
import { useHeld } from "../../ui/held";
import { HoldButton, SmallNumber } from "../../ui/small";
import { CensusBehind, HEIGHT, HistogramShape, Plot, WIDTH, type Channel } from "./Plot";

type Props = { info: ParamInfo; value: Point[]; upto: number; channel?: Channel; ink?: string; onLive: (v: Point[]) => void; onCommit: (v: Point[]) => void };

const MOST = 32;
const APART = 0.5; // least distance of two points across

/** A curve through points: on the histogram over tones, on the census over hues. */
export function CurveEditor({ info, value, upto, channel = "luma", ink = "white", onLive, onCommit }: Props) {
  const held = useHeld<Point[]>(value, onLive, onCommit);
  const [chosen, setChosen] = useState(Math.min(1, value.length - 1));
  const points = held.shown;
  const right = info.axis === "hue" ? 360 : 100;
  const unitX = info.axis === "hue" ? "°" : "%";
  const { low, high } = info;
  const px = (x: number) => (x / right) * WIDTH;
  const py = (y: number) => (1 - (y - low) / (high - low)) * HEIGHT;
  const at = Math.min(chosen, points.length - 1);

  const put = (n: number, x: number, y: number): Point[] => {
    const left = n > 0 ? points[n - 1]![0] + APART : 0;
    const end = n < points.length - 1 ? points[n + 1]![0] - APART : right;
    const tidy = (v: number) => Math.round(v * 10) / 10;
    return points.map((p, k) => (k === n ? [tidy(Math.min(Math.max(x, left), end)), tidy(Math.min(Math.max(y, low), high))] : p));
  };
  const without = (n: number) => (points.length > 1 ? points.filter((_, k) => k !== n) : points);
  const make = (x: number, y: number): number | null => {
    const place = (x / WIDTH) * right;
    if (points.length >= MOST || points.some((p) => Math.abs(p[0] - place) < APART)) return null;
    const made: Point = [Math.round(place * 10) / 10, Math.round((high - (y / HEIGHT) * (high - low)) * 10) / 10];
    const next = [...points, made].sort((a, b) => a[0] - b[0]);
    held.drag(next);
    return next.indexOf(made);
  };
  const draw = info.axis === "hue" ? ringOf(points) : curveOf(points);
  const line = Array.from({ length: 128 }, (_, n) => `${px((n / 127) * right).toFixed(1)},${py(Math.min(Math.max(draw((n / 127) * right), low), high)).toFixed(1)}`).join(" ");
  const even = curveOf((info.default as Point[]).length > 1 ? (info.default as Point[]) : [[0, (info.default as Point[])[0]![1]], [right, (info.default as Point[])[0]![1]]]);
  const current = points[at]!;
  return (
    <div className="mb-1">
      <Plot
        label={info.name}
        handles={points.map(([x, y], n) => ({ x: px(x), y: py(y), name: `${info.name}, point ${n + 1} of ${points.length}`, words: `${x}${unitX}, ${y} ${info.unit}`, value: y }))}
        chosen={at}
        onChoose={setChosen}
        onMake={make}
        onDrag={(n, x, y) => {
          held.drag(put(n, (x / WIDTH) * right, high - (y / HEIGHT) * (high - low)));
          return n;
        }}
        onGiveUp={held.drop}
        onDrop={(beyond) => held.commit(beyond ? without(at) : points)}
        onStep={(n, dx, dy) => held.step(put(n, points[n]![0] + dx, points[n]![1] + dy))}
        onRemove={(n) => {
          held.commit(without(n));
          setChosen(Math.max(0, n - 1));
        }}
        behind={info.axis === "hue" ? <CensusBehind /> : info.axis === "tone" || info.axis === "lightness" ? <HistogramShape upto={upto} channel={channel} /> : null}
      >
        <line x1={0} y1={py(even(0))} x2={WIDTH} y2={py(even(right))} stroke="white" strokeOpacity={0.45} strokeDasharray="3 3" />
        <polyline points={line} fill="none" stroke="black" strokeOpacity={0.6} strokeWidth={3.5} />
        <polyline points={line} fill="none" stroke={ink} strokeWidth={1.6} />
      </Plot>
      <div className="mt-1 flex items-center gap-2">
        <SmallNumber className="w-[74px]" name="in" label={`${info.name}: point across`} value={current[0]} low={0} high={right} step={1} unit={unitX} onLive={(v) => held.drag(put(at, v, current[1]))} onCommit={(v) => held.commit(put(at, v, current[1]))} />
        <SmallNumber className="w-[84px]" name="out" label={`${info.name}: point up`} value={current[1]} low={low} high={high} step={1} unit={info.unit} onLive={(v) => held.drag(put(at, current[0], v))} onCommit={(v) => held.commit(put(at, current[0], v))} />
        <span className="flex-1" />
        <HoldButton tip="Hold to see the picture without this curve" onHold={() => onLive(info.default as Point[])}>
          without
        </HoldButton>
        <button type="button" className="px-1 text-[12px] text-quiet hover:text-ink" title="Back to where it began" onClick={() => held.commit(info.default as Point[])}>
          reset
        </button>
      </div>
    </div>
  );
}
