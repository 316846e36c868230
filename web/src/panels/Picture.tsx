import clsx from "clsx";
import { useEffect, useRef, useState, type PointerEvent } from "react";

import type { View } from "../api/types";
import { Button, Segments } from "../ui/basics";
import { Menu } from "../ui/menu";
import { ChecksCount, MarkOverlay } from "./Checks";
import { PixelLine } from "./PixelLine";
import { Busy, Failure } from "./StageStates";
import { ShapesOverlay } from "./ShapesOverlay";
import { type Tool } from "../engine/choice";
import { pick } from "../engine/selections";
import { fullScreen } from "../engine/transport";
import { useChoice, useDoc, useEngine, useSelection, useStage, useTime } from "./engine";
import { useWaiting } from "../ui/settle";
import { useSize } from "../ui/size";
import { Comparing } from "./Toggled";
import { useZoomWords } from "./zoom";

const VIEWS: { value: View; name: string; tip: string; does: string }[] = [
  { value: "result", name: "Result", tip: "The finished picture", does: "result" },
  { value: "source", name: "Source", tip: "The shot as it came", does: "source" },
  { value: "matte", name: "Matte", tip: "What is selected, white on black", does: "matte" },
  { value: "selected", name: "Selected colour only", tip: "The rest plain grey", does: "selected" },
  { value: "edge", name: "Edge", tip: "The edge of the selection over the picture", does: "edge" },
  { value: "hatched", name: "Hatched", tip: "The selection hatched", does: "hatched" },
];

/** The finished picture as others see it, and with its smallest steps made large. */
const SEEN: { value: View; name: string }[] = [
  { value: "protan", name: "With red blindness" },
  { value: "deutan", name: "With green blindness" },
  { value: "tritan", name: "With blue blindness" },
  { value: "steps", name: "Steps amplified" },
];

const ROOM = 690; // pixels from which all views stand side by side

export function Picture() {
  const engine = useEngine();
  const show = useStage((s) => s.show);
  const waiting = useWaiting();
  const idle = useDoc((s) => !s.waiting.length && !s.gesture);
  const settled = useStage((s) => s.settled) && idle && !waiting;
  const bar = useRef<HTMLDivElement>(null);
  const { width } = useSize(bar, { width: 720, height: 0 });
  return (
    <section id="picture" aria-label="Picture" data-area data-settled={settled} className="flex min-h-0 min-w-0 flex-1 flex-col bg-ground">
      <div ref={bar} className="flex h-[36px] shrink-0 items-center gap-2 px-2">
        {width >= ROOM ? (
          <Segments label="View" value={show} onChange={(value) => engine.stage.set({ show: value })} options={VIEWS} />
        ) : (
          <Menu
            align="start"
            trigger={<Button look="plain">{(VIEWS.find((v) => v.value === show) ?? VIEWS[0]!).name} ▾</Button>}
            items={VIEWS.map((v, n) => ({ name: v.name, aside: String(n + 1), checked: v.value === show, onSelect: () => engine.stage.set({ show: v.value }) }))}
          />
        )}
        <span className="flex-1" />
        <Comparing tips={{ wipe: "Before on the left, after on the right; drag the line", side: "Before and after next to each other" }} />
        <ZoomMenu />
      </div>
      <Canvas />
      <div className="flex h-[30px] shrink-0 items-center">
        <div className="min-w-0 flex-1">
          <PixelLine />
        </div>
        <SeenBy />
        <ChecksCount />
      </div>
    </section>
  );
}

/** The finished picture as others see it. */
function SeenBy() {
  const engine = useEngine();
  const show = useStage((s) => s.show);
  return (
    <Menu
      align="end"
      trigger={
        <Button look="plain" on={SEEN.some((v) => v.value === show)} title="The finished picture with each kind of colour-vision deficiency, or with its smallest steps amplified">
          {SEEN.find((v) => v.value === show)?.name ?? "Seen by"} ▾
        </Button>
      }
      items={[...SEEN.map((v) => ({ name: v.name, checked: v.value === show, onSelect: () => engine.stage.set({ show: v.value }) })), "line", { name: "Result", aside: "1", onSelect: () => engine.stage.set({ show: "result" }) }]}
    />
  );
}

function ZoomMenu() {
  const engine = useEngine();
  const { stage } = engine;
  const whole = useStage((s) => s.whole);
  const full = useTime((s) => s.full);
  const zoom = useZoomWords();
  return (
    <Menu
      trigger={<Button look="plain">{zoom} ▾</Button>}
      items={[
        { name: "Fit", does: "zoom", onSelect: () => stage.viewport?.fit() },
        ...[50, 100, 200, 400].map((percent) => ({ name: `${percent} %`, onSelect: () => stage.viewport?.zoomTo(percent) })),
        "line",
        { name: whole ? "Give the window back" : "The picture takes the window", does: "whole", onSelect: () => stage.set({ whole: !whole }) },
        { name: "Full screen", aside: "Shift F", onSelect: () => fullScreen() },
        "line",
        { name: "Every pixel while it plays", checked: full, onSelect: () => engine.timeline.set({ full: !full }) },
      ]}
    />
  );
}

type Box = { from: { x: number; y: number }; to: { x: number; y: number } };
const LEAST_BOX = 6; // pixels dragged from which a click becomes a box

/** Whether a text or number is being typed somewhere: a press in the picture then only leaves it. */
function leavesField(): boolean {
  const active = document.activeElement;
  if (!(active instanceof HTMLInputElement || active instanceof HTMLTextAreaElement) || active.type === "checkbox" || active.type === "range") return false;
  active.blur();
  return true;
}

/** The canvas, and what the pointer does on it. */
function Canvas() {
  const engine = useEngine();
  const { stage } = engine;
  const holder = useRef<HTMLDivElement>(null);
  const canvas = useRef<HTMLCanvasElement>(null);
  const hand = useRef<{ x: number; y: number } | null>(null);
  const wiping = useRef(false);
  const chip = useRef<HTMLSpanElement>(null);
  const chosen = useChoice((s) => s.tool);
  const asked = useChoice((s) => !!(s.dropper || s.asks));
  const tool = asked && chosen === "hand" ? "pick" : chosen; // a colour that is asked for is clicked
  const compare = useStage((s) => s.compare);
  const [nearWipe, setNearWipe] = useState(false);
  const [boxed, setBoxed] = useState<Box | null>(null);

  useEffect(() => stage.attach(canvas.current!, holder.current!), [stage]);

  const place = (e: PointerEvent) => {
    const box = holder.current!.getBoundingClientRect();
    return { x: e.clientX - box.left, y: e.clientY - box.top };
  };
  const onWipe = (x: number) => compare === "wipe" && !!stage.viewport && Math.abs(stage.viewport.wipeX - x) < 7;

  const down = (e: PointerEvent) => {
    const at = place(e);
    if (e.button === 0 && leavesField()) return;
    e.currentTarget.setPointerCapture(e.pointerId);
    if (e.button === 0 && onWipe(at.x)) wiping.current = true;
    else if (e.button === 1 || (e.button === 0 && tool === "hand")) hand.current = at;
    else if (e.button === 0) {
      if (stage.viewport?.toPicture(at.x, at.y)) setBoxed({ from: at, to: at });
    }
  };
  const move = (e: PointerEvent) => {
    const at = place(e);
    if (chip.current) chip.current.style.transform = `translate(${at.x + 14}px, ${at.y + 16}px)`;
    const viewport = stage.viewport;
    if (wiping.current && viewport) {
      engine.stage.set({ wipe: viewport.wipeAt(at.x) });
      return;
    }
    if (hand.current) {
      viewport?.pan(at.x - hand.current.x, at.y - hand.current.y);
      hand.current = at;
      return;
    }
    if (boxed) {
      setBoxed({ ...boxed, to: at });
      return;
    }
    setNearWipe(onWipe(at.x));
    const p = viewport?.toPicture(at.x, at.y);
    if (p) {
      stage.probe(p.x, p.y, !!viewport?.isBefore(at.x));
      engine.stage.set({ pointer: p });
    } else engine.stage.set({ pixel: null, pointer: null });
  };
  const up = (e: PointerEvent) => {
    hand.current = null;
    wiping.current = false;
    if (boxed && e.type === "pointerup") pickIn(boxed);
    setBoxed(null);
  };
  const pickIn = ({ from, to }: Box) => {
    const [p, q] = [stage.viewport?.toPicture(from.x, from.y), stage.viewport?.toPicture(to.x, to.y)];
    if (!p) return;
    const { dropper, pixel } = engine.now;
    if (dropper) {
      engine.choice.set({ dropper: null });
      if (pixel) dropper(pixel.hex);
      return;
    }
    const selection = tool === "pick" ? null : engine.now.selectionId;
    if (!q || Math.hypot(to.x - from.x, to.y - from.y) < LEAST_BOX) return void pick(engine, p.x, p.y, tool === "refuse", selection);
    const size = { width: Math.abs(q.x - p.x), height: Math.abs(q.y - p.y) };
    void pick(engine, (p.x + q.x) / 2, (p.y + q.y) / 2, tool === "refuse", selection, size);
  };
  return (
    <div
      ref={holder}
      onPointerDown={down}
      onPointerMove={move}
      onPointerUp={up}
      onPointerCancel={up}
      onPointerLeave={() => engine.stage.set({ pixel: null, pointer: null })}
      className={clsx("relative mx-2 min-h-0 flex-1 touch-none overflow-hidden", nearWipe ? "cursor-col-resize" : tool === "hand" ? "cursor-grab" : "cursor-crosshair")}
    >
      <canvas ref={canvas} aria-label="The picture" role="img" className="absolute inset-0 h-full w-full" />
      <ShapesOverlay />
      <MarkOverlay />
      {boxed && Math.hypot(boxed.to.x - boxed.from.x, boxed.to.y - boxed.from.y) >= LEAST_BOX && (
        <span
          className="pointer-events-none absolute border border-white outline outline-1 outline-black"
          style={{ left: Math.min(boxed.from.x, boxed.to.x), top: Math.min(boxed.from.y, boxed.to.y), width: Math.abs(boxed.to.x - boxed.from.x), height: Math.abs(boxed.to.y - boxed.from.y) }}
        />
      )}
      <PointerChip ref={chip} tool={tool} asked={asked} />
      <Labels />
      <Asks />
      <Failure />
      <Busy />
    </div>
  );
}

/** At the pointer: what a click does there, where it does more than take hold of the picture. */
function PointerChip({ ref, tool, asked }: { ref: React.Ref<HTMLSpanElement>; tool: Tool; asked: boolean }) {
  const drawing = useChoice((s) => s.drawing);
  const over = useStage((s) => s.pointer !== null);
  const name = useSelection()?.name ?? "selection";
  const words = drawing ? drawing : asked ? "take this colour" : { pick: "new pick", add: `+ ${name}`, refuse: `not ${name}`, hand: null }[tool];
  return (
    <span ref={ref} aria-hidden data-tool={words ?? ""} className={clsx("pointer-events-none absolute top-0 left-0 z-10 bg-black px-1 text-[11px] whitespace-nowrap text-white", (!over || !words) && "invisible")}>
      {words}
    </span>
  );
}

/** Which side of a comparison is which. */
function Labels() {
  const compare = useStage((s) => s.compare);
  const peek = useStage((s) => s.peek);
  const wipe = useStage((s) => s.wipe);
  const upTo = useStage((s) => s.upTo);
  const solo = useStage((s) => s.solo);
  const against = useStage((s) => s.against);
  const instead = useStage((s) => s.instead);
  const chip = "pointer-events-none absolute bottom-2 bg-black px-1.5 py-0.5 text-[12px] text-white";
  if (peek && compare === "off") return <span className={clsx(chip, "left-2")}>source</span>;
  const names: [string, string] = [against?.name ?? (instead ? "source" : "before"), instead?.name ?? (against ? "now" : "after")];
  if (compare === "side")
    return (
      <>
        <span className={clsx(chip, "left-2")}>{names[0]}</span>
        <span className={clsx(chip, "left-[calc(50%+10px)]")}>{names[1]}</span>
      </>
    );
  if (compare === "wipe") return <WipeLabels key={wipe} chip={chip} names={names} />;
  if (solo) return <span className={clsx(chip, "left-2")}>the chosen pass alone</span>;
  return upTo ? <span className={clsx(chip, "left-2")}>up to the chosen pass</span> : null;
}

function WipeLabels({ chip, names }: { chip: string; names: [string, string] }) {
  const x = useEngine().stage.viewport?.wipeX ?? 0;
  return (
    <>
      <span className={chip} style={{ right: `calc(100% - ${x - 5}px)` }}>
        {names[0]}
      </span>
      <span className={chip} style={{ left: `${x + 5}px` }}>
        {names[1]}
      </span>
    </>
  );
}

/** What the next click in the picture is for, where it is not an ordinary pick. */
function Asks() {
  const engine = useEngine();
  const asks = useChoice((s) => s.asks);
  const dropper = useChoice((s) => s.dropper);
  if (!asks && !dropper) return null;
  return (
    <p role="status" data-asks onPointerDown={(e) => e.stopPropagation()} className="absolute top-2 left-1/2 flex -translate-x-1/2 items-center gap-3 bg-inverse px-3 py-1 font-semibold text-inverse-ink">
      {dropper ? "Click the colour to take" : asks!.words}
      <button type="button" className="font-normal underline" onClick={() => engine.choice.set({ asks: null, dropper: null })}>
        Cancel
      </button>
    </p>
  );
}
