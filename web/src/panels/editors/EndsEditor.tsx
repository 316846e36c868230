import { useState } from "react";

import { Segments } from "../../ui/basics";
import { useHeld } from "../../ui/held";
import { HoldButton, SmallNumber } from "../../ui/small";
import { HEIGHT, HistogramShape, INKS, Plot, WIDTH } from "./Plot";
import { Pin } from "../Pin";
import type { PanelProps } from "./panel";

const CHANNELS = ["", "red", "green", "blue"] as const;
type Channel = (typeof CHANNELS)[number];
const WORDS = ["lift", "gamma", "gain", "offset"] as const;
const HANDLES = ["lift", "gamma", "gain"] as const;
type Word = (typeof HANDLES)[number];
const PLACES: Record<Word, number> = { lift: 0, gamma: 0.5, gain: 1 }; // where on the line each has its handle
const NAMES: Record<Channel, string> = { "": "All", red: "Red", green: "Green", blue: "Blue" };
const keyOf = (word: string, channel: Channel) => (channel ? `${word}_${channel}` : word);

type Values = Record<string, number>;

/** max(gain (x + lift (1 - x)), 0) ^ (1 / gamma) + offset, as the treatment has it. */
function transfer(v: Values, channel: Channel, x: number): number {
  const sum = (w: string) => v[w]! + (channel ? v[keyOf(w, channel)]! : 0);
  const product = (w: string) => v[w]! * (channel ? v[keyOf(w, channel)]! : 1);
  return Math.max(product("gain") * (x + sum("lift") * (1 - x)), 0) ** (1 / Math.max(product("gamma"), 0.01)) + sum("offset");
}

/** Lift, gamma and gain as the two ends and the middle of a line over the histogram, for all channels or one. */
export function EndsEditor({ pass, treatment, params, upto, set, show }: PanelProps) {
  const [channel, setChannel] = useState<Channel>("");
  const [chosen, setChosen] = useState<Word>("lift");
  const info = (key: string) => treatment.params.find((p) => p.key === key)!;
  const all = Object.fromEntries(treatment.params.map((p) => [p.key, Number(params[p.key] ?? p.default)]));
  const v = all;
  const held = useHeld<Values>((change) => show(change({})), (change, words) => set(change({}), words)); // only what is moved
  const py = (y: number) => (1 - Math.min(Math.max(y, -0.05), 1.05)) * HEIGHT;
  const put = (word: Word, value: number): Values => {
    const i = info(keyOf(word, channel));
    return { [i.key]: Math.round(Math.min(Math.max(value, i.low), i.high) * 1000) / 1000 };
  };
  /** The parameter that brings the line to `y` at this handle, found by halving: every one of them only raises it. */
  const solve = (word: Word, y: number): Values => {
    const i = info(keyOf(word, channel));
    let [a, b] = [i.low, i.high];
    for (let k = 0; k < 40; k++) {
      const middle = (a + b) / 2;
      if (transfer({ ...v, [i.key]: middle }, channel, PLACES[word]) < y) a = middle;
      else b = middle;
    }
    return put(word, (a + b) / 2);
  };
  const steps = (word: Word, by: number) => put(word, v[keyOf(word, channel)]! + by * 0.01);
  const told = (word: Word, values: Values) => `${NAMES[channel]}: ${word} ${values[keyOf(word, channel)]}`;
  const step = (word: Word, by: number) => {
    const next = steps(word, by);
    held.step((now) => ({ ...now, ...next }), told(word, next));
  };
  const line = (c: Channel) => Array.from({ length: 65 }, (_, k) => `${((k / 64) * WIDTH).toFixed(1)},${py(transfer(v, c, k / 64)).toFixed(1)}`).join(" ");
  return (
    <div>
      <div className="mb-1 -ml-[12px] flex items-center justify-between">
        <Pin target={`passes/${pass.id}/params/${keyOf(chosen, channel)}`} info={info(keyOf(chosen, channel))} shown={v[keyOf(chosen, channel)]} />
        <Segments boxed label="Channel" value={channel} onChange={setChannel} options={CHANNELS.map((c) => ({ value: c, name: NAMES[c] }))} />
        <HoldButton tip="Hold to see the picture without this" onHold={() => show(Object.fromEntries(treatment.params.map((p) => [p.key, Number(p.default)])))}>
          without
        </HoldButton>
      </div>
      <Plot
        label="Lift, gamma and gain"
        handles={HANDLES.map((w) => ({ id: w, x: PLACES[w] * (WIDTH - 8) + 4, y: py(transfer(v, channel, PLACES[w])), name: `${w} ${channel}`.trim(), words: String(v[keyOf(w, channel)]), value: v[keyOf(w, channel)]! }))}
        chosen={chosen}
        onChoose={(id) => setChosen(id as Word)}
        onDrag={(id, _, y) => {
          held.drag((now) => ({ ...now, ...solve(id as Word, 1 - y / HEIGHT) }));
          return id;
        }}
        onGiveUp={held.drop}
        onDrop={(id) => held.rest(told(id as Word, v))}
        onStep={(id, dx, dy) => step(id as Word, dx + dy)}
        behind={<HistogramShape upto={upto} channel={channel || "luma"} />}
      >
        <line x1={0} y1={HEIGHT} x2={WIDTH} y2={0} stroke="white" strokeOpacity={0.4} strokeDasharray="3 3" />
        {CHANNELS.slice(1).map((c) => (
          <polyline key={c} points={line(c)} fill="none" stroke={INKS[c || "luma"]} strokeWidth={c === channel ? 2.4 : 1.2} strokeOpacity={channel && c !== channel ? 0.45 : 1} />
        ))}
        {!channel && <polyline points={line("")} fill="none" stroke="white" strokeWidth={2} />}
      </Plot>
      <table className="mt-1.5 w-full">
        <thead>
          <tr className="text-[12px] text-quiet">
            <th />
            {CHANNELS.map((c) => (
              <th key={c} scope="col" className="text-right font-normal">
                {NAMES[c]}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {WORDS.map((w) => (
            <tr key={w}>
              <th scope="row" className="w-[52px] text-left font-normal">
                {w[0]!.toUpperCase() + w.slice(1)}
              </th>
              {CHANNELS.map((c) => {
                const i = info(keyOf(w, c));
                return (
                  <td key={c} className="pl-2">
                    <SmallNumber label={i.name} value={v[i.key]!} low={i.low} high={i.high} step={0.01} default={Number(i.default)} onLive={(x) => show({ [i.key]: x })} onCommit={(x) => set({ [i.key]: x }, `${i.name} ${x}`)} />
                  </td>
                );
              })}
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  );
}
