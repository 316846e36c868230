import clsx from "clsx";
import { useState } from "react";

import type { ParamInfo } from "../../api/types";
import { hexOf, lchOf } from "../../colour/oklch";
import { parseColour } from "../../colour/stops";
import { addBand, type Band, bandsFromFrame, bandsOf, bandsText, changeBands, MOST_BANDS, putBands, readBands, removeBand, returnOneByOne } from "../../engine/bands";
import { useAskFor } from "../../ui/prompt";
import { ringOf } from "../../engine/monotone";
import type { Change } from "../../engine/target";
import { Button, Segments } from "../../ui/basics";
import { useHeld } from "../../ui/held";
import { HoldButton, SmallNumber } from "../../ui/small";
import { useDocument, useEngine, useTime } from "../engine";
import { Pin } from "../Pin";
import type { PanelProps } from "./panel";
import { CensusBehind, HEIGHT, Plot, WIDTH } from "./Plot";

/** Bands at hues of one's own, as handles over the frame's colours: across is the hue, up what becomes of it; and as numbers. */
export function BandsEditor({ pass, treatment }: PanelProps) {
  const engine = useEngine();
  const askFor = useAskFor();
  const infos = treatment.params.find((p) => p.key === "bands")!.fields as ParamInfo[];
  const shown = useBands(pass.id, infos);
  const [field, setField] = useState("saturation");
  const [chosenId, setChosen] = useState<string | null>(null);
  const changed = (change: Change<Band[]>) => changeBands(engine, pass, infos, change);
  const live = (change: Change<Band[]>) => engine.target.display(changed(change));
  const commit = (change: Change<Band[]>, words: string) => void engine.target.store(changed(change), `${pass.name}: ${words}`);
  const held = useHeld<Band[]>(live, commit);
  const told = (band: Band | undefined) => (band ? `${Math.round(band.hue)}°, ${infos.filter((i) => i.key !== "hue").map((i) => `${i.name.toLowerCase()} ${band[i.key]}${i.unit}`).join(", ")}` : "bands");
  const bandOf = (id: string) => bandsOf(engine.document.shown, pass.id, infos, engine.timeline).find((b) => b.id === id);
  const one = shown.find((b) => b.id === chosenId) ?? shown[0]!;
  const info = infos.find((i) => i.key === field)!;
  const px = (x: number) => (x / 360) * WIDTH;
  const py = (y: number) => (1 - (y - info.low) / (info.high - info.low)) * HEIGHT;
  const ring = ringOf([...shown].sort((a, b) => a.hue - b.hue).map((b) => [b.hue, Number(b[field])] as const));
  const line = Array.from({ length: 145 }, (_, n) => `${px(n * 2.5).toFixed(1)},${py(ring(n * 2.5)).toFixed(1)}`).join(" ");
  const limited = (i: ParamInfo, v: number) => Math.round(Math.min(Math.max(v, i.low), i.high));
  const hueInfo = infos.find((i) => i.key === "hue")!;
  const put = (id: string, change: Record<string, number>): Change<Band[]> => (now) => now.map((b) => (b.id === id ? ({ ...b, ...change } as Band) : b));
  const rest = Object.fromEntries(infos.filter((i) => i.key !== "hue").map((i) => [i.key, Number(i.default)]));
  const all = (values: Record<string, number>): Change<Band[]> => (now) => now.map((b) => ({ ...b, ...values }) as Band);
  const onlyThis: Change<Band[]> = (now) => now.map((b) => ({ ...b, saturation: b.id === one.id ? 100 : 0 }) as Band);
  const add = (hue: number) => setChosen(addBand(engine, pass, infos, hue));
  const remove = (id: string) => {
    const band = shown.find((b) => b.id === id);
    if (band && shown.length > 1) removeBand(engine, pass, band);
  };
  const step = (id: string, dx: number, dy: number) => {
    const band = bandOf(id);
    if (band) held.step(put(id, { hue: limited(hueInfo, band.hue + dx), [field]: limited(info, Number(band[field]) + dy) }), told({ ...band, hue: limited(hueInfo, band.hue + dx), [field]: limited(info, Number(band[field]) + dy) } as Band));
  };
  const free = shown.length < MOST_BANDS;
  return (
    <div className="mb-1">
      <Segments boxed label="What the bands change" value={field} onChange={setField} options={infos.filter((i) => i.key !== "hue").map((i) => ({ value: i.key, name: i.name }))} />
      <div className="mt-1.5">
        <Plot
          label={treatment.name}
          handles={shown.map((b) => ({ id: b.id, x: px(b.hue), y: py(Number(b[field])), name: `${Math.round(b.hue)}°`, words: `${Math.round(Number(b[field]))} ${info.unit}`, value: Number(b[field]) }))}
          chosen={one.id}
          onChoose={setChosen}
          onDrag={(id, x, y) => {
            held.drag(put(id, { hue: limited(hueInfo, (x / WIDTH) * 360), [field]: limited(info, info.high - (y / HEIGHT) * (info.high - info.low)) }));
            return id;
          }}
          onGiveUp={held.drop}
          onDrop={(id) => held.rest(told(bandOf(id)))}
          onStep={step}
          onRemove={remove}
          behind={<CensusBehind />}
        >
          <line x1={0} y1={py(rest[field]!)} x2={WIDTH} y2={py(rest[field]!)} stroke="white" strokeOpacity={0.45} strokeDasharray="3 3" />
          <polyline points={line} fill="none" stroke="black" strokeOpacity={0.6} strokeWidth={3.5} />
          <polyline points={line} fill="none" stroke="white" strokeWidth={1.6} />
        </Plot>
      </div>
      <div role="group" aria-label="Bands" className="mt-1.5 flex gap-1">
        {shown.map((b) => (
          <button key={b.id} type="button" aria-pressed={b.id === one.id} aria-label={`Band at ${Math.round(b.hue)}°`} className={clsx("h-[24px] min-w-0 flex-1 border-2", b.id === one.id ? "border-ink" : "border-transparent")} style={{ background: hexOf(0.68, 0.13, b.hue) }} onClick={() => setChosen(b.id)} />
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
              onLive={(v) => live(put(one.id, { [i.key]: v }))}
              onCommit={(v) => commit(put(one.id, { [i.key]: v }), `${Math.round(one.hue)}°, ${i.name.toLowerCase()} ${v} ${i.unit}`)}
            />
          </span>
        ))}
      </div>
      <div className="mt-1.5 flex flex-wrap items-center gap-1.5">
        <Button disabled={!free} title="Click a colour in the picture: a band at its hue" onClick={() => engine.choice.set({ dropper: (hex) => add(lchOf(hex)[2]) })}>
          Pick a hue
        </Button>
        <Button disabled={!free} title="A band at a hue that is typed then" onClick={() => add((one.hue + 30) % 360)}>
          Add
        </Button>
        <Button disabled={shown.length < 2} onClick={() => remove(one.id)}>
          Remove
        </Button>
        <Button
          title="All bands typed or pasted at once"
          onClick={() =>
            askFor({
              title: `Bands of ${pass.name}`,
              label: "Bands",
              help: `One band a line: a hue in degrees or a colour, then ${infos.filter((i) => i.key !== "hue").map((i) => i.name.toLowerCase()).join(", ")}, as far as they are to differ from where they begin.`,
              value: bandsText(shown, infos),
              lines: true,
              save: "Put them in",
              check: (text) => ((read) => ("wrong" in read ? read.wrong : null))(readBands(text, infos, hueOfWord)),
              done: (text) => ((read) => "found" in read && putBands(engine, pass, read.found))(readBands(text, infos, hueOfWord)),
            })
          }
        >
          Type…
        </Button>
        <Button title="One band at each of this frame's main colours, in place of these" onClick={() => void bandsFromFrame(engine, pass, infos)}>
          From this frame
        </Button>
      </div>
      <div className="mt-1 flex flex-wrap justify-end gap-2">
        <button type="button" className="as-button px-1 text-[12px] text-quiet hover:text-ink" title="This band keeps its colours, all others turn grey" onClick={() => commit(onlyThis, `only ${Math.round(one.hue)}°`)}>
          only this
        </button>
        <button type="button" className="as-button px-1 text-[12px] text-quiet hover:text-ink" title="The bands' colours come back one after another, between this frame and out" onClick={() => returnOneByOne(engine, pass, shown)}>
          return one by one
        </button>
        <HoldButton tip="Hold to see the picture without these bands" onHold={() => live(all(rest))}>
          without
        </HoldButton>
        <button type="button" className="as-button px-1 text-[12px] text-quiet hover:text-ink" onClick={() => commit(all(rest), "reset")}>
          reset
        </button>
      </div>
    </div>
  );
}

/** The hue of a typed colour; null where it is none. */
const hueOfWord = (word: string): number | null => ((hex) => (hex === null ? null : lchOf(hex)[2]))(parseColour(word));

/** The bands of a pass as they are at the frame on screen. */
function useBands(pass: string, infos: ParamInfo[]): Band[] {
  const { timeline } = useEngine();
  const document = useDocument();
  const animated = (document.look.lanes ?? []).some((l) => l.target.startsWith(`passes/${pass}/params/bands/`));
  useTime((s) => (animated ? s.frame : 0));
  return bandsOf(document, pass, infos, timeline);
}
