import clsx from "clsx";
import { useState, type DragEvent, type KeyboardEvent, type PointerEvent } from "react";

import { slip, slipCommands } from "../../engine/reel/cutting";
import { moveItems, nudgeItem } from "../../engine/reel/edits";
import { sideOf } from "../../engine/reel/snap";
import { GAP, conformed, ratio, shownAt, type Placed } from "../../engine/reel/layout";
import { frameAt, perFrame, xOf, type Span } from "../../engine/timespan";
import { useDrag } from "../../ui/drag";
import { useReel, useReelChoice, useReelLayout } from "./context";
import { CutGrip, Edge } from "./Edges";
import { putIn } from "./pieces";
import { SHOT } from "./Shots";

const STRIP = 62; // pixels of the pictures of an item; its name is below them
const SNAP = 8; // pixels

/** The items as strips of their finished pictures: dragged to another place, trimmed at their edges. */
export function Items({ span }: { span: Span }) {
  const reel = useReel();
  const { items, length } = useReelLayout();
  const chosen = useReelChoice((s) => s.chosen);
  const [mark, setMark] = useState<number | null>(null); // the frame before which what is dragged would go
  const shown = items.filter((p) => p.first <= span.to && p.first + p.frames >= span.from);
  const cutAt = (frame: number) => {
    const at = items.findIndex((p) => frame < p.first + p.frames / 2);
    return at < 0 ? { before: null, frame: length } : { before: items[at]!, frame: items[at]!.first };
  };
  const over = (e: DragEvent<HTMLDivElement>) => {
    if (!e.dataTransfer.types.includes(SHOT)) return;
    e.preventDefault();
    e.dataTransfer.dropEffect = "copy";
    setMark(cutAt(frameAt(span, e.clientX - e.currentTarget.getBoundingClientRect().left)).frame);
  };
  const dropped = (e: DragEvent<HTMLDivElement>) => {
    const id = e.dataTransfer.getData(SHOT);
    setMark(null);
    if (!id) return;
    e.preventDefault();
    const { before } = cutAt(frameAt(span, e.clientX - e.currentTarget.getBoundingClientRect().left));
    void putIn(reel, id.split(" "), before?.item.id ?? null);
  };
  return (
    <div role="group" aria-label="Items" className="absolute inset-0" onDragOver={over} onDragLeave={() => setMark(null)} onDrop={dropped}>
      {!items.length && <p className="flex h-full items-center justify-center border border-dashed border-strong text-quiet">Drop shots here, several at once if you like.</p>}
      {shown.map((placed) => (
        <Item key={placed.item.id} placed={placed} span={span} on={chosen?.kind === "item" && chosen.ids.includes(placed.item.id)} cutAt={cutAt} onMark={setMark} />
      ))}
      {shown.map((placed) => placed.first > 0 && <CutGrip key={placed.item.id} after={placed} span={span} />)}
      {mark !== null && <span className="pointer-events-none absolute -top-1 bottom-0 z-20 w-[3px] bg-ink" style={{ left: xOf(span, mark - 0.5) - 1 }} />}
    </div>
  );
}

/** slips: the items whose frames are slipped, where that is what the drag does. */
type Dragged = { x: number; to: { before: Placed | null; frame: number } | null; alone: boolean; slips: Placed[] | null; by: number };
type Props = { placed: Placed; span: Span; on: boolean; cutAt: (frame: number) => { before: Placed | null; frame: number }; onMark: (frame: number | null) => void };

function Item({ placed, span, on, cutAt, onMark }: Props) {
  const reel = useReel();
  const { item, shot } = placed;
  const left = xOf(span, placed.first - 0.5);
  const width = placed.frames * perFrame(span);
  const name = shot?.name ?? (item.shot === GAP ? "Gap" : "A shot that is gone");
  const choose = (e: { shiftKey: boolean; ctrlKey?: boolean; metaKey?: boolean }) => {
    const { chosen } = reel.choice.now;
    const more = e.shiftKey || e.ctrlKey || e.metaKey;
    const before = more && chosen?.kind === "item" ? chosen.ids : [];
    reel.choose({ kind: "item", ids: before.includes(item.id) && before.length > 1 ? before.filter((id) => id !== item.id) : [...before.filter((id) => id !== item.id), item.id] });
  };
  const frame = (e: PointerEvent) => frameAt(span, e.clientX - (e.currentTarget as Element).closest("[aria-label=Items]")!.getBoundingClientRect().left);
  const { begin, handlers } = useDrag<Dragged>({
    move: (held, e) => {
      if (held.slips) {
        const by = -conformed(Math.round((e.clientX - held.x) / perFrame(span)), ratio(reel.layout.fps), placed.rate);
        const commands = slipCommands(reel, held.slips, by);
        reel.document.show(commands);
        const now = reel.layout.items.find((p) => p.item.id === item.id);
        reel.choice.set({ cut: now ? [sideOf(now, "first"), sideOf(now, "last")] : null, said: "What is seen slips; nothing moves." });
        return { ...held, by };
      }
      if (!held.to && Math.abs(e.clientX - held.x) < SNAP) return held;
      const to = cutAt(frame(e));
      onMark(to.frame);
      return { ...held, to };
    },
    end: ({ to, alone, slips, by }) => {
      onMark(null);
      reel.choice.set({ cut: null, said: null });
      if (slips) return by ? slip(reel, slips, by) : reel.document.drop();
      if (to) moveItems(reel, reel.items.map((p) => p.item.id), to.before?.item.id ?? null);
      else if (alone) reel.choose({ kind: "item", ids: [item.id] });
    },
    giveUp: () => {
      onMark(null);
      reel.choice.set({ cut: null, said: null });
      reel.document.drop();
    },
  });
  const keys = (e: KeyboardEvent) => {
    if (e.key === "Enter") choose(e);
    else if (e.altKey && (e.key === "ArrowLeft" || e.key === "ArrowRight")) {
      choose({ shiftKey: false });
      nudgeItem(reel, e.key === "ArrowLeft" ? -1 : 1);
    } else return;
    e.preventDefault();
    e.stopPropagation();
  };
  const gap = item.shot === GAP;
  const sides = [item.mirror_across || item.mirror_down ? "mirrored" : "", !gap && (shot?.gone || !shot) ? "gone" : "", gap ? `${placed.frames} frames` : ""].filter(Boolean).join(", ");
  const told = sides || `${item.first}–${item.last}`;
  return (
    <div className={clsx("absolute top-0 h-full overflow-hidden border bg-raised", on ? "z-10 border-2 border-ink" : "border-strong", !gap && (shot?.gone || !shot) && "hatched", gap && "border-dashed bg-transparent")} data-item={item.id} style={{ left, width: Math.max(width, 3) }}>
      <div
        role="button"
        tabIndex={0}
        aria-pressed={on}
        aria-label={`${name} ${told}, frames ${item.first} to ${item.last}`}
        className="absolute inset-0 cursor-grab"
        title="Drag to another place; with Alt it shows other frames in the same place; right click for more"
        onKeyDown={keys}
        onPointerDown={(e) => {
          if (e.button !== 0) return;
          e.stopPropagation();
          const among = on && !e.shiftKey && !e.ctrlKey && !e.metaKey; // one of several that are dragged together: let go where it was, it alone is chosen
          if (!among) choose(e);
          begin(e, { x: e.clientX, to: null, alone: among, slips: e.altKey ? reel.items : null, by: 0 });
        }}
        {...handlers}
        onDoubleClick={() => reel.go(placed.first)}
      >
        {shot && !shot.gone && <Strip placed={placed} width={width} left={left} over={span.width} />}
        <span style={{ left: Math.max(0, -left) }} className="absolute right-0 bottom-0 flex justify-between gap-2 px-2 text-[12px] leading-[20px]">
          <b className="truncate font-semibold">{name}</b>{" "}
          <span className="shrink-0 text-quiet">{width > 110 && told}</span>
        </span>
      </div>
      <Edge placed={placed} span={span} edge="first" />
      <Edge placed={placed} span={span} edge="last" />
    </div>
  );
}

/** Finished pictures of the shot, as many as fit where the item is in view. */
function Strip({ placed, width, left, over }: { placed: Placed; width: number; left: number; over: number }) {
  const { fps } = useReelLayout();
  const { item, shot } = placed;
  const cell = Math.max(24, Math.round((STRIP * shot!.width) / shot!.height));
  const each = (placed.frames * cell) / width; // frames of the reel in one picture
  const begin = Math.max(0, Math.floor(-left / cell));
  const end = Math.min(Math.ceil(width / cell), Math.ceil((over - left) / cell));
  const coarse = 2 ** Math.max(0, Math.floor(Math.log2(Math.max(each, 1)))); // frames are taken from a few, so that another zoom finds them again
  return (
    <>
      {Array.from({ length: Math.max(0, end - begin) }, (_, n) => begin + n).map((n) => {
        const at = shownAt(placed, fps, Math.min(Math.floor(n * each), placed.frames - 1));
        const frame = Math.min(Math.max(Math.round(at / coarse) * coarse, item.first), item.last, shot!.length - 1);
        const flip = `${item.mirror_across ? "scaleX(-1) " : ""}${item.mirror_down ? "scaleY(-1)" : ""}`.trim();
        return <img key={n} src={`/api/shots/${item.shot}/pictures/${shot!.revision}/${frame}.jpg?width=160`} alt="" loading="lazy" draggable={false} className="absolute top-0 max-w-none border-r border-black object-cover" style={{ left: n * cell, width: cell, height: STRIP, ...(flip ? { transform: flip } : {}) }} />;
      })}
    </>
  );
}
