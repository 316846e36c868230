import { Link, useParams } from "react-router";

import { useCatalogue } from "../../api/queries";
import { addSpan, conformWords, removeItems, setTransition, split } from "../../engine/reel/edits";
import type { Placed } from "../../engine/reel/layout";
import { Button, Heading } from "../../ui/basics";
import { useReel, useReelLayout } from "./context";
import { OwnLook } from "./OwnLook";
import { named, Row } from "./Row";

const PLACE = ["fit", "across", "down", "scale", "turn", "behind", "mirror_across", "mirror_down"];
const SOUND = ["heard", "gain", "fade_in", "fade_out"];

/** How an item is cut, how it lies in the frame, how it is heard. */
export function ItemWhat({ items }: { items: Placed[] }) {
  const reel = useReel();
  const { projectId } = useParams();
  const layout = useReelLayout();
  const { data } = useCatalogue();
  const [first] = items;
  const { item, shot } = first!;
  const ids = items.map((p) => p.item.id);
  const name = items.length > 1 ? `${items.length} items` : (shot?.name ?? "A shot that is gone");
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
          Frames {item.first} to {item.last}
          {uses > 1 && `; used ${uses === 2 ? "twice" : `${uses} times`} in the reel: a change of its look shows in all`}
        </p>
      )}
      {shot?.gone && <p className="mt-1 border border-strong px-2 py-1">This shot was removed from the project: a gap stands in its place. Restored, it is back here too.</p>}
      {words && <p className="mt-1 text-quiet">{words}</p>}
      <div className="mt-2 flex flex-wrap gap-1.5">
        {items.length === 1 && shot && !shot.gone && (
          <Link className="inline-flex h-[26px] items-center border border-strong px-2.5 font-medium hover:border-ink" to={`/projects/${projectId}/shots/${item.shot}`}>
            Open on the Bench
          </Link>
        )}
        {items.length === 1 && uses > 1 && <OwnLook placed={first!} />}
        {items.length === 1 && <Button title="Two items of one, cut at the playhead (S)" onClick={() => split(reel)}>Split</Button>}
        <Button title="A look over all that is chosen (U)" onClick={() => addSpan(reel, items, "New span")}>
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
      </div>
      <Heading>In the frame</Heading>
      {named(data?.reel_item, PLACE).map((info) => (
        <Row key={info.key} list="items" ids={ids} info={info} value={value(info.key)} about={name} />
      ))}
      <Heading>Sound</Heading>
      {items.every((p) => p.shot && !p.shot.sound) ? (
        <p className="text-quiet">It has none.</p>
      ) : (
        named(data?.reel_item, SOUND).map((info) => <Row key={info.key} list="items" ids={ids} info={info} value={value(info.key)} about={name} />)
      )}
    </>
  );
}
