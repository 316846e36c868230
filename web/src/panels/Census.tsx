import clsx from "clsx";
import { useRef, useState, type KeyboardEvent, type PointerEvent } from "react";

import { useCatalogue } from "../api/queries";
import type { HueKey } from "../api/types";
import { colourOf, hueOf } from "../colour/oklch";
import { type BenchSession } from "../engine/bench";
import { laneOf, valueAt } from "../engine/lanes";
import { keyOf } from "../engine/selections";
import { useChoice, useDoc, useDocument, useEngine, useOfSelection, useSelection, useSettledFrame, useStage, useTime } from "./engine";
import type { Written } from "../engine/target";
import { Measuring } from "../ui/basics";
import { useDrag } from "../ui/drag";
import { useSize } from "../ui/size";

const FIRST = { width: 229, height: 104 };
const wrap = (degrees: number) => ((degrees % 360) + 360) % 360;

const MOST_CHROMA = 0.32;

/** Light up the pixels of the picture that lie near a place of the census: a selection made for the moment. */
function lightUp(engine: BenchSession, hue: number, height: number, up: "lightness" | "chroma") {
  if (engine.document.state.getState().draft.length || engine.now.playing) return;
  const pick = { colour: colourOf(0.7, 0.1, hue), x: 0.5, y: 0.5, frame: 0 };
  const chroma = up === "chroma" ? height * MOST_CHROMA : 0.02;
  const byHue = { type: "hue", picks: [pick], tolerance: 2, softness: 4, least_chroma: Math.min(Math.max(chroma - 0.02, 0.01), 0.3), gate_softness: 0.01 };
  const level = Math.min(Math.max(height * 100, 0), 100);
  const byLightness = { type: "lightness", combine: "intersect", low: Math.max(0, level - 3), high: Math.min(100, level + 3), soft_low: 3, soft_high: 3 };
  engine.stage.set({ lit: { id: "census-pointer", name: "Census", keys: up === "chroma" ? [byHue] : [byHue, byLightness] } });
}

/** The frame's own colours, hue across and lightness up, with the key drawn on it. */
export function Census() {
  const engine = useEngine();
  const shot = useDoc((s) => s.view.shot.id);
  const pixel = useStage((s) => s.pixel);
  const selection = useSelection();
  const frame = useSettledFrame();
  const begun = useStage((s) => s.begun);
  const keyId = useChoice((s) => s.keyId);
  const [up, setUp] = useState<"lightness" | "chroma">("lightness");
  const [state, setState] = useState<"coming" | "there" | "failed">("coming");
  const key = keyOf(selection, keyId);
  const box = useRef<HTMLDivElement>(null);
  const { width } = useSize(box, FIRST);
  return (
    <div>
      <div
        ref={box}
        className="relative h-[104px] overflow-hidden border border-line bg-black"
        onPointerMove={(e) => {
          const box = e.currentTarget.getBoundingClientRect();
          lightUp(engine, ((e.clientX - box.left) / box.width) * 360, 1 - (e.clientY - box.top) / box.height, up);
        }}
        onPointerLeave={() => engine.stage.set({ lit: null })}
      >
        {begun && <img src={`/api/shots/${shot}/census/${frame}.png?up=${up}`} alt={`Census: the colours of this frame, hue across, ${up} up`} draggable={false} className={clsx("absolute inset-0 h-full w-full", state === "failed" && "invisible")} style={{ imageRendering: "pixelated" }} onLoad={() => setState("there")} onError={() => setState("failed")} />}
        {state !== "there" && <Measuring failed={state === "failed"} />}
        {key?.type === "hue" && selection && <Band key={key.id} id={selection.id} stored={key} across={width} />}
        {pixel && pixel.chroma > 0.02 && (
          <span className="pointer-events-none absolute h-[7px] w-[7px] -translate-x-1/2 -translate-y-1/2 rounded-full border border-white bg-black" style={{ left: `${(pixel.hue / 360) * 100}%`, top: `${(1 - (up === "chroma" ? pixel.chroma / MOST_CHROMA : pixel.lightness)) * 100}%` }} />
        )}
      </div>
      <div className="flex items-center justify-between text-[11px] text-quiet">
        {["0°", "90°", "180°", "270°", "360°"].map((t) => (
          <span key={t}>{t}</span>
        ))}
        <button type="button" className="as-button" title="What goes up in the census" onClick={() => setUp(up === "lightness" ? "chroma" : "lightness")}>
          hue × {up}
        </button>
      </div>
    </div>
  );
}

type Grip = "band" | "tolerance-left" | "tolerance-right" | "softness-left" | "softness-right";

/** The stretch of hues that a key covers: the picks' hues with the tolerance on both sides. */
function extent(key: HueKey): { middle: number; reach: number } {
  const hues = (key.picks ?? []).map((p) => hueOf(p.colour));
  if (!hues.length) return { middle: 0, reach: 0 };
  const first = hues[0]!;
  const offsets = hues.map((h) => wrap(h - first + 180) - 180);
  const low = Math.min(...offsets);
  const high = Math.max(...offsets);
  return { middle: wrap(first + (low + high) / 2 + (key.hue_offset ?? 0)), reach: (high - low) / 2 };
}

const FIELDS = ["hue_offset", "tolerance", "softness"] as const;

/** The key as it is at the frame on screen, where its numbers are animated. */
function useKeyNow(id: string, key: HueKey): { shown: HueKey; written: (field: string, value: number) => Written[] } {
  const engine = useEngine();
  const { data } = useCatalogue();
  const document = useDocument();
  const frame = useTime((s) => s.frame);
  const rate = engine.timeline.rate;
  const info = (field: string) => data?.keys.find((k) => k.id === "hue")?.params.find((p) => p.key === field);
  const target = (field: string) => `selections/${id}/keys/${key.id}/${field}`;
  const animated = FIELDS.flatMap((field) => {
    const [lane, about] = [laneOf(document, target(field)), info(field)];
    return lane && about ? [[field, valueAt(lane, about, frame, rate)]] : [];
  });
  const written = (field: string, value: number) => {
    const about = info(field);
    return about ? [{ target: target(field), info: about, value }] : [];
  };
  return { shown: { ...key, ...Object.fromEntries(animated) }, written };
}

/** A key by hue on the census, which is `across` pixels wide. */
function Band({ id, stored, across }: { id: string; stored: HueKey; across: number }) {
  const engine = useEngine();
  const dragged = useOfSelection((s) => keyOf(s, stored.id ?? null));
  const plain = dragged?.type === "hue" ? dragged : stored;
  const { shown: hueKey, written } = useKeyNow(id, plain);
  const { middle, reach } = extent(hueKey);
  const tolerance = hueKey.tolerance ?? 0;
  const softness = hueKey.softness ?? 0;
  const patchOf = (grip: Grip, degrees: number, from: HueKey) => {
    const outward = grip.endsWith("left") ? -degrees : degrees;
    const limit = (value: number, low: number, high: number) => Math.round(Math.min(Math.max(value, low), high) * 10) / 10;
    if (grip === "band") return { field: "hue_offset", value: limit(wrap((from.hue_offset ?? 0) + degrees + 180) - 180, -180, 180), name: "Hue offset" };
    const field = grip.startsWith("tolerance") ? "tolerance" : "softness";
    return { field, value: limit((from[field] ?? 0) + outward, 0, 90), name: field === "tolerance" ? "Tolerance" : "Softness" };
  };
  type Held = { grip: Grip; x: number; key: HueKey; patch: ReturnType<typeof patchOf> | null };
  const store = ({ field, value, name }: ReturnType<typeof patchOf>) => void engine.target.write(written(field, value), `${name} ${value}°`);
  const { begin, handlers } = useDrag<Held>({
    move: (held, e) => {
      const patch = patchOf(held.grip, ((e.clientX - held.x) / across) * 360, held.key);
      engine.target.show(written(patch.field, patch.value));
      return { ...held, patch };
    },
    end: ({ patch }) => patch && store(patch),
    giveUp: () => engine.document.drop(),
  });
  if (!hueKey.picks?.length) return null;
  const down = (grip: Grip) => (e: PointerEvent) => {
    e.stopPropagation();
    begin(e, { grip, x: e.clientX, key: hueKey, patch: null });
  };
  const nudge = (grip: Grip) => (e: KeyboardEvent) => {
    const direction = { ArrowLeft: -1, ArrowRight: 1 }[e.key];
    if (!direction) return;
    e.preventDefault();
    e.stopPropagation();
    store(patchOf(grip, direction * (e.shiftKey ? 5 : 0.5), hueKey));
  };
  const grips: { grip: Grip; at: number; name: string }[] = [
    { grip: "softness-left", at: middle - reach - tolerance - softness, name: "Softness, left edge" },
    { grip: "softness-right", at: middle + reach + tolerance + softness, name: "Softness, right edge" },
    { grip: "tolerance-left", at: middle - reach - tolerance, name: "Tolerance, left edge" },
    { grip: "tolerance-right", at: middle + reach + tolerance, name: "Tolerance, right edge" },
  ];
  const px = (degrees: number) => (degrees / 360) * across;
  const width = Math.max(px(2 * (reach + tolerance)), 6);
  // Drawn three times, a turn apart, so that a band across 0° shows at both ends.
  return [-360, 0, 360].map((turn) => (
    <div key={turn} aria-hidden={turn !== 0}>
      <div
        role="slider"
        tabIndex={turn === 0 ? 0 : -1}
        aria-label="Key on the hue circle"
        aria-valuenow={hueKey.hue_offset ?? 0}
        aria-valuemin={-180}
        aria-valuemax={180}
        title="Drag to move the key along the hues"
        className="hatched absolute inset-y-0 cursor-move touch-none opacity-60"
        style={{ left: px(middle + turn) - width / 2, width }}
        onPointerDown={down("band")}
        onKeyDown={nudge("band")}
        {...handlers}
      />
      {grips.map(({ grip, at, name }) => (
        <div
          key={grip}
          role="slider"
          tabIndex={turn === 0 ? 0 : -1}
          aria-label={name}
          aria-valuenow={grip.startsWith("tolerance") ? tolerance : softness}
          aria-valuemin={0}
          aria-valuemax={90}
          title={`${name}: drag`}
          className="absolute inset-y-0 w-[7px] -translate-x-1/2 cursor-ew-resize touch-none"
          style={{ left: px(at + turn) }}
          onPointerDown={down(grip)}
          onKeyDown={nudge(grip)}
          {...handlers}
        >
          <div className={clsx("mx-auto h-full w-0 border-l border-white", grip.startsWith("softness") && "border-dashed")} />
        </div>
      ))}
    </div>
  ));
}
