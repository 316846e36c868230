import { useRef, useState, type KeyboardEvent, type PointerEvent } from "react";

import { ColourRow } from "../../ui/colour";
import { Segments } from "../../ui/basics";
import { useHeld } from "../../ui/held";
import { NumberRow } from "../../ui/number";
import { HistogramShape, WIDTH } from "./Plot";
import { Pinned } from "../Pin";
import type { PanelProps } from "./panel";

const HEIGHT = 92;
const ZONES = ["shadows", "midtones", "highlights"] as const;
type Zone = (typeof ZONES)[number];
type Limits = { low: number; high: number };

/** Shadows, midtones and highlights: their limits on the histogram, then what happens in each. */
export function ZonesEditor({ pass, treatment, params, upto, set, show }: PanelProps) {
  const [zone, setZone] = useState<Zone>("shadows");
  const info = (key: string) => treatment.params.find((p) => p.key === key)!;
  const number = (key: string) => Number(params[key] ?? info(key).default);
  const softness = number("softness");
  return (
    <div>
      <LimitsOnHistogram upto={upto} softness={softness} limits={{ low: number("low"), high: number("high") }} onLive={show} onCommit={(v) => set(v, `Zones ${v.low ?? number("low")} to ${v.high ?? number("high")} %`)} zone={zone} />
      {(["low", "high", "softness"] as const).map((key) => {
        // The limits keep their order: a shadow never ends above where highlights begin.
        const limit = (v: number) => (key === "low" ? Math.min(v, number("high")) : key === "high" ? Math.max(v, number("low")) : v);
        return (
          <Pinned key={key} target={`passes/${pass.id}/params/${key}`} info={info(key)} shown={number(key)}>
            <NumberRow info={info(key)} value={number(key)} onLive={(v) => show({ [key]: limit(v) })} onCommit={(v) => set({ [key]: limit(v) }, `${info(key).name} ${limit(v)} %`)} />
          </Pinned>
        );
      })}
      <div className="my-1.5">
        <Segments boxed label="Zone" value={zone} onChange={setZone} options={ZONES.map((z) => ({ value: z, name: z[0]!.toUpperCase() + z.slice(1) }))} />
      </div>
      <Pinned target={`passes/${pass.id}/params/${zone}`} info={info(zone)} shown={params[zone] ?? info(zone).default}>
        <ColourRow name="Tint" help={info(zone).help} value={String(params[zone] ?? info(zone).default)} fallback={String(info(zone).default)} onLive={(v) => show({ [zone]: v })} onCommit={(v) => set({ [zone]: v }, `${info(zone).name} ${v}`)} />
      </Pinned>
      {(["tint", "brightness", "saturation"] as const).map((what) => {
        const key = `${zone}_${what}`;
        const short = { ...info(key), name: what === "tint" ? "Tint amount" : what[0]!.toUpperCase() + what.slice(1) };
        return (
          <Pinned key={key} target={`passes/${pass.id}/params/${key}`} info={info(key)} shown={number(key)}>
            <NumberRow info={short} value={number(key)} onLive={(v) => show({ [key]: v })} onCommit={(v) => set({ [key]: v }, `${info(key).name} ${v} %`)} />
          </Pinned>
        );
      })}
    </div>
  );
}

type LimitProps = { upto: number; softness: number; limits: Limits; zone: Zone; onLive: (v: Partial<Limits>) => void; onCommit: (v: Partial<Limits>) => void };

function LimitsOnHistogram({ upto, softness, limits, zone, onLive, onCommit }: LimitProps) {
  const held = useHeld<Partial<Limits>>((change) => onLive(change({})), (change) => onCommit(change({}))); // only the limit that is moved
  const box = useRef<SVGSVGElement>(null);
  const drag = useRef<keyof Limits | null>(null);
  const { low, high } = limits;
  const px = (v: number) => (v / 100) * WIDTH;
  const put = (which: keyof Limits, v: number) => (now: Partial<Limits>): Partial<Limits> => {
    const value = Math.round(v * 10) / 10;
    return { ...now, [which]: which === "low" ? Math.min(Math.max(value, 0), high) : Math.max(Math.min(value, 100), low) };
  };
  const at = (e: PointerEvent) => {
    const r = box.current!.getBoundingClientRect();
    return ((e.clientX - r.left) / r.width) * 100;
  };
  const down = (e: PointerEvent) => {
    if (e.button !== 0) return;
    const x = at(e);
    drag.current = Math.abs(x - low) <= Math.abs(x - high) ? "low" : "high";
    box.current!.setPointerCapture(e.pointerId);
    held.drag(put(drag.current, x));
  };
  const key = (which: keyof Limits) => (e: KeyboardEvent) => {
    const by = { ArrowLeft: -1, ArrowRight: 1 }[e.key];
    if (!by) return;
    e.preventDefault();
    e.stopPropagation();
    held.step(put(which, limits[which] + by * (e.shiftKey ? 10 : e.altKey ? 0.1 : 1)), "");
  };
  const spans: Record<Zone, [number, number]> = { shadows: [0, low], midtones: [low, high], highlights: [high, 100] };
  return (
    <svg
      ref={box}
      role="group"
      aria-label="Limits of the zones"
      viewBox={`0 0 ${WIDTH} ${HEIGHT}`}
      className="block w-full cursor-ew-resize touch-none border border-line bg-black text-white select-none"
      style={{ height: HEIGHT }}
      onPointerDown={down}
      onPointerMove={(e) => drag.current && held.drag(put(drag.current, at(e)))}
      onPointerUp={() => {
        if (drag.current) held.rest("");
        drag.current = null;
      }}
      onPointerCancel={() => {
        if (drag.current) held.drop();
        drag.current = null;
      }}
    >
      <rect x={px(spans[zone][0])} width={px(spans[zone][1] - spans[zone][0])} y={0} height={HEIGHT} fill="white" opacity={0.14} />
      <HistogramShape upto={upto} height={HEIGHT} />
      {(["low", "high"] as const).map((which) => (
        <g key={which}>
          <rect x={px(limits[which] - softness / 2)} width={px(softness)} y={0} height={HEIGHT} fill="white" opacity={0.1} />
          {[-0.5, 0.5].map((side) => (
            <line key={side} x1={px(limits[which] + side * softness)} x2={px(limits[which] + side * softness)} y1={0} y2={HEIGHT} stroke="white" strokeOpacity={0.6} strokeDasharray="2 3" />
          ))}
          <line x1={px(limits[which])} x2={px(limits[which])} y1={0} y2={HEIGHT} stroke="white" strokeWidth={1.5} />
          <rect
            role="slider"
            tabIndex={0}
            aria-label={which === "low" ? "Shadows end, on the histogram" : "Highlights begin, on the histogram"}
            aria-valuenow={limits[which]}
            aria-valuemin={0}
            aria-valuemax={100}
            x={px(limits[which]) - 5}
            y={HEIGHT - 12}
            width={10}
            height={11}
            fill="white"
            stroke="black"
            onKeyDown={key(which)}
          />
          <text x={px(limits[which]) + (which === "low" ? -7 : 7)} y={12} textAnchor={which === "low" ? "end" : "start"} fontSize={11} fill="white">
            {limits[which]} %
          </text>
        </g>
      ))}
    </svg>
  );
}
