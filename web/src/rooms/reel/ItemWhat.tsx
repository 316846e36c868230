import { Link } from "react-router";

import { useCatalogue } from "../../api/queries";
import { GAP, liftItems, slip } from "../../engine/reel/cutting";
import { addSpan, conformWords, removeItems, setTransition, split, trim } from "../../engine/reel/edits";
import type { Placed } from "../../engine/reel/layout";
import { Button, Heading } from "../../ui/basics";
import { PlaceField } from "../../panels/TimeField";
import { benchOfItem, useReel, useReelLayout } from "./context";
import { OwnLook } from "./OwnLook";
import { named, Row } from "./Row";

const PLACE = ["fit", "across", "down", "scale", "turn", "behind", "mirror_across", "mirror_down"];
const SOUND = ["heard", "gain", "fade_in", "fade_out"];

/** How an item is cut, how it lies in the frame, how it is heard. */
export function ItemWhat({ items }: { items: Placed[] }) {
  const reel = useReel();
  const layout = useReelLayout();
  const { data } = useCatalogue();
  const [first] = items;
  const { item, shot } = first!;
  const ids = items.map((p) => p.item.id);
  const gap = item.shot === GAP;
  const name = items.length > 1 ? `${items.length} items` : (shot?.name ?? (gap ? "Gap" : "A shot that is gone"));
  const uses = layout.items.filter((p) => p.item.shot === item.shot).length;
  const at = layout.items.findIndex((p) => p.item.id === item.id);
  const next = layout.items[at + 1];
  const words = conformWords(shot, layout.fps);
  const value = (key: string) => (item as unknown as Record<string, unknown>)[key];
  return (
    <>
      <div className="flex items-baseline justify-between pt-2">
        <h2 className="min-w-0 truncate text-[18px] font-bold">{name}</h2>
        <span className="text-quiet">{items.length > 1 ? "chosen" : "item"}</span>
      </div>
      {items.length === 1 && (
        <p className="text-quiet">
          {gap && "Nothing but what is behind, for so many frames"}
          {uses > 1 && !gap && `Used ${uses === 2 ? "twice" : `${uses} times`} in the reel: a change of its look shows in all`}
        </p>
      )}
      {items.length === 1 && <Frames placed={first!} gap={gap} />}
      {shot?.gone && <p className="mt-1 border border-strong px-2 py-1">This shot was removed from the project: a gap stands in its place. Restored, it is back here too.</p>}
      {words && <p className="mt-1 text-quiet">{words}</p>}
      <div className="mt-2 flex flex-wrap gap-1.5">
        {items.length === 1 && shot && !shot.gone && (
          <Link className="inline-flex h-[26px] items-center border border-strong px-2.5 font-medium hover:border-ink" title="At these frames of it (E)" to={benchOfItem(reel, first!)}>
            Open on the Bench
          </Link>
        )}
        {items.length === 1 && uses > 1 && !gap && <OwnLook placed={first!} />}
        {items.length === 1 && <Button title="Two items of one, cut at the playhead (S)" onClick={() => split(reel)}>Split</Button>}
        <Button title="A look over all that is chosen (U)" onClick={() => addSpan(reel, items)}>
          Span over it
        </Button>
        {next && items.length === 1 && !reel.shown.transitions?.some((j) => j.after === item.id) && (
          <Button title="Dissolve into what comes next (X at the cut)" onClick={() => setTransition(reel, item.id, "dissolve")}>
            Dissolve after it
          </Button>
        )}
        <Button title="What follows closes up (Delete)" onClick={() => removeItems(reel, items)}>
          Take out
        </Button>
        {!gap && (
          <Button title="A gap as long as it stays in its place (Shift Delete)" onClick={() => liftItems(reel, items)}>
            Leave a gap
          </Button>
        )}
      </div>
      <Heading>{gap ? "What is seen" : "In the frame"}</Heading>
      {named(data?.reel_item, gap ? ["behind"] : PLACE).map((info) => (
        <Row key={info.key} list="items" ids={ids} info={info} value={value(info.key)} about={name} />
      ))}
      {!gap && <Heading>Sound</Heading>}
      {gap ? null : items.every((p) => p.shot && !p.shot.sound) ? (
        <p className="text-quiet">It has none.</p>
      ) : (
        named(data?.reel_item, SOUND).map((info) => <Row key={info.key} list="items" ids={ids} info={info} value={value(info.key)} about={name} />)
      )}
    </>
  );
}

/** Which frames of its shot an item shows, and how long it is: typed in any form. */
function Frames({ placed, gap }: { placed: Placed; gap: boolean }) {
  const reel = useReel();
  const { item } = placed;
  const rate = placed.rate[0] / placed.rate[1];
  const length = item.last - item.first + 1;
  const field = (label: string, value: number, onPlace: (to: number) => void) => <PlaceField label={label} told={String(value)} rate={rate} now={value} onPlace={onPlace} />;
  return (
    <p className="flex flex-wrap items-center gap-x-1.5 text-quiet">
      {!gap && (
        <>
          from {field("First frame of the item", item.first, (to) => trim(reel, [placed], "first", to - item.first))}
          to {field("Last frame of the item", item.last, (to) => trim(reel, [placed], "last", to - item.last))}:
        </>
      )}
      {field("Length of the item", length, (to) => trim(reel, [placed], "last", Math.max(to, 1) - length))} {length === 1 ? "frame" : "frames"}
      {!gap && (
        <span className="ml-auto flex">
          <Button look="plain" aria-label="Slip a frame earlier" title="The same place shows a frame earlier (Shift H)" onClick={() => slip(reel, [placed], -1)}>
            ‹
          </Button>
          slip
          <Button look="plain" aria-label="Slip a frame later" title="The same place shows a frame later (H); drag the item with Alt" onClick={() => slip(reel, [placed], 1)}>
            ›
          </Button>
        </span>
      )}
    </p>
  );
}
