import { useVirtualizer } from "@tanstack/react-virtual";
import clsx from "clsx";
import { useRef, type RefObject } from "react";

import type { Footage as Piece, ShotRow } from "../../api/types";
import { bytes, duration, rateWords } from "../../ui/words";
import type { Order } from "./facts";

const COLUMNS: { order: Order; name: string; wide: string; told: (p: Piece, shots: ShotRow[]) => string }[] = [
  { order: "name", name: "Name", wide: "minmax(180px,2fr)", told: (p) => p.name },
  { order: "length", name: "Length", wide: "84px", told: (p) => (p.facts.kind === "still" ? "still" : duration(p.seconds)) },
  { order: "picture", name: "Picture", wide: "104px", told: (p) => (p.facts.wave ? "sound" : `${p.facts.width} × ${p.facts.height}`) },
  { order: "rate", name: "Rate", wide: "84px", told: (p) => (p.facts.kind === "still" ? "" : rateWords(p.facts.rate)) },
  { order: "codec", name: "Codec", wide: "minmax(110px,1fr)", told: (p) => [p.facts.origin || p.facts.codec.toUpperCase(), p.facts.alpha && "alpha", p.facts.interlaced && "interlaced"].filter(Boolean).join(", ") },
  { order: "sound", name: "Sound", wide: "minmax(90px,1fr)", told: (p) => p.facts.sound ?? "none" },
  { order: "size", name: "File", wide: "76px", told: (p) => bytes(p.bytes) },
  { order: "used", name: "Used", wide: "minmax(96px,1fr)", told: (p, shots) => [shots.length ? (shots.length === 1 ? "1 shot" : `${shots.length} shots`) : "", p.in_reel ? `reel ${p.in_reel}×` : ""].filter(Boolean).join(", ") || "not yet" },
];
const GRID = `28px 76px ${COLUMNS.map((c) => c.wide).join(" ")}`;

type Props = {
  room: RefObject<HTMLElement | null>;
  pieces: Piece[];
  shots: ReadonlyMap<string, ShotRow[]>;
  chosen: ReadonlySet<string>;
  order: Order;
  falling: boolean;
  onOrder: (order: Order) => void;
  onChoose: (id: string, on: boolean) => void;
  onOpen: (piece: Piece) => void;
};

/** Footage as rows, ordered by what is pressed at the head. */
export function List({ room, pieces, shots, chosen, order, falling, onOrder, onChoose, onOpen }: Props) {
  const list = useRef<HTMLDivElement>(null);
  const virtual = useVirtualizer({ count: pieces.length, getScrollElement: () => room.current, estimateSize: () => 44, overscan: 8, getItemKey: (n) => pieces[n]!.id });
  return (
    <div role="table" aria-label="Footage" aria-rowcount={pieces.length + 1}>
      <div role="row" className="sticky -top-6 z-10 grid items-center gap-2 border-b border-strong bg-ground py-1" style={{ gridTemplateColumns: GRID }}>
        <span role="columnheader" aria-label="Chosen" />
        <span role="columnheader" aria-label="Picture of it" />
        {COLUMNS.map((column) => (
          <span key={column.order} role="columnheader" aria-sort={order === column.order ? (falling ? "descending" : "ascending") : "none"}>
            <button type="button" title={`Order by ${column.name.toLowerCase()}; again turns it round`} className={clsx("truncate text-left hover:underline", order === column.order ? "font-bold" : "text-quiet")} onClick={() => onOrder(column.order)}>
              {column.name} {order === column.order && (falling ? "↓" : "↑")}
            </button>
          </span>
        ))}
      </div>
      <div ref={list} className="relative" style={{ height: virtual.getTotalSize() }}>
        {virtual.getVirtualItems().map((row) => {
          const piece = pieces[row.index]!;
          return (
            <div
              key={row.key}
              role="row"
              aria-label={piece.name}
              aria-selected={chosen.has(piece.id)}
              className={clsx("absolute grid h-[44px] w-full items-center gap-2 border-b border-line", chosen.has(piece.id) && "bg-raised")}
              style={{ gridTemplateColumns: GRID, transform: `translateY(${row.start}px)` }}
              onDoubleClick={() => onOpen(piece)}
            >
              <span role="cell">
                <input type="checkbox" aria-label={`Choose ${piece.name}`} className="h-[16px] w-[16px] accent-[var(--inverse)]" checked={chosen.has(piece.id)} onChange={(e) => onChoose(piece.id, e.currentTarget.checked)} />
              </span>
              <span role="cell">
                <button type="button" aria-label={`Open ${piece.name} on the Bench`} className="block h-[36px] w-[64px] bg-black" onClick={() => onOpen(piece)}>
                  {piece.state === "here" ? <img src={`/api/footage/${piece.id}/poster.jpg?${piece.content}`} alt="" loading="lazy" className="h-full w-full object-contain" /> : <b>!</b>}
                </button>
              </span>
              {COLUMNS.map((column) => {
                const words = column.told(piece, shots.get(piece.id) ?? []);
                return (
                  <span key={column.order} role="cell" title={words} className={clsx("truncate tabular-nums", column.order === "name" ? "font-semibold" : "text-quiet")}>
                    {words}
                  </span>
                );
              })}
            </div>
          );
        })}
      </div>
    </div>
  );
}
