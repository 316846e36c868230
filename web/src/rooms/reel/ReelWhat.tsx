import { useReel, useReelChoice, useReelLayout } from "./context";
import { ItemWhat } from "./ItemWhat";
import { TransitionWhat } from "./TransitionWhat";
import { ReelItself } from "./ReelItself";
import { SpanWhat } from "./SpanWhat";

/** What is chosen: an item, a transition, a span, or the reel itself. */
export function ReelWhat() {
  const reel = useReel();
  const chosen = useReelChoice((s) => s.chosen);
  const layout = useReelLayout();
  if (chosen?.kind === "item") {
    const items = layout.items.filter((p) => chosen.ids.includes(p.item.id));
    if (items.length) return <ItemWhat key={chosen.ids.join()} items={items} />;
  }
  if (chosen?.kind === "transition") {
    const transition = reel.shown.transitions?.find((j) => j.id === chosen.ids[0]);
    if (transition) return <TransitionWhat key={transition.id} transition={transition} />;
  }
  if (chosen?.kind === "span") {
    const span = reel.shown.spans?.find((s) => s.id === chosen.ids[0]);
    if (span) return <SpanWhat key={span.id} span={span} />;
  }
  return <ReelItself />;
}
