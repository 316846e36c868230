import { useVirtualizer } from "@tanstack/react-virtual";
import { useEffect, useRef } from "react";

import type { LaidOut } from "../../engine/sheet/rows";
import type { CellRef } from "../../engine/sheet/sheet";
import { Cell } from "./Cell";
import { useSheetRoom, useSheetState } from "./context";

const NAMES = 160; // pixels of the names of shots
const GAP = 10;
const BELOW = 34; // pixels under a picture
const LEAST = 164; // pixels of a column: six fit 1280 across, beside a scroll bar

type Props = {
  laid: LaidOut;
  heads: { id: string; title: React.ReactNode }[];
  onOpen: (cell: CellRef) => void;
  onPick: (cell: CellRef) => void;
};

/** Shots down, looks across: only the rows in view are there. */
export function Grid({ laid, heads, onOpen, onPick }: Props) {
  const { rows, shots } = laid;
  const { sheet } = useSheetRoom();
  const box = useRef<HTMLDivElement>(null);
  const most = Math.max(1, ...rows.map((r) => r.columns.length));
  const cursor = useSheetState((s) => s.cursor);
  const width = Math.max((box.current?.clientWidth ?? 1248) - NAMES - 16, most * (LEAST + GAP));
  const height = Math.round(((width / Math.max(most, 4) - GAP) * 9) / 16) + BELOW;
  const virtual = useVirtualizer({ count: rows.length, getScrollElement: () => box.current, estimateSize: () => height, overscan: 1, getItemKey: (n) => rows[n]!.shot, initialOffset: sheet.now.scroll });
  useEffect(() => virtual.measure(), [virtual, height]);
  useEffect(() => {
    const at = rows.findIndex((r) => r.shot === cursor?.shot);
    if (at >= 0) virtual.scrollToIndex(at, { align: "auto" });
  }, [cursor, rows, virtual]);
  const named = new Map(shots.map((s) => [s.id, s]));
  const columns = { gridTemplateColumns: `${NAMES}px repeat(${Math.max(most, 4)}, minmax(${LEAST}px, 1fr))`, columnGap: GAP };
  return (
    <div ref={box} data-cells className="pane min-h-0 flex-1 overflow-auto px-4" onScroll={(e) => sheet.put({ scroll: e.currentTarget.scrollTop })}>
      <div role="grid" aria-label="Sheet" aria-rowcount={rows.length} style={{ minWidth: NAMES + Math.max(most, 4) * (LEAST + GAP) }}>
        {heads.length > 0 && (
          <div role="row" className="sticky top-0 z-10 grid bg-ground py-2" style={columns}>
            <span role="columnheader" className="sticky -left-4 z-[6] -ml-4 self-stretch bg-ground pl-4">
              <span className="sr-only">Shot</span>
            </span>
            {heads.map((h) => (
              <span key={h.id} role="columnheader" className="min-w-0">
                {h.title}
              </span>
            ))}
          </div>
        )}
        <div role="rowgroup" className="relative" style={{ height: virtual.getTotalSize() }}>
          {virtual.getVirtualItems().map((item) => {
            const row = rows[item.index]!;
            const shot = named.get(row.shot)!;
            return (
              <div key={item.key} role="row" aria-rowindex={item.index + 1} className="absolute inset-x-0 grid" style={{ ...columns, transform: `translateY(${item.start}px)`, height: item.size }}>
                <div role="rowheader" className="sticky -left-4 z-[5] -ml-4 self-stretch bg-ground pt-6 pr-2 pl-4">
                  <p className="truncate font-semibold" title={shot.name}>{shot.name}</p>
                  <p className="text-[12px] text-quiet">{laid.aside(shot)}</p>
                </div>
                {row.columns.map((column) => {
                  const cell = { shot: row.shot, column };
                  return (
                    <div key={column} role="gridcell" className="min-w-0">
                      <Cell cell={cell} standIn={`/api/footage/${shot.footage_id}/poster.jpg`} name={`${shot.name}, ${laid.look(cell)}`} rows={rows} stamp={laid.stamp(cell)} onOpen={onOpen} onPick={onPick} />
                      {!heads.length && <p className="truncate text-[12px] font-semibold">{laid.look(cell)}</p>}
                    </div>
                  );
                })}
              </div>
            );
          })}
        </div>
      </div>
    </div>
  );
}
