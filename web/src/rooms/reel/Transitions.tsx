import clsx from "clsx";
import { useRef } from "react";

import type { Lane, ParamInfo } from "../../api/types";
import { join as target } from "../../engine/commands";
import { valueAt } from "../../engine/lanes";
import type { PercentPin } from "../../engine/percents";
import type { Overlap } from "../../engine/reel/layout";
import { perFrame, xOf, type Span } from "../../engine/timespan";
import { useDrag } from "../../ui/drag";
import { useReel, useReelChoice, useReelLayout } from "./context";

/** The transitions, hatched over the frames that they take; where the footage has none beyond the cut, hatched the other way. */
export function Transitions({ span }: { span: Span }) {
  const { transitions } = useReelLayout();
  return transitions.map((transition) => <Transition key={transition.transition.id} overlap={transition} span={span} />);
}

function Transition({ overlap, span }: { overlap: Overlap; span: Span }) {
  const reel = useReel();
  const { transition, cut, before, behind, heldOut, heldIn } = overlap;
  const on = useReelChoice((s) => s.chosen?.kind === "transition" && s.chosen.ids.includes(transition.id));
  const left = xOf(span, cut - before - 0.5);
  const width = (before + behind) * perFrame(span);
  const held = useRef(1);
  const at = transition.at ?? "centred";
  // An edge that is dragged moves the other too where the transition is centred.
  const length = (pixels: number) => Math.max(1, Math.round((transition.frames ?? 24) + (pixels / perFrame(span)) * (at === "centred" ? 2 : 1)));
  const { begin, handlers } = useDrag<{ x: number; frames: number }>({
    move: (from, e) => {
      const frames = length((e.clientX - from.x) * held.current);
      reel.document.show([{ do: "set", target: target("transitions", transition.id, "frames"), value: frames }]);
      return { ...from, frames };
    },
    end: ({ frames }) => void reel.edit([{ do: "set", target: target("transitions", transition.id, "frames"), value: frames }], `Transition ${frames} frames long`),
    giveUp: () => reel.document.drop(),
  });
  const edge = (side: -1 | 1) => (
    <span
      className={clsx("absolute top-0 bottom-0 w-[7px] cursor-ew-resize", side < 0 ? "left-0" : "right-0")}
      onPointerDown={(e) => {
        if (e.button !== 0) return;
        e.stopPropagation();
        held.current = side;
        reel.choose({ kind: "transition", ids: [transition.id] });
        begin(e, { x: e.clientX, frames: transition.frames ?? 24 });
      }}
      {...handlers}
    />
  );
  return (
    <div
      role="button"
      tabIndex={0}
      aria-pressed={on}
      aria-label={`${transition.kind ?? "dissolve"} of ${before + behind} frames at frame ${cut}`}
      title={heldOut || heldIn ? `The footage ends: ${[heldOut && `${heldOut} frames of what goes`, heldIn && `${heldIn} frames of what comes`].filter(Boolean).join(", ")} are held` : undefined}
      data-transition={transition.id}
      className={clsx("absolute top-0 bottom-[20px] z-20 touch-none", on ? "border-2 border-ink" : "border-x border-strong")}
      style={{ left, width: Math.max(width, 6) }}
      onKeyDown={(e) => e.key === "Enter" && (e.preventDefault(), reel.choose({ kind: "transition", ids: [transition.id] }))}
      onPointerDown={(e) => {
        if (e.button !== 0) return;
        e.stopPropagation();
        reel.choose({ kind: "transition", ids: [transition.id] });
        reel.go(cut);
      }}
    >
      <span className="hatched-wide pointer-events-none absolute inset-0" />
      <Course overlap={overlap} width={Math.max(width, 6)} />
      {heldIn > 0 && <span className="hatched-back pointer-events-none absolute inset-y-0 left-0" style={{ width: heldIn * perFrame(span) }} />}
      {heldOut > 0 && <span className="hatched-back pointer-events-none absolute inset-y-0 right-0" style={{ width: heldOut * perFrame(span) }} />}
      <span className="pointer-events-none absolute top-[2px] left-1/2 -translate-x-1/2 bg-white px-1 text-[11px] leading-[15px] font-bold text-black">{transition.kind ?? "dissolve"}</span>
      {edge(-1)}
      {edge(1)}
    </div>
  );
}

const HIGH = 66;
const SAMPLES = 40;
const PERCENT = { kind: "number", low: 0, high: 100, step: 1 } as unknown as ParamInfo;

/** How it goes: how much there is of what comes, or how far the hole is open and, dashed, how far it has taken all. */
function Course({ overlap: { transition }, width }: { overlap: Overlap; width: number }) {
  const line = (pins: readonly PercentPin[]) => {
    const lane = { target: "", keyframes: pins } as unknown as Lane;
    return Array.from({ length: SAMPLES + 1 }, (_, n) => `${((n / SAMPLES) * width).toFixed(1)},${(3 + (1 - Number(valueAt(lane, PERCENT, (n / SAMPLES) * 1000, 24)) / 100) * (HIGH - 6)).toFixed(1)}`).join(" ");
  };
  const reveal = transition.kind === "reveal";
  const opens: readonly PercentPin[] = reveal ? ((transition.opens ?? []) as PercentPin[]) : [{ frame: 0, value: 0, how: "linear" }, { frame: 1000, value: 100, how: "linear" }];
  return (
    <svg aria-hidden width={width} height={HIGH} className="pointer-events-none absolute inset-0">
      {[opens, ...(reveal ? [(transition.takes ?? []) as PercentPin[]] : [])].map((pins, n) => pins.length > 0 && (
        <g key={n} fill="none" strokeDasharray={n ? "4 3" : undefined}>
          <polyline points={line(pins)} stroke="black" strokeWidth={3.5} />
          <polyline points={line(pins)} stroke="white" strokeWidth={1.5} />
        </g>
      ))}
    </svg>
  );
}
