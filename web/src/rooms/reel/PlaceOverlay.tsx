import type { ReelItem } from "../../api/types";
import { join as target } from "../../engine/commands";
import { lyingOf, movedTo } from "../../engine/reel/placing";
import { useStage, useTime } from "../../panels/engine";
import { useMapping } from "../../panels/mapping";
import { type Change, PlaceHandles } from "../../panels/PlaceHandles";
import { useReel, useReelChoice, useReelLayout } from "./context";

/** Handles of the chosen item, where it lies in the frame, while it is on screen. */
export function PlaceOverlay() {
  const reel = useReel();
  const layout = useReelLayout();
  const mapping = useMapping();
  const frame = useTime((s) => s.frame);
  const playing = useTime((s) => s.playing);
  const hidden = useStage((s) => s.compare !== "off");
  const chosen = useReelChoice((s) => s.chosen);
  const placed = chosen?.kind === "item" && chosen.ids.length === 1 ? layout.items.find((p) => p.item.id === chosen.ids[0]) : undefined;
  if (!mapping || playing || hidden || !placed?.shot || placed.shot.gone || frame < placed.first || frame >= placed.first + placed.frames) return null;
  const { item, shot } = placed;
  const lying = lyingOf(item, shot, layout);
  const commands = (change: Change) => {
    const values: Partial<ReelItem> = {
      ...(change.middle && movedTo(item, shot, layout, change.middle)),
      ...(change.scale !== undefined && { scale: Number(Math.min(Math.max((item.scale ?? 100) * change.scale, 1), 2000).toFixed(1)) }),
      ...(change.turn !== undefined && { turn: Number((((((change.turn + 180) % 360) + 360) % 360) - 180).toFixed(1)) }),
    };
    return Object.entries(values).map(([key, value]) => ({ do: "set" as const, target: target("items", item.id, key), value }));
  };
  return (
    <svg className="pointer-events-none absolute inset-0 h-full w-full" aria-label="Handles of the item">
      <PlaceHandles
        name={shot.name}
        {...lying}
        mapping={mapping}
        onLive={(change) => (change ? reel.document.show(commands(change)) : reel.document.drop())}
        onCommit={(change, words) => void reel.edit(commands(change), `${shot.name} ${words} in the frame`)}
      />
    </svg>
  );
}
