import clsx from "clsx";
import { useState } from "react";

import type { ParamInfo } from "../../api/types";
import { hexOf, lchOf } from "../../colour/oklch";
import { addBand, type Band, bandsFromFrame, MOST_BANDS, removeBand, returnOneByOne } from "../../engine/bands";
import { laneOf, valueAt } from "../../engine/lanes";
import { ringOf } from "../../engine/monotone";
import { Button, Segments } from "../../ui/basics";
import { useHeld } from "../../ui/held";
import { HoldButton, SmallNumber } from "../../ui/small";
import { useDocument, useEngine, useTime } from "../engine";
import { Pin } from "../Pin";
import type { PanelProps } from "./panel";
import { CensusBehind, HEIGHT, Plot, WIDTH } from "./Plot";

/** Bands at hues of one's own, as handles over the frame's colours: across is the hue, up what becomes of it; and as numbers. */
export function BandsEditor({ pass, treatment, params }: PanelProps) {
  const engine = useEngine();
  const infos = treatment.params.find((p) => p.key === "bands")!.fields as ParamInfo[];
  const stored = useBands(pass.id, infos, (params["bands"] as Band[] | undefined) ?? (treatment.params[0]!.default as Band[]));
  const [field, setField] = useState("saturation");
  const [chosenId, setChosen] = useState<string | null>(null);
  const written = (bands: Band[]) =>
    bands.flatMap((band) => {
      const old = stored.find((b) => b.id === band.id)!;
      return infos.filter((i) => band[i.key] !== old[i.key]).map((info) => ({ target: `passes/${pass.id}/params/bands/${band.id}/${info.key}`, info, value: band[info.key] }));
    });
  const words = (bands: Band[]) => {
    const band = bands.find((b) => b.id === chosenId) ?? bands[0]!;
    return `${pass.name}: ${Math.round(band.hue)}°, ${infos.filter((i) => i.key !== "hue").map((i) => `${i.name.toLowerCase()} ${band[i.key]}${i.unit}`).join(", ")}`;
  };
  const held = useHeld<Band[]>(
    stored,
    (bands) => engine.target.show(written(bands)),
    (bands) => void engine.target.write(written(bands), words(bands)),
  );
  const shown = held.shown.length === stored.length ? held.shown : stored;
  const chosen = Math.max(0, shown.findIndex((b) => b.id === chosenId));
  const info = infos.find((i) => i.key === field)!;
  const px = (x: number) => (x / 360) * WIDTH;
  const py = (y: number) => (1 - (y - info.low) / (info.high - info.low)) * HEIGHT;
  const ring = ringOf([...shown].sort((a, b) => a.hue - b.hue).map((b) => [b.hue, Number(b[field])] as const));
  const line = Array.from({ length: 145 }, (_, n) => `${px(n * 2.5).toFixed(1)},${py(ring(n * 2.5)).toFixed(1)}`).join(" ");
  const limited = (i: ParamInfo, v: number) => Math.round(Math.min(Math.max(v, i.low), i.high));
  const hueInfo = infos.find((i) => i.key === "hue")!;
  const put = (n: number, change: Record<string, number>): Band[] => shown.map((b, k) => (k === n ? ({ ...b, ...change } as Band) : b));
  const all = (values: Record<string, number>): Band[] => shown.map((b) => ({ ...b, ...values }) as Band);
  const rest = Object.fromEntries(infos.filter((i) => i.key !== "hue").map((i) => [i.key, Number(i.default)]));
  const commit = (bands: Band[], told: string) => void engine.target.write(written(bands), `${pass.name}: ${told}`);
  const add = (hue: number) => setChosen(addBand(engine, pass, infos, hue));
  const remove = (n: number) => shown.length > 1 && removeBand(engine, pass, shown[n]!);
  const free = shown.length < MOST_BANDS;
  const one = shown[chosen]!;
  return (
    <div className="mb-1">
      <Segments boxed label="What the bands change" value={field} onChange={setField} options={infos.filter((i) => i.key !== "hue").map((i) => ({ value: i.key, name: i.name }))} />
      <div className="mt-1.5">
        <Plot
          label={treatment.name}
          handles={shown.map((b) => ({ x: px(b.hue), y: py(Number(b[field])), name: `${Math.round(b.hue)}°`, words: `${Math.round(Number(b[field]))} ${info.unit}`, value: Number(b[field]) }))}
          chosen={chosen}
          onChoose={(n) => setChosen(shown[n]!.id)}
          onDrag={(n, x, y) => {
            held.drag(put(n, { hue: limited(hueInfo, (x / WIDTH) * 360), [field]: limited(info, info.high - (y / HEIGHT) * (info.high - info.low)) }));
            return n;
          }}
          onGiveUp={held.drop}
          onDrop={() => held.commit(shown)}
          onStep={(n, dx, dy) => held.step(put(n, { hue: limited(hueInfo, shown[n]!.hue + dx), [field]: limited(info, Number(shown[n]![field]) + dy) }))}
          onRemove={remove}
          behind={<CensusBehind />}
        >
          <line x1={0} y1={py(rest[field]!)} x2={WIDTH} y2={py(rest[field]!)} stroke="white" strokeOpacity={0.45} strokeDasharray="3 3" />
          <polyline points={line} fill="none" stroke="black" strokeOpacity={0.6} strokeWidth={3.5} />
          <polyline points={line} fill="none" stroke="white" strokeWidth={1.6} />
        </Plot>
      </div>
      <div role="group" aria-label="Bands" className="mt-1.5 flex gap-1">
        {shown.map((b, n) => (
          <button key={b.id} type="button" aria-pressed={n === chosen} aria-label={`Band at ${Math.round(b.hue)}°`} className={clsx("h-[24px] min-w-0 flex-1 border-2", n === chosen ? "border-ink" : "border-transparent")} style={{ background: hexOf(0.68, 0.13, b.hue) }} onClick={() => setChosen(b.id)} />
        ))}
      </div>
      <div className="mt-1.5 -ml-[12px] grid grid-cols-2 gap-x-2 gap-y-1">
        {infos.map((i) => (
          <span key={i.key} className="flex items-center">
            <Pin target={`passes/${pass.id}/params/bands/${one.id}/${i.key}`} info={i} shown={one[i.key]} />
            <SmallNumber
              name={<span className="inline-block w-[66px]">{i.name}</span>}
              label={i.name}
              value={Number(one[i.key])}
              low={i.low}
              high={i.high}
              step={i.step}
              unit={i.unit}
              default={Number(i.default)}
              onLive={(v) => held.drag(put(chosen, { [i.key]: v }))}
              onCommit={(v) => commit(put(chosen, { [i.key]: v }), `${Math.round(one.hue)}°, ${i.name.toLowerCase()} ${v} ${i.unit}`)}
            />
          </span>
        ))}
      </div>
      <div className="mt-1.5 flex flex-wrap items-center gap-1.5">
        <Button disabled={!free} title="Click a colour in the picture: a band at its hue" onClick={() => engine.put({ dropper: (hex) => add(lchOf(hex)[2]) })}>
          Pick a hue
        </Button>
        <Button disabled={!free} title="A band at a hue that is typed then" onClick={() => add((one.hue + 30) % 360)}>
          Add
        </Button>
        <Button disabled={shown.length < 2} onClick={() => remove(chosen)}>
          Remove
        </Button>
        <Button title="One band at each of this frame's main colours, in place of these" onClick={() => void bandsFromFrame(engine, pass, infos)}>
          From this frame
        </Button>
      </div>
      <div className="mt-1 flex flex-wrap justify-end gap-2">
        <button type="button" className="px-1 text-[12px] text-quiet hover:text-ink" title="This band keeps its colours, all others turn grey" onClick={() => commit(all({ saturation: 0 }).map((b, n) => (n === chosen ? ({ ...b, saturation: 100 } as Band) : b)), `only ${Math.round(one.hue)}°`)}>
          only this
        </button>
        <button type="button" className="px-1 text-[12px] text-quiet hover:text-ink" title="The bands' colours come back one after another, between this frame and out" onClick={() => returnOneByOne(engine, pass, shown)}>
          return one by one
        </button>
        <HoldButton tip="Hold to see the picture without these bands" onHold={() => engine.target.show(written(all(rest)))}>
          without
        </HoldButton>
        <button type="button" className="px-1 text-[12px] text-quiet hover:text-ink" onClick={() => commit(all(rest), "reset")}>
          reset
        </button>
      </div>
    </div>
  );
}

/** The bands of a pass as they are at the frame on screen. */
function useBands(pass: string, infos: ParamInfo[], bands: Band[]): Band[] {
  const { rate } = useEngine().timeline;
  const document = useDocument();
  const lanes = bands.flatMap((band) => infos.flatMap((info) => laneOf(document, `passes/${pass}/params/bands/${band.id}/${info.key}`) ?? []));
  const frame = useTime((s) => (lanes.length ? s.frame : 0));
  if (!lanes.length) return bands;
  return bands.map((band) => {
    const now = infos.map((info) => {
      const lane = lanes.find((l) => l.target === `passes/${pass}/params/bands/${band.id}/${info.key}`);
      return [info.key, lane ? valueAt(lane, info, frame, rate) : band[info.key]];
    });
    return { id: band.id, ...Object.fromEntries(now) } as Band;
  });
}
