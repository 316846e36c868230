
import { HelpButton } from "../../panels/HelpButton";
import { useCatalogue } from "../../api/queries";
import type { ParamInfo } from "../../api/types";
import { liftItems, slip } from "../../engine/reel/cutting";
import { addSpan, conformWords, removeItems, setTransition, split, trim } from "../../engine/reel/edits";
import { GAP, type Placed } from "../../engine/reel/layout";
import { Button, Heading } from "../../ui/basics";
import { PlaceField } from "../../panels/TimeField";
import { benchOfItem, useReel, useReelLayout } from "./context";
import { OnBench } from "./OnBench";
import { OwnLook } from "./OwnLook";
import { named, Row } from "./Row";

const PLACE = ["fit", "across", "down", "scale", "turn", "behind", "mirror_across", "mirror_down"];
const SOUND = ["heard", "gain", "fade_in", "fade_out"];

/** How an item is cut, how it lies in the frame, how it is heard. */
export function ItemWhat({ items }: { items: Placed[] }) {
  const reel = useReel();
  const layout = useReelLayout();
  const { data } = useCatalogue();
  const filled = items.filter((p) => p.item.shot !== GAP);
  const [first] = filled;
  if (!first) return <GapWhat gaps={items} />;
  const { item, shot } = first;
  const alone = items.length === 1;
  const ids = filled.map((p) => p.item.id);
  const name = alone ? (shot?.name ?? "A shot that is gone") : `${items.length} items`;
  const uses = layout.items.filter((p) => p.item.shot === item.shot).length;
  const words = conformWords(shot, layout.fps);
  const value = (key: string) => (item as unknown as Record<string, unknown>)[key];
  const row = (info: ParamInfo) => <Row key={info.key} list="items" ids={ids} info={info} value={value(info.key)} about={name} />;
  return (
    <>
      <Title name={name} kind={alone ? "item" : "chosen"} />
      {alone && uses > 1 && <p className="text-quiet">Used {uses === 2 ? "twice" : `${uses} times`} in the reel: a change of its look shows in all</p>}
      {alone && <Frames placed={first} />}
      {shot?.gone && <p className="mt-1 border border-strong px-2 py-1">This shot was removed from the project: a gap stands in its place. Restored, it is back here too.</p>}
      {words && <p className="mt-1 text-quiet">{words}</p>}
      <div className="mt-2 flex flex-wrap gap-1.5">
        {alone && shot && !shot.gone && (
          <OnBench hint="At these frames of it" to={benchOfItem(reel, first)} />
        )}
        {alone && uses > 1 && <OwnLook placed={first} />}
        <Acts items={items} />
        <Button title="A gap as long as it stays in its place (Shift Delete)" onClick={() => liftItems(reel, items)}>
          Leave a gap
        </Button>
      </div>
      <Heading>In the frame</Heading>
      {named(data?.reel_item, PLACE).map(row)}
      <Heading>Sound</Heading>
      {filled.every((p) => p.shot && !p.shot.sound) ? <p className="text-quiet">It has none.</p> : named(data?.reel_item, SOUND).map(row)}
    </>
  );
}

/** Places in which nothing but what is behind is seen. */
function GapWhat({ gaps }: { gaps: Placed[] }) {
  const { data } = useCatalogue();
  const alone = gaps.length === 1;
  const name = alone ? "Gap" : `${gaps.length} gaps`;
  return (
    <>
      <Title name={name} kind={alone ? "item" : "chosen"} />
      <p className="text-quiet">
        Nothing is seen but what is behind
        {alone && (
          <>
            , for <Length placed={gaps[0]!} />
          </>
        )}
      </p>
      <div className="mt-2 flex flex-wrap gap-1.5">
        <Acts items={gaps} />
      </div>
      <Heading>What is seen</Heading>
      {named(data?.reel_item, ["behind"]).map((info) => (
        <Row key={info.key} list="items" ids={gaps.map((p) => p.item.id)} info={info} value={gaps[0]!.item.behind} about={name} />
      ))}
    </>
  );
}

const Title = ({ name, kind }: { name: string; kind: string }) => (
  <div className="flex items-baseline justify-between pt-2">
    <h2 className="min-w-0 truncate text-[18px] font-bold">{name}</h2>
    <span className="flex items-baseline gap-0.5 text-quiet">
      {kind} <HelpButton of="Item" page="reel" part="cut" />
    </span>
  </div>
);

/** What can be done with all that is chosen, be it a shot or a gap. */
function Acts({ items }: { items: Placed[] }) {
  const reel = useReel();
  const { items: all } = useReelLayout();
  const [one] = items.length === 1 ? items : [];
  const next = one && all[all.findIndex((p) => p.item.id === one.item.id) + 1];
  return (
    <>
      {one && (
        <Button title="Two items of one, cut at the playhead" does="split" onClick={() => split(reel)}>
          Split
        </Button>
      )}
      <Button title="A look over all that is chosen" does="span" onClick={() => addSpan(reel, items)}>
        Span over it
      </Button>
      {one && next && !reel.shown.transitions?.some((j) => j.after === one.item.id) && (
        <Button title="Dissolve into what comes next (X at the cut)" onClick={() => setTransition(reel, one.item.id, "dissolve")}>
          Dissolve after it
        </Button>
      )}
      <Button title="What follows closes up (Delete)" onClick={() => removeItems(reel, items)}>
        Take out
      </Button>
    </>
  );
}

/** A number of an item's frames, typed in any form. */
function Field({ placed, label, value, onPlace }: { placed: Placed; label: string; value: number; onPlace: (to: number) => void }) {
  return <PlaceField label={label} told={String(value)} rate={placed.rate[0] / placed.rate[1]} now={value} onPlace={onPlace} />;
}

function Length({ placed }: { placed: Placed }) {
  const reel = useReel();
  const length = placed.item.last - placed.item.first + 1;
  return (
    <>
      <Field placed={placed} label="Length of the item" value={length} onPlace={(to) => trim(reel, [placed], "last", Math.max(to, 1) - length)} /> {length === 1 ? "frame" : "frames"}
    </>
  );
}

/** Which frames of its shot an item shows, and how long it is. */
function Frames({ placed }: { placed: Placed }) {
  const reel = useReel();
  const { item } = placed;
  return (
    <>
      <p className="flex flex-wrap items-center gap-x-1.5 text-quiet">
        from <Field placed={placed} label="First frame of the item" value={item.first} onPlace={(to) => trim(reel, [placed], "first", to - item.first)} />
        to <Field placed={placed} label="Last frame of the item" value={item.last} onPlace={(to) => trim(reel, [placed], "last", to - item.last)} />
        <span className="ml-auto">
          <Length placed={placed} />
        </span>
      </p>
      <p className="mt-1 flex items-center justify-between text-quiet">
        Slip within its place
        <span className="flex gap-1">
          <Button aria-label="Slip a frame earlier" title="The same place shows a frame earlier (Shift H)" onClick={() => slip(reel, [placed], -1)}>
            ‹
          </Button>
          <Button aria-label="Slip a frame later" title="The same place shows a frame later (H); drag the item with Alt" onClick={() => slip(reel, [placed], 1)}>
            ›
          </Button>
        </span>
      </p>
    </>
  );
}
