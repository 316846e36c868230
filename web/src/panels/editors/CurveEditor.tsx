import { useState } from "react";

import type { ParamInfo } from "../../api/types";
import { addPoint, movePoint, placeOf, removePoint } from "../../engine/curves";
import { curveOf, ringOf, type Point } from "../../engine/monotone";
import type { Change } from "../../engine/target";
import { useHeld } from "../../ui/held";
import { HoldButton, SmallNumber } from "../../ui/small";
import { CensusBehind, HEIGHT, HistogramShape, Plot, WIDTH, type Channel } from "./Plot";

/** latest: the points as they are shown by now. */
type Props = { info: ParamInfo; value: Point[]; latest: () => Point[]; upto: number; channel?: Channel; ink?: string; onLive: (change: Change<Point[]>) => void; onCommit: (change: Change<Point[]>, words: string) => void };

/** A curve through points: on the histogram over tones, on the census over hues. */
export function CurveEditor({ info, value: points, latest, upto, channel = "luma", ink = "white", onLive, onCommit }: Props) {
  const commit = (change: Change<Point[]>, words: string) => onCommit(change, `${info.name}: ${words}`);
  const held = useHeld<Point[]>(onLive, commit);
  const [chosen, setChosen] = useState(() => points[Math.min(1, points.length - 1)]![0]); // points are named by where they stand across
  const field = { right: info.axis === "hue" ? 360 : 100, low: info.low, high: info.high };
  const { right, low, high } = field;
  const unitX = info.axis === "hue" ? "°" : "%";
  const px = (x: number) => (x / right) * WIDTH;
  const py = (y: number) => (1 - (y - low) / (high - low)) * HEIGHT;
  const onPlot = (x: number, y: number): Point => [(x / WIDTH) * right, high - (y / HEIGHT) * (high - low)];
  const told = ([x, y]: Point) => `${x}${unitX} → ${y} ${info.unit}`.trim();
  const current = points.find((p) => p[0] === chosen) ?? points[0]!;
  const move = (from: number, to: Point): Change<Point[]> => (now) => movePoint(now, field, from, to);
  const make = (x: number, y: number): string | null => {
    const at = onPlot(x, y);
    const before = latest();
    const made = addPoint(before, field, at).find((p) => !before.includes(p));
    if (!made) return null;
    held.drag((now) => addPoint(now, field, at));
    return String(made[0]);
  };
  const drag = (from: number, to: Point): string => {
    const [x] = placeOf(latest(), field, from, to);
    held.drag(move(from, to));
    setChosen(x);
    return String(x);
  };
  const step = (from: number, dx: number, dy: number) => {
    const before = latest();
    const [, y] = before.find((p) => p[0] === from)!;
    const to = placeOf(before, field, from, [from + dx, y + dy]);
    held.step(move(from, to), told(to));
    setChosen(to[0]);
  };
  const remove = (at: number) => held.commit((now) => removePoint(now, at), "point removed");
  const typed = (to: Point) => {
    const landed = placeOf(latest(), field, current[0], to);
    setChosen(landed[0]);
    commit(move(current[0], to), told(landed));
  };
  const draw = info.axis === "hue" ? ringOf(points) : curveOf(points);
  const line = Array.from({ length: 128 }, (_, n) => `${px((n / 127) * right).toFixed(1)},${py(Math.min(Math.max(draw((n / 127) * right), low), high)).toFixed(1)}`).join(" ");
  const even = curveOf((info.default as Point[]).length > 1 ? (info.default as Point[]) : [[0, (info.default as Point[])[0]![1]], [right, (info.default as Point[])[0]![1]]]);
  return (
    <div className="mb-1">
      <Plot
        label={info.name}
        handles={points.map(([x, y], n) => ({ id: String(x), x: px(x), y: py(y), name: `${info.name}, point ${n + 1} of ${points.length}`, words: `${x}${unitX}, ${y} ${info.unit}`, value: y }))}
        chosen={String(current[0])}
        onChoose={(id) => setChosen(Number(id))}
        onMake={make}
        onDrag={(id, x, y) => drag(Number(id), onPlot(x, y))}
        onGiveUp={held.drop}
        onDrop={(id, beyond) => (beyond ? remove(Number(id)) : held.rest(told(latest().find((p) => p[0] === Number(id)) ?? current)))}
        onStep={(id, dx, dy) => step(Number(id), dx, dy)}
        onRemove={(id) => remove(Number(id))}
        behind={info.axis === "hue" ? <CensusBehind /> : info.axis === "tone" || info.axis === "lightness" ? <HistogramShape upto={upto} channel={channel} /> : null}
      >
        <line x1={0} y1={py(even(0))} x2={WIDTH} y2={py(even(right))} stroke="white" strokeOpacity={0.45} strokeDasharray="3 3" />
        <polyline points={line} fill="none" stroke="black" strokeOpacity={0.6} strokeWidth={3.5} />
        <polyline points={line} fill="none" stroke={ink} strokeWidth={1.6} />
      </Plot>
      <div className="mt-1 flex items-center gap-2">
        {/* A place across is shown once it is stored: until then it is not what the point is named by. */}
        <SmallNumber className="w-[74px]" name="in" label={`${info.name}: point across`} value={current[0]} low={0} high={right} step={1} unit={unitX} onCommit={(v) => typed([v, current[1]])} />
        <SmallNumber className="w-[84px]" name="out" label={`${info.name}: point up`} value={current[1]} low={low} high={high} step={1} unit={info.unit} onLive={(v) => onLive(move(current[0], [current[0], v]))} onCommit={(v) => typed([current[0], v])} />
        <span className="flex-1" />
        <HoldButton tip="Hold to see the picture without this curve" onHold={() => onLive(() => info.default as Point[])}>
          without
        </HoldButton>
        <button type="button" className="as-button px-1 text-[12px] text-quiet hover:text-ink" title="Back to where it began" onClick={() => held.commit(() => info.default as Point[], "reset")}>
          reset
        </button>
      </div>
    </div>
  );
}
