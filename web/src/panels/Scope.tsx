import { ChevronDown, ChevronUp } from "lucide-react";
import { useEffect, useRef } from "react";

import { IconButton } from "../ui/basics";
import { Menu } from "../ui/menu";
import { useEngine, useStage } from "./engine";
import type { ScopeKind, ScopeOf } from "../engine/stage/state";

const NAMES: Record<ScopeKind, string> = { waveform: "Waveform", parade: "RGB parade", vectorscope: "Vectorscope", histogram: "Histogram" };
const OF: Record<ScopeOf, string> = { result: "result", source: "source", inside: "inside the selection", outside: "outside the selection" };
const LOW = -0.09;
const HIGH = 1.09;
const CHROMA = 0.6;
// Places of 75 % bars, C'b and C'r of BT.709, and their usual letters (common practice).
const BARS = [
  ["R", [0.75, 0, 0]],
  ["Mg", [0.75, 0, 0.75]],
  ["B", [0, 0, 0.75]],
  ["Cy", [0, 0.75, 0.75]],
  ["G", [0, 0.75, 0]],
  ["Yl", [0.75, 0.75, 0]],
] as const;

const lumaOf = ([r, g, b]: readonly number[]) => 0.2126 * r! + 0.7152 * g! + 0.0722 * b!;
const chromaOf = (rgb: readonly number[]): [number, number] => [(rgb[2]! - lumaOf(rgb)) / 1.8556, (rgb[0]! - lumaOf(rgb)) / 1.5748];
const rgbOf = (hex: string) => [1, 3, 5].map((n) => parseInt(hex.slice(n, n + 2), 16) / 255);

/** A scope of the current view, live; the pixel under the pointer is marked on it. */
export function Scope() {
  const engine = useEngine();
  const { kind, of, open, codes } = useStage((s) => s.scope);
  const image = useStage((s) => s.scopeImage);
  const put = (more: Partial<{ kind: ScopeKind; of: ScopeOf; open: boolean; codes: boolean }>) => engine.put({ scope: { ...engine.now.scope, ...more } });
  return (
    <section aria-label="Scope" className="shrink-0 border-t border-line px-3.5 pt-0.5 pb-1.5">
      <div className="flex h-[24px] items-center gap-3 text-[12px] text-quiet">
        <Menu align="start" trigger={<button type="button" className="font-semibold hover:text-ink">{NAMES[kind]} ▾</button>} items={(Object.keys(NAMES) as ScopeKind[]).map((k) => ({ name: NAMES[k], checked: k === kind, onSelect: () => put({ kind: k, open: true }) }))} />
        <Menu align="start" trigger={<button type="button" className="min-w-0 truncate hover:text-ink">{OF[of]} ▾</button>} items={(Object.keys(OF) as ScopeOf[]).map((k) => ({ name: OF[k], checked: k === of, onSelect: () => put({ of: k, open: true }) }))} />
        <span className="flex-1" />
        {(kind === "waveform" || kind === "parade") && open && (
          <button type="button" title="Percent, or 8-bit code values of BT.709 (16 is black, 235 white)" className="hover:text-ink" onClick={() => put({ codes: !codes })}>
            {codes ? "codes" : "%"}
          </button>
        )}
        <IconButton className="!h-[20px] !w-[20px]" tip={open ? "Fold the scope" : "Open the scope"} onClick={() => put({ open: !open })}>
          {open ? <ChevronDown size={14} /> : <ChevronUp size={14} />}
        </IconButton>
      </div>
      {open && <ScopeCanvas kind={kind} image={image} codes={codes} />}
    </section>
  );
}

const HEIGHT = 112;
const MARGIN = 28;

function ScopeCanvas({ kind, image, codes }: { kind: ScopeKind; image: { kind: ScopeKind; bitmap: ImageBitmap } | null; codes: boolean }) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const pixel = useStage((s) => s.pixel);
  const place = useStage((s) => s.pointer);
  useEffect(() => {
    const element = canvas.current!;
    const density = window.devicePixelRatio;
    const width = element.clientWidth;
    element.width = width * density;
    element.height = HEIGHT * density;
    const c = element.getContext("2d")!;
    c.scale(density, density);
    c.fillStyle = "#000";
    c.fillRect(0, 0, width, HEIGHT);
    const area = kind === "vectorscope" ? { x: (width - HEIGHT) / 2, y: 0, w: HEIGHT, h: HEIGHT } : { x: MARGIN, y: 0, w: width - MARGIN, h: HEIGHT };
    if (image?.kind === kind) c.drawImage(image.bitmap, area.x, area.y, area.w, area.h);
    c.font = `10px ${getComputedStyle(element).fontFamily}`;
    const draw = { waveform: drawLevels, parade: drawLevels, vectorscope: drawChroma, histogram: drawTones }[kind];
    draw(c, area, codes);
    if (pixel) mark(c, kind, area, rgbOf(pixel.hex), place);
  }, [kind, image, codes, pixel, place]);
  return <canvas ref={canvas} role="img" aria-label={NAMES[kind]} data-ready={image?.kind === kind} className="block w-full border border-line bg-black" style={{ height: HEIGHT }} />;
}

type Area = { x: number; y: number; w: number; h: number };
const levelY = (a: Area, v: number) => a.y + (1 - (v - LOW) / (HIGH - LOW)) * a.h;

function drawLevels(c: CanvasRenderingContext2D, a: Area, codes: boolean) {
  c.strokeStyle = "rgb(255 255 255 / 0.22)";
  c.fillStyle = "#a8a8a8";
  c.textAlign = "right";
  c.textBaseline = "middle";
  for (const percent of [0, 25, 50, 75, 100]) {
    const y = Math.round(levelY(a, percent / 100)) + 0.5;
    c.beginPath();
    c.moveTo(a.x, y);
    c.lineTo(a.x + a.w, y);
    c.stroke();
    c.fillText(codes ? String(Math.round(16 + 2.19 * percent)) : String(percent), a.x - 4, y);
  }
}

function drawChroma(c: CanvasRenderingContext2D, a: Area) {
  const [x, y] = [a.x + a.w / 2, a.y + a.h / 2];
  c.strokeStyle = "rgb(255 255 255 / 0.22)";
  c.beginPath();
  c.moveTo(a.x, y);
  c.lineTo(a.x + a.w, y);
  c.moveTo(x, a.y);
  c.lineTo(x, a.y + a.h);
  c.stroke();
  c.beginPath();
  c.arc(x, y, (0.5 / CHROMA) * (a.h / 2), 0, Math.PI * 2);
  c.stroke();
  c.fillStyle = "#c8c8c8";
  c.strokeStyle = "rgb(255 255 255 / 0.5)";
  c.textAlign = "center";
  c.textBaseline = "middle";
  for (const [name, rgb] of BARS) {
    const [cb, cr] = chromaOf(rgb);
    const [bx, by] = [x + (cb / CHROMA) * (a.w / 2), y - (cr / CHROMA) * (a.h / 2)];
    c.strokeRect(bx - 3.5, by - 3.5, 7, 7);
    c.fillText(name, bx + Math.sign(cb || 1) * 12, by);
  }
}

function drawTones(c: CanvasRenderingContext2D, a: Area) {
  c.strokeStyle = "rgb(255 255 255 / 0.22)";
  for (const t of [0.25, 0.5, 0.75]) {
    c.beginPath();
    c.moveTo(a.x + t * a.w, a.y);
    c.lineTo(a.x + t * a.w, a.y + a.h);
    c.stroke();
  }
}

/** Where the pixel under the pointer lies. */
function mark(c: CanvasRenderingContext2D, kind: ScopeKind, a: Area, rgb: number[], place: { x: number; y: number } | null) {
  const dot = (x: number, y: number, ink = "#fff") => {
    c.beginPath();
    c.arc(x, y, 4, 0, Math.PI * 2);
    c.lineWidth = 3;
    c.strokeStyle = "#000";
    c.stroke();
    c.lineWidth = 1.5;
    c.strokeStyle = ink;
    c.stroke();
    c.lineWidth = 1;
  };
  const across = place?.x ?? 0.5;
  if (kind === "waveform") dot(a.x + across * a.w, levelY(a, lumaOf(rgb)));
  else if (kind === "parade") rgb.forEach((v, n) => dot(a.x + ((n + across) / 3) * a.w, levelY(a, v)));
  else if (kind === "vectorscope") {
    const [cb, cr] = chromaOf(rgb);
    dot(a.x + a.w / 2 + (cb / CHROMA) * (a.w / 2), a.y + a.h / 2 - (cr / CHROMA) * (a.h / 2));
  } else dot(a.x + lumaOf(rgb) * a.w, a.y + a.h - 6);
}
