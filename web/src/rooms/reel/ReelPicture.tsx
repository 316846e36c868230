import { useEffect, useRef, useState } from "react";
import { useStore } from "zustand";

import type { ReelChoice } from "../../engine/reel/reel";
import { useStage, useTime } from "../../panels/engine";
import { Busy, Failure } from "../../panels/StageStates";
import { Comparing } from "../../panels/Toggled";
import { useZoomWords } from "../../panels/zoom";
import { Button, Segments } from "../../ui/basics";
import { Menu } from "../../ui/menu";
import { useReel, useReelChoice, useReelLayout } from "./context";
import { PlaceOverlay } from "./PlaceOverlay";

const VIEWS: { value: "reel" | "spans" | "looks"; name: string; tip: string; does: string }[] = [
  { value: "reel", name: "Reel", tip: "The finished picture", does: "result" },
  { value: "spans", name: "Without spans", tip: "With the looks of its shots alone", does: "without spans" },
  { value: "looks", name: "Without looks", tip: "As it was filmed", does: "without looks" },
];

/** The picture of the reel, and the ways to look at it. */
export function ReelPicture() {
  const reel = useReel();
  const settled = useStage((s) => s.settled);
  const idle = useStore(reel.document.state, (s) => !s.waiting.length && !s.gesture);
  const without = useReelChoice((s) => s.without);
  const full = useTime((s) => s.full);
  const zoom = useZoomWords();
  return (
    <>
      <div className="flex h-[36px] shrink-0 items-center gap-2 px-2" data-settled={settled && idle}>
        <Segments label="View" value={without ?? "reel"} onChange={(value) => reel.choice.set({ without: value === "reel" ? null : (value as ReelChoice["without"]) })} options={VIEWS} />
        <span className="flex-1" />
        <Comparing tips={{ wipe: "Without looks on the left, as it stands on the right; drag the line", side: "Without looks, and as it stands, next to each other" }} />
        <Menu
          trigger={<Button look="plain">{zoom} ▾</Button>}
          items={[{ name: "Fit", does: "zoom", onSelect: () => reel.stage.viewport?.fit() }, ...[50, 100, 200].map((percent) => ({ name: `${percent} %`, onSelect: () => reel.stage.viewport?.zoomTo(percent) })), "line", { name: "Every pixel while it plays", checked: full, onSelect: () => reel.timeline.set({ full: !full }) }]}
        />
      </div>
      <Canvas />
    </>
  );
}

/** Both sides of the cut that is being trimmed, or both ends of what is slipped, side by side over the picture. */
function CutShown() {
  const cut = useReelChoice((s) => s.cut);
  const said = useReelChoice((s) => s.said);
  if (!cut) return null;
  return (
    <div aria-label="Both sides of the cut" className="pointer-events-none absolute inset-0 grid grid-cols-2 gap-1 bg-black p-1">
      {said && <p className="absolute inset-x-0 top-2 z-10 mx-auto w-fit bg-white px-2 py-0.5 font-semibold text-black">{said}</p>}
      {cut.map((side, n) => (
        <figure key={n} className="flex min-h-0 flex-col">
          {side?.shot ? <img src={`/api/shots/${side.shot}/pictures/${side.revision}/${side.frame}.jpg?width=640`} alt="" className="min-h-0 flex-1 object-contain" /> : <span className="flex-1" />}
          <figcaption className="text-center text-[12px] text-white">{side ? `${side.does}: ${side.name}${side.shot ? `, frame ${side.frame}` : ""}` : n ? "the reel ends" : "the reel begins"}</figcaption>
        </figure>
      ))}
    </div>
  );
}

function Canvas() {
  const reel = useReel();
  const holder = useRef<HTMLDivElement>(null);
  const canvas = useRef<HTMLCanvasElement>(null);
  const { length } = useReelLayout().items;
  const wiping = useRef(false);
  const [empty, setEmpty] = useState(false);
  useEffect(() => setEmpty(length === 0), [length]);
  useEffect(() => (empty ? undefined : reel.stage.attach(canvas.current!, holder.current!)), [reel, empty]);
  const wipe = (e: React.PointerEvent) => {
    const box = holder.current!.getBoundingClientRect();
    const { viewport } = reel.stage;
    if (viewport) reel.stage.set({ wipe: viewport.wipeAt(e.clientX - box.left) });
  };
  if (empty)
    return (
      <div className="flex min-h-0 flex-1 flex-col items-center justify-center gap-1 text-center">
        <p className="text-[16px] font-bold">The reel is empty.</p>
        <p className="text-quiet">Drag a shot from the left onto the line below, or press its +.</p>
      </div>
    );
  return (
    <div
      ref={holder}
      className="relative min-h-0 flex-1 overflow-hidden"
      onPointerDown={(e) => {
        if (reel.now.compare !== "wipe" || e.button !== 0) return;
        e.currentTarget.setPointerCapture(e.pointerId);
        wiping.current = true;
        wipe(e);
      }}
      onPointerMove={(e) => wiping.current && wipe(e)}
      onPointerUp={() => (wiping.current = false)}
    >
      <canvas ref={canvas} aria-label="Picture of the reel" className="absolute inset-0 h-full w-full" />
      <PlaceOverlay />
      <CutShown />
      <Failure />
      <Busy />
    </div>
  );
}
