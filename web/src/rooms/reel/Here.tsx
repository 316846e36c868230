import { GAP } from "../../engine/reel/layout";
import { itemAt, shownAt } from "../../engine/reel/layout";
import { useTime } from "../../panels/engine";
import { useReel, useReelLayout } from "./context";

/** A sentence that says what is here. */
export function Here() {
  const reel = useReel();
  const layout = useReelLayout();
  const frame = useTime((s) => s.frame);
  const here = itemAt(layout, frame);
  if (!here) return <p className="h-[30px] shrink-0 px-3" />;
  const name = (id: string) => (id === GAP ? "a gap" : (reel.view.shots[id]?.name ?? "a shot that is gone"));
  const transition = layout.transitions.find((j) => frame >= j.cut - j.before && frame < j.cut + j.behind);
  const at = transition && layout.items.findIndex((p) => p.item.id === transition.transition.after);
  const [from, to] = at === undefined ? [here, null] : [layout.items[at]!, layout.items[at + 1]!];
  const under = layout.spans.filter((s) => s.span.on !== false && frame >= s.first && frame <= s.last);
  return (
    <p aria-live="off" aria-label="What is here" className="h-[30px] shrink-0 truncate px-3 leading-[30px] text-quiet">
      Here: <b className="text-ink">{name(from.item.shot)}</b>
      {from.shot?.gone && " (gone: a gap stands in its place)"}
      {to && transition && (
        <>
          {" "}
          giving way to <b className="text-ink">{name(to.item.shot)}</b>, {frame - (transition.cut - transition.before) + 1} of {transition.before + transition.behind} frames
          {(transition.heldOut > 0 || transition.heldIn > 0) && ", edge frames held"}
        </>
      )}
      {!to && from.shot && `, frame ${shownAt(here, layout.fps, frame - here.first)} of its footage`}
      {under.map((s) => (
        <span key={s.span.id}>
          {" · under the span "}
          <b className="text-ink">{s.span.name}</b>
        </span>
      ))}
    </p>
  );
}
