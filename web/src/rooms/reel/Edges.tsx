/** What stands at the edges of items: where they are trimmed, and the cuts between them. */
import clsx from "clsx";
import type { KeyboardEvent } from "react";

import { roll, rollCommands } from "../../engine/reel/cutting";
import { trim, trimCommands } from "../../engine/reel/edits";
import type { Placed } from "../../engine/reel/layout";
import { edgesOf, sidesOf, snapped } from "../../engine/reel/snap";
import { perFrame, xOf, type Span } from "../../engine/timespan";
import { useHint } from "../../ui/does";
import { useDrag } from "../../ui/drag";
import { useReel } from "./context";

/** An edge of an item: dragged it trims, all that are chosen alike, and the picture shows the frame at the edge. */
export function Edge({ placed, span, edge }: { placed: Placed; span: Span; edge: "first" | "last" }) {
  const reel = useReel();
  const { item } = placed;
  const rate = placed.rate[0] / placed.rate[1];
  const over = () => {
    reel.choice.set({ cut: null, said: null });
    reel.hold(null);
  };
  const { begin, handlers } = useDrag<{ x: number; by: number; placed: Placed; all: Placed[]; length: number; edges: number[] }>({
    move: (held, e) => {
      const moved = snapped(held.edges, edge === "first" ? held.placed.first : held.placed.first + held.placed.frames, Math.round((e.clientX - held.x) / perFrame(span)), 6 / perFrame(span));
      const by = Math.round((moved * rate) / reel.layout.rate);
      reel.document.show(held.all.flatMap((one) => trimCommands(one, edge, by)));
      const now = reel.layout.items.find((p) => p.item.id === item.id);
      if (now) reel.timeline.moveTo(edge === "first" ? now.first : now.first + now.frames - 1);
      reel.choice.set({ cut: sidesOf(reel.layout, item.id, edge), said: ripples(reel.layout.length - held.length) });
      return { ...held, by };
    },
    end: ({ by, all }) => {
      if (by) trim(reel, all, edge, by);
      else reel.document.drop();
      over();
    },
    giveUp: () => {
      reel.document.drop();
      over();
    },
  });
  const keys = (e: KeyboardEvent) => {
    const by = { ArrowLeft: -1, ArrowRight: 1 }[e.key];
    if (!by) return;
    e.preventDefault();
    e.stopPropagation();
    trim(reel, [placed], edge, by * (e.shiftKey ? 10 : 1));
  };
  return (
    <span
      role="slider"
      tabIndex={0}
      aria-label={`${placed.shot?.name ?? "Item"} ${edge === "first" ? "begins" : "ends"}`}
      aria-valuenow={item[edge]}
      aria-valuemin={0}
      aria-valuemax={(placed.shot?.length ?? item.last + 1) - 1}
      title="Drag to trim: what follows moves along. Below, at the name, the cut itself is moved"
      className={clsx("absolute top-0 bottom-[20px] w-[8px] cursor-ew-resize touch-none hover:bg-ink/60", edge === "first" ? "left-0" : "right-0")}
      onKeyDown={keys}
      onPointerDown={(e) => {
        if (e.button !== 0) return;
        e.stopPropagation();
        const { chosen } = reel.now;
        if (chosen?.kind !== "item" || !chosen.ids.includes(item.id)) reel.choose({ kind: "item", ids: [item.id] });
        reel.hold({ from: span.from, to: span.to });
        begin(e, { x: e.clientX, by: 0, placed, all: reel.items, length: reel.layout.length, edges: edgesOf(reel.layout, reel.timeline.frame, null) });
      }}
      {...handlers}
    />
  );
}

/** What a trim does to what follows, in words. */
const ripples = (by: number) => (by ? `What follows moves ${Math.abs(by)} ${Math.abs(by) === 1 ? "frame" : "frames"} ${by > 0 ? "later" : "earlier"}.` : "What follows stays.");

/** The cut before an item: dragged, one side ends where the other begins, and nothing else moves. */
export function CutGrip({ after, span }: { after: Placed; span: Span }) {
  const hint = useHint("roll");
  const reel = useReel();
  const before = () => reel.layout.items[reel.layout.items.findIndex((p) => p.item.id === after.item.id) - 1]!;
  const over = () => {
    reel.choice.set({ cut: null, said: null });
    reel.hold(null);
  };
  const { begin, handlers } = useDrag<{ x: number; by: number; from: Placed; edges: number[] }>({
    move: (held, e) => {
      const by = snapped(held.edges, held.from.first + held.from.frames, Math.round((e.clientX - held.x) / perFrame(span)), 6 / perFrame(span));
      reel.document.show(rollCommands(reel, held.from, by));
      const now = reel.layout.items.find((p) => p.item.id === after.item.id);
      if (now) reel.timeline.moveTo(now.first);
      reel.choice.set({ cut: sidesOf(reel.layout, after.item.id, "first"), said: "The cut moves, nothing else." });
      return { ...held, by };
    },
    end: ({ by, from }) => {
      if (by) roll(reel, from, by);
      else reel.document.drop();
      over();
    },
    giveUp: () => {
      reel.document.drop();
      over();
    },
  });
  return (
    <span
      role="slider"
      tabIndex={0}
      aria-label={`Cut before ${after.shot?.name ?? "an item"}`}
      aria-valuenow={after.first}
      aria-valuemin={0}
      aria-valuemax={reel.layout.length - 1}
      title={hint("Drag to move the cut: nothing else moves")}
      className="absolute bottom-0 z-30 h-[20px] w-[11px] cursor-col-resize touch-none border-x border-strong bg-raised hover:bg-ink"
      style={{ left: xOf(span, after.first - 0.5) - 5.5 }}
      onKeyDown={(e) => {
        const by = { ArrowLeft: -1, ArrowRight: 1 }[e.key];
        if (!by) return;
        e.preventDefault();
        e.stopPropagation();
        roll(reel, before(), by * (e.shiftKey ? 10 : 1));
      }}
      onPointerDown={(e) => {
        if (e.button !== 0) return;
        e.stopPropagation();
        reel.hold({ from: span.from, to: span.to });
        begin(e, { x: e.clientX, by: 0, from: before(), edges: edgesOf(reel.layout, reel.timeline.frame, null) });
      }}
      {...handlers}
    />
  );
}
