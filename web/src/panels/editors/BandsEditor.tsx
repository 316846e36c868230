import { useState, type ReactNode } from "react";

import type { ParamInfo } from "../../api/types";
import { ringOf } from "../../engine/monotone";
import { useHeld } from "../../ui/held";
import { HoldButton, SmallNumber } from "../../ui/small";
import { CensusBehind, HEIGHT, Plot, WIDTH } from "./Plot";

type Values = Record<string, number>;
type Props = { label: string; infos: ParamInfo[]; values: Values; pin: (info: ParamInfo) => ReactNode; onReturn?: () => void; onLive: (v: Values) => void; onCommit: (v: Values, words: string) => void };

/** Eight hue bands as handles that go up and down over the frame's own colours, and as numbers. */
export function BandsEditor({ label, infos, values, pin, onReturn, onLive, onCommit }: Props) {
  const pick = (v: Values) => Object.fromEntries(infos.map((i) => [i.key, Number(v[i.key] ?? i.default)]));
  const [chosen, setChosen] = useState(0);
  const info = infos[chosen]!;
  const words = (v: Values) => `${label}: ${info.name} ${v[info.key]} ${info.unit}`;
  const held = useHeld<Values>(pick(values), onLive, (v) => onCommit({ [info.key]: v[info.key]! }, words(v)));
  const shown = held.shown;
  const { low, high } = infos[0]!;
  const px = (x: number) => (x / 360) * WIDTH;
  const py = (y: number) => (1 - (y - low) / (high - low)) * HEIGHT;
  const ring = ringOf(infos.map((i) => [i.at!, shown[i.key]!]));
  const line = Array.from({ length: 145 }, (_, n) => `${px(n * 2.5).toFixed(1)},${py(ring(n * 2.5)).toFixed(1)}`).join(" ");
  const put = (n: number, v: number) => ({ ...shown, [infos[n]!.key]: Math.round(Math.min(Math.max(v, low), high)) });
  const all = (v: number) => Object.fromEntries(infos.map((i) => [i.key, v]));
  const rest = Number(infos[0]!.default);
  return (
    <div className="mb-1">
      <Plot
        label={label}
        handles={infos.map((i) => ({ x: px(i.at!), y: py(shown[i.key]!), name: i.name, words: `${shown[i.key]} ${i.unit}`, value: shown[i.key]! }))}
        chosen={chosen}
        onChoose={setChosen}
        onMake={(x) => {
          const distances = infos.map((i) => Math.abs(px(i.at!) - x));
          return distances.indexOf(Math.min(...distances));
        }}
        onDrag={(n, _, y) => {
          held.drag(put(n, high - (y / HEIGHT) * (high - low)));
          return n;
        }}
        onGiveUp={held.drop}
        onDrop={() => held.commit(shown)}
        onStep={(n, dx, dy) => held.step(put(n, shown[infos[n]!.key]! + dx + dy))}
        behind={<CensusBehind />}
      >
        <line x1={0} y1={py(rest)} x2={WIDTH} y2={py(rest)} stroke="white" strokeOpacity={0.45} strokeDasharray="3 3" />
        <polyline points={line} fill="none" stroke="black" strokeOpacity={0.6} strokeWidth={3.5} />
        <polyline points={line} fill="none" stroke="white" strokeWidth={1.6} />
      </Plot>
      <div className="mt-1.5 -ml-[12px] grid grid-cols-2 gap-x-2 gap-y-1">
        {infos.map((i, n) => (
          <span key={i.key} className="flex items-center">
            {pin(i)}
            <SmallNumber
            name={<span className="inline-block w-[46px]">{i.name}</span>}
            label={i.name}
            value={shown[i.key]!}
            low={i.low}
            high={i.high}
            step={i.step}
            unit={i.unit}
            default={rest}
            onLive={(v) => {
              setChosen(n);
              held.drag(put(n, v));
            }}
            onCommit={(v) => onCommit({ [i.key]: v }, `${label}: ${i.name} ${v} ${i.unit}`)}
            />
          </span>
        ))}
      </div>
      <div className="mt-1 flex justify-end gap-2">
        {rest === 100 && (
          <button type="button" className="px-1 text-[12px] text-quiet hover:text-ink" onClick={() => onCommit({ ...all(0), [info.key]: 100 }, `${label}: only ${info.name}`)}>
            only {info.name.toLowerCase()}
          </button>
        )}
        {onReturn && (
          <button type="button" className="px-1 text-[12px] text-quiet hover:text-ink" title="From this frame on, each band comes back half a second after the one before" onClick={onReturn}>
            return one by one
          </button>
        )}
        <HoldButton tip="Hold to see the picture without these bands" onHold={() => onLive(all(rest))}>
          without
        </HoldButton>
        <button type="button" className="px-1 text-[12px] text-quiet hover:text-ink" onClick={() => onCommit(all(rest), `${label} reset`)}>
          reset
        </button>
      </div>
    </div>
  );
}
