import { Dialog } from "radix-ui";
import { useState } from "react";

import type { LaidOut } from "../../engine/sheet/rows";
import type { CellRef } from "../../engine/sheet/sheet";
import { Segments } from "../../ui/basics";
import { WIDTH } from "./Cell";
import { pictureOf } from "./cells";
import { useSheetRoom, useSheetState } from "./context";

/** Two cells over each other, where the line between them is dragged or moved by the arrows; or next to each other. */
export function Compare({ laid }: { laid: LaidOut }) {
  const { sheet } = useSheetRoom();
  const compare = useSheetState((s) => s.compare);
  const shapes = useSheetState((s) => s.shapes);
  const sure = useSheetState((s) => s.sure);
  const [at, setAt] = useState(50);
  const [way, setWay] = useState<"wipe" | "side">("wipe");
  const url = (cell: CellRef, width = 1280) => pictureOf(cell, "stands", width, { shapes, sure }, laid.stamp(cell));
  // The small picture, which is there already, stands in until the large one has come.
  const standIn = (cell: CellRef) => ({ backgroundImage: `url("${url(cell, WIDTH)}")`, backgroundSize: "contain", backgroundPosition: "center", backgroundRepeat: "no-repeat" });
  return (
    <Dialog.Root open={compare !== null} onOpenChange={() => sheet.put({ compare: null })}>
      <Dialog.Portal>
        <Dialog.Overlay className="fixed inset-0 z-40 bg-black/70" />
        <Dialog.Content aria-describedby={undefined} className="fixed inset-x-[6%] top-[5%] z-50 flex max-h-[90%] flex-col border border-strong bg-panel p-4">
          <Dialog.Title className="sr-only">Two looks compared</Dialog.Title>
          {compare && (
            <>
              <div className="mb-2 flex items-center justify-between gap-3 font-semibold">
                <span className="min-w-0 flex-1 truncate">{laid.name(compare[0])}</span>
                <Segments
                  boxed
                  label="How they are compared"
                  value={way}
                  onChange={setWay}
                  options={[
                    { value: "wipe", name: "Wipe", tip: "One over the other, with a line between them" },
                    { value: "side", name: "Side by side", tip: "Next to each other" },
                  ]}
                />
                <span className="min-w-0 flex-1 truncate text-right">{laid.name(compare[1])}</span>
              </div>
              {way === "side" ? (
                <div className="grid min-h-0 grid-cols-2 gap-2">
                  {compare.map((cell) => (
                    <img key={`${cell.shot} ${cell.column}`} src={url(cell)} alt={laid.name(cell)} className="max-h-[70vh] w-full bg-black object-contain" style={standIn(cell)} />
                  ))}
                </div>
              ) : (
                <div className="relative min-h-0 overflow-hidden bg-black" style={{ aspectRatio: "16 / 9" }}>
                  <img src={url(compare[1])} alt={laid.name(compare[1])} className="absolute inset-0 h-full w-full object-contain" style={standIn(compare[1])} />
                  <img src={url(compare[0])} alt={laid.name(compare[0])} className="absolute inset-0 h-full w-full object-contain" style={{ ...standIn(compare[0]), clipPath: `inset(0 ${100 - at}% 0 0)` }} />
                  <span aria-hidden className="pointer-events-none absolute inset-y-0 w-[2px] bg-white" style={{ left: `${at}%` }} />
                  <input type="range" aria-label="Where one gives way to the other" min={0} max={100} value={at} onChange={(e) => setAt(Number(e.currentTarget.value))} className="absolute inset-0 h-full w-full cursor-ew-resize opacity-0" />
                </div>
              )}
              <p className="mt-2 text-quiet">{way === "wipe" ? "Drag the line, or use the arrows; Esc closes." : "Esc closes."}</p>
            </>
          )}
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  );
}
