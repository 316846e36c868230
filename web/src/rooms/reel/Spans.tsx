import clsx from "clsx";
import { type KeyboardEvent } from "react";

import { spanCommands } from "../../engine/reel/edits";
import type { Laid } from "../../engine/reel/layout";
import { edgesOf, snapped } from "../../engine/reel/snap";
import { perFrame, xOf, type Span } from "../../engine/timespan";
import { useDrag } from "../../ui/drag";
import { useReel, useReelChoice, useReelLayout } from "./context";

export const SPAN_ROW = 34;

/** How much of a span there is at one of its frames, 0-1, as a curve that is drawn; see the server's `Span.faded`. */
export function shareAt({ span, first, last }: Laid, frame: number): number {
  const keys = span.amounts ?? [];
  let amount = (span.amount ?? 100) / 100;
  if (keys.length) {
    const after = keys.findIndex((k) => k.frame > frame);
    const [a, b] = [keys[after < 0 ? keys.length - 1 : Math.max(after - 1, 0)]!, keys[after < 0 ? keys.length - 1 : after]!];
    const t = a === b ? 0 : (frame - a.frame) / (b.frame - a.frame);
    amount = (Number(a.value) + (Number(b.value) - Number(a.value)) * (frame < a.frame ? 0 : t)) / 100;
  }
  return amount * Math.min((frame + 1) / ((span.fade_in ?? 0) + 1), (last - first - frame + 1) / ((span.fade_out ?? 0) + 1), 1);
}

/** The looks laid over stretches, as brackets with their amount drawn in them. */
export function Spans({ span, rows, height }: { span: Span; rows: Laid[][]; height: number }) {
  const { lost } = useReelLayout();
  const reel = useReel();
  return (
    <div role="group" aria-label="Spans" className="relative shrink-0" style={{ height }}>
      {!rows.length && <p className="pt-2 text-[12px] text-quiet">No spans: choose items and press U to lay a look over them.</p>}
      {rows.map((row, n) => row.map((laid) => <Bracket key={laid.span.id} laid={laid} span={span} top={n * SPAN_ROW + 3} />))}
      {lost.length > 0 && (
        <button type="button" className="absolute top-0 right-0 z-30 border border-strong bg-panel px-1.5 text-[12px]" onClick={() => reel.choose({ kind: "span", ids: [lost[0]!.id] })}>
          ! {lost.length === 1 ? `“${lost[0]!.name}” has lost its items` : `${lost.length} spans have lost their items`}
        </button>
      )}
    </div>
  );
}

function Bracket({ laid, span, top }: { laid: Laid; span: Span; top: number }) {
  const reel = useReel();
  const on = useReelChoice((s) => s.chosen?.kind === "span" && s.chosen.ids.includes(laid.span.id));
  const left = xOf(span, laid.first - 0.5);
  const width = Math.max((laid.last - laid.first + 1) * perFrame(span), 4);
  const passes = laid.span.look?.passes?.length ?? 0;
  const words = [passes === 1 ? "1 pass" : `${passes} passes`, laid.span.blend ?? "normal"].join(" · ");
  const moved = (part: "first" | "last" | "both", from: Laid, by: number) => {
    const length = from.last - from.first;
    const most = reel.layout.length - 1;
    if (part === "both") {
      const first = Math.min(Math.max(from.first + by, 0), most - length);
      return spanCommands(reel, from, { first, last: first + length });
    }
    return spanCommands(reel, from, part === "first" ? { first: Math.min(Math.max(from.first + by, 0), from.last) } : { last: Math.max(Math.min(from.last + by, most), from.first) });
  };
  const { begin, handlers } = useDrag<{ part: "first" | "last" | "both"; x: number; by: number; from: Laid; edges: number[] }>({
    move: (held, e) => {
      const by = snapped(held.edges, held.part === "last" ? held.from.last + 1 : held.from.first, Math.round((e.clientX - held.x) / perFrame(span)), 6 / perFrame(span));
      reel.document.show(moved(held.part, held.from, by));
      return { ...held, by };
    },
    end: ({ part, from, by }) => (by ? void reel.edit(moved(part, from, by), `${laid.span.name} ${part === "both" ? "moved" : part === "first" ? "begins elsewhere" : "ends elsewhere"}`) : reel.document.drop()),
    giveUp: () => reel.document.drop(),
  });
  const keys = (e: KeyboardEvent) => {
    const by = { ArrowLeft: -1, ArrowRight: 1 }[e.key];
    if (e.key === "Enter") reel.choose({ kind: "span", ids: [laid.span.id] });
    else if (by && e.altKey) void reel.edit(moved("both", laid, by * (e.shiftKey ? 10 : 1)), `${laid.span.name} moved`);
    else return;
    e.preventDefault();
    e.stopPropagation();
  };
  const points = Array.from({ length: 61 }, (_, n) => {
    const frame = ((laid.last - laid.first) * n) / 60;
    return `${(n / 60) * width},${24 - 20 * shareAt(laid, frame)}`;
  }).join(" ");
  const grab = (part: "first" | "last" | "both") => (e: React.PointerEvent) => {
    if (e.button !== 0) return;
    e.stopPropagation();
    reel.choose({ kind: "span", ids: [laid.span.id] });
    begin(e, { part, x: e.clientX, by: 0, from: laid, edges: edgesOf(reel.layout, reel.timeline.frame, laid.span.id) });
  };
  return (
    <div
      role="button"
      tabIndex={0}
      aria-pressed={on}
      data-span={laid.span.id}
      title={`${laid.span.name}: drag to move, its ends to lengthen; right click for more`}
      aria-label={`Span ${laid.span.name} ${words}, frames ${laid.first} to ${laid.last}`}
      className={clsx("absolute h-[28px] cursor-grab touch-none overflow-hidden border-x border-t bg-panel", on ? "border-2 border-ink" : "border-strong", laid.span.on === false && "opacity-40")}
      style={{ left, width, top }}
      onKeyDown={keys}
      onPointerDown={grab("both")}
      {...handlers}
    >
      <svg width={width} height={26} className="pointer-events-none absolute inset-0 text-quiet">
        <polyline points={points} fill="none" stroke="currentColor" />
      </svg>
      <span style={{ left: Math.max(0, -left) + 8 }} className="pointer-events-none absolute top-[5px] bg-panel pr-1 text-[12px] leading-[16px] whitespace-nowrap">
        <b>{laid.span.name}</b> <span className="text-quiet">{words}</span>
      </span>
      <span className="absolute inset-y-0 left-0 w-[7px] cursor-ew-resize" onPointerDown={grab("first")} {...handlers} />
      <span className="absolute inset-y-0 right-0 w-[7px] cursor-ew-resize" onPointerDown={grab("last")} {...handlers} />
    </div>
  );
}
