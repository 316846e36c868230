import { HelpButton } from "./HelpButton";
import { ChevronDown, ChevronUp, Maximize2, Minimize2 } from "lucide-react";
import { useEffect, useRef, useState, type KeyboardEvent, type PointerEvent } from "react";

import { PANES, type Box } from "../engine/layout";
import { CHROMA, chromaOf, levelY, lumaOf, valueAt, type Area } from "../engine/scopes";
import { IconButton, Measuring } from "../ui/basics";
import { useDrag } from "../ui/drag";
import { Pane } from "../ui/panes";
import { Menu } from "../ui/menu";
import { useLow } from "../ui/low";
import { useSize } from "../ui/size";
import { useApp, useLayout } from "./app";
import { useEngine, useStage } from "./engine";
import type { ScopeKind, ScopeOf } from "../engine/stage/state";

const NAMES: Record<ScopeKind, string> = { waveform: "Waveform", parade: "RGB parade", vectorscope: "Vectorscope", histogram: "Histogram" };
const OF: Record<ScopeOf, string> = { result: "result", source: "source", inside: "inside the selection", outside: "outside the selection" };
// Places of 75 % bars, C'b and C'r of BT.709, and their usual letters (common practice).
const BARS = [
  ["R", [0.75, 0, 0]],
  ["Mg", [0.75, 0, 0.75]],
  ["B", [0, 0, 0.75]],
  ["Cy", [0, 0.75, 0.75]],
  ["G", [0, 0.75, 0]],
  ["Yl", [0.75, 0.75, 0]],
] as const;

const rgbOf = (hex: string) => [1, 3, 5].map((n) => parseInt(hex.slice(n, n + 2), 16) / 255);

const AROUND = 32; // pixels of a docked scope besides its canvas

/** The scope where it has its place: below the parameters, as high as its edge is dragged. */
export function DockedScope() {
  const engine = useEngine();
  const { layout } = useApp();
  const floating = useLayout((s) => s.floating);
  const { least, most, first } = PANES.scope;
  const low = useLow();
  const height = useLayout((s) => s.sizes.scope) ?? (low ? least : first!);
  const open = useStage((s) => s.scope.open);
  if (floating) return null;
  const fold = () => engine.stage.set({ scope: { ...engine.now.scope, open: !engine.now.scope.open } });
  return (
    <Pane name="Scope" edge="top" size={height + AROUND} least={least + AROUND} most={most + AROUND} onSize={(to) => layout.size("scope", to && to - AROUND)} fold={{ folded: !open, to: AROUND, letter: "C", onFold: fold }}>
      {(shut) => (
        <section aria-label="Scope" className="flex min-h-0 flex-1 flex-col px-3.5 pt-0.5 pb-1.5">
          <ScopeBar />
          {!shut && <DockedCanvas />}
        </section>
      )}
    </Pane>
  );
}

function DockedCanvas() {
  const box = useRef<HTMLDivElement>(null);
  const { height } = useSize(box, { width: 240, height: PANES.scope.first! });
  return (
    <div ref={box} className="min-h-0 flex-1">
      <ScopeCanvas height={height} />
    </div>
  );
}

const BAR = 32; // pixels of a floating scope above and below its canvas
const BESIDE = { width: 520, height: 330 }; // how large a scope is that begins to float

/** The scope in a box of its own over the room, which is moved by its bar and sized by its corner. */
export function FloatingScope() {
  const { layout } = useApp();
  const box = useLayout((s) => s.floating);
  const open = useStage((s) => s.scope.open);
  const move = useDrag<{ x: number; y: number; from: Box }>({ move: (held, e) => (layout.float({ ...held.from, x: held.from.x + e.clientX - held.x, y: held.from.y + e.clientY - held.y }), held), end: () => undefined });
  const size = useDrag<{ x: number; y: number; from: Box }>({ move: (held, e) => (layout.float({ ...held.from, width: held.from.width + e.clientX - held.x, height: held.from.height + e.clientY - held.y }), held), end: () => undefined });
  if (!box) return null;
  // It stays where it can be reached, whatever the size of the window is by now.
  const [x, y] = [Math.max(0, Math.min(box.x, innerWidth - 80)), Math.max(0, Math.min(box.y, innerHeight - 40))];
  const begin = (drag: typeof move) => (e: PointerEvent) => e.button === 0 && !(e.target as HTMLElement).closest("button") && drag.begin(e, { x: e.clientX, y: e.clientY, from: { ...box, x, y } });
  const keys = (e: KeyboardEvent) => {
    const [dx, dy] = { ArrowLeft: [-16, 0], ArrowRight: [16, 0], ArrowUp: [0, -16], ArrowDown: [0, 16] }[e.key] ?? [0, 0];
    if (!dx && !dy) return;
    e.preventDefault();
    e.stopPropagation();
    layout.float(e.shiftKey ? { ...box, width: box.width + dx!, height: box.height + dy! } : { ...box, x: x + dx!, y: y + dy! });
  };
  return (
    <section aria-label="Scope" className="fixed z-30 border border-strong bg-panel px-2 pb-2" style={{ left: x, top: y, width: box.width, height: open ? box.height : undefined }}>
      <div tabIndex={0} aria-label="The floating scope" title="Drag to move it; arrow keys too, with Shift they size it" className="cursor-move touch-none" onKeyDown={keys} onPointerDown={begin(move)} {...move.handlers}>
        <ScopeBar />
      </div>
      {open && (
        <>
          <ScopeCanvas height={box.height - BAR} />
          <span className="absolute right-0 bottom-0 h-[24px] w-[24px] cursor-nwse-resize touch-none" onPointerDown={begin(size)} {...size.handlers}>
            <span className="absolute right-[3px] bottom-[3px] h-[8px] w-[8px] border-r-2 border-b-2 border-quiet" />
          </span>
        </>
      )}
    </section>
  );
}

/** What the scope shows, and where it stands. */
function ScopeBar() {
  const engine = useEngine();
  const { layout } = useApp();
  const { kind, of, open, codes } = useStage((s) => s.scope);
  const floating = useLayout((s) => s.floating);
  const put = (more: Partial<{ kind: ScopeKind; of: ScopeOf; open: boolean; codes: boolean }>) => engine.stage.set({ scope: { ...engine.now.scope, ...more } });
  const float = () => {
    put({ open: true });
    layout.float(floating ? null : { ...BESIDE, x: innerWidth - BESIDE.width - 330, y: 190 });
  };
  return (
    <div className="flex h-[24px] items-center gap-3 text-[12px] text-quiet">
      <Menu align="start" trigger={<button type="button" className="as-button font-semibold hover:text-ink">{NAMES[kind]} ▾</button>} items={(Object.keys(NAMES) as ScopeKind[]).map((k) => ({ name: NAMES[k], checked: k === kind, onSelect: () => put({ kind: k, open: true }) }))} />
      <Menu align="start" trigger={<button type="button" className="as-button min-w-0 truncate hover:text-ink">{OF[of]} ▾</button>} items={(Object.keys(OF) as ScopeOf[]).map((k) => ({ name: OF[k], checked: k === of, onSelect: () => put({ of: k, open: true }) }))} />
      <span className="flex-1" />
      <HelpButton of="Scope" page="bench" part="scope" />
      {(kind === "waveform" || kind === "parade") && open && (
        <button type="button" title="Percent, or 8-bit code values of BT.709 (16 is black, 235 white)" className="as-button hover:text-ink" onClick={() => put({ codes: !codes })}>
          {codes ? "codes" : "%"}
        </button>
      )}
      <IconButton className="!w-[24px]" tip={floating ? "Put the scope back in the panel" : "Let the scope float, larger"} on={!!floating} onClick={float}>
        {floating ? <Minimize2 size={13} /> : <Maximize2 size={13} />}
      </IconButton>
      <IconButton className="!w-[24px]" tip={open ? "Fold the scope" : "Open the scope"} does="scope" onClick={() => put({ open: !open })}>
        {open ? <ChevronDown size={14} /> : <ChevronUp size={14} />}
      </IconButton>
    </div>
  );
}

const MARGIN = 28;

const areaOf = (kind: ScopeKind, width: number, height: number): Area => {
  const side = Math.min(width, height);
  return kind === "vectorscope" ? { x: (width - side) / 2, y: (height - side) / 2, w: side, h: side } : { x: MARGIN, y: 0, w: width - MARGIN, h: height };
};

function ScopeCanvas({ height }: { height: number }) {
  const { stage } = useEngine();
  const canvas = useRef<HTMLCanvasElement>(null);
  const font = useRef("");
  const { kind, codes } = useStage((s) => s.scope);
  const image = useStage((s) => s.scopeImage);
  const pixel = useStage((s) => s.pixel);
  const place = useStage((s) => s.pointer);
  const { width } = useSize(canvas, { width: 240, height });
  const [at, setAt] = useState<{ x: number; y: number } | null>(null); // of the pointer: what lies there is another when the size is
  useEffect(() => {
    const element = canvas.current!;
    const density = window.devicePixelRatio;
    const [across, down] = [Math.round(width * density), Math.round(height * density)];
    if (element.width !== across) element.width = across; // set anew, it would be emptied and made again with every picture
    if (element.height !== down) element.height = down;
    const c = element.getContext("2d")!;
    c.setTransform(density, 0, 0, density, 0, 0);
    c.fillStyle = "#000";
    c.fillRect(0, 0, width, height);
    const area = areaOf(kind, width, height);
    const shown = stage.now.scopeImage; // the newest: one that came meanwhile has closed the one before
    if (shown?.kind === kind) c.drawImage(shown.bitmap, area.x, area.y, area.w, area.h);
    c.font = (font.current ||= `10px ${getComputedStyle(element).fontFamily}`); // asking for it works out all styles
    const draw = { waveform: drawLevels, parade: drawLevels, vectorscope: drawChroma, histogram: drawTones }[kind];
    draw(c, area, codes);
    if (pixel) mark(c, kind, area, rgbOf(pixel.hex), place);
  }, [stage, kind, image, codes, pixel, place, width, height]);
  const value = at && valueAt(kind, areaOf(kind, width, height), at.x, at.y, codes);
  const point = (e: PointerEvent) => {
    const box = canvas.current!.getBoundingClientRect();
    setAt({ x: e.clientX - box.left, y: e.clientY - box.top });
  };
  return (
    <div className="relative">
      <canvas ref={canvas} role="img" aria-label={NAMES[kind]} data-ready={image?.kind === kind} className="block w-full border border-line bg-black" style={{ height }} onPointerMove={point} onPointerLeave={() => setAt(null)} />
      {image?.kind !== kind && <Measuring />}
      {value && (
        <span role="status" aria-label="Value in the scope" className="pointer-events-none absolute top-1 right-1 bg-black px-1 text-[11px] text-white">
          {value}
        </span>
      )}
    </div>
  );
}

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
