/** What can be done with what is under the pointer, as menus. */
import { join as target } from "../../engine/commands";
import { liftItems, removeStretch } from "../../engine/reel/cutting";
import { addSpan, flash, removeItems, setTransition, split } from "../../engine/reel/edits";
import type { ReelSession } from "../../engine/reel/reel";
import type { Prompts } from "../../ui/prompt";
import type { MenuItem } from "../../ui/menu";
import { benchOf, benchOfItem } from "./context";

type Around = { go: (to: string) => void; askName: Prompts["askName"]; frame: number };

/** The menu of an element of the reel, by what it says it is: an item, a transition, a span, or its time. */
export function menuAt(reel: ReelSession, element: Element, around: Around): MenuItem[] {
  const of = (what: string) => element.closest<HTMLElement>(`[data-${what}]`)?.dataset[what];
  const [span, transition, item] = [of("span"), of("transition"), of("item")];
  if (span) return spanMenu(reel, span, around);
  if (transition) return transitionMenu(reel, transition, around);
  if (item) return itemMenu(reel, item, around);
  return timeMenu(reel, around);
}

function itemMenu(reel: ReelSession, id: string, { go, frame }: Around): MenuItem[] {
  const { chosen } = reel.now;
  if (chosen?.kind !== "item" || !chosen.ids.includes(id)) reel.choose({ kind: "item", ids: [id] });
  const { items } = reel;
  const [placed] = items;
  if (!placed) return [];
  const one = items.length === 1;
  const after = reel.layout.items[reel.layout.items.indexOf(placed) + 1];
  const transition = reel.shown.transitions?.find((j) => j.after === placed.item.id);
  const there = placed.shot && !placed.shot.gone;
  const last = items.at(-1)!;
  return [
    ...(one && there ? [{ name: "Open on the Bench", does: "bench", onSelect: () => go(benchOfItem(reel, placed)) }] : []),
    { name: "Split here", onSelect: () => (reel.go(frame), split(reel)) },
    { name: one ? "Span over it" : "Span over them", does: "span", onSelect: () => addSpan(reel, items) },
    ...(one && after ? (transition ? [{ name: "A plain cut after it", onSelect: () => setTransition(reel, placed.item.id, "cut") }] : [{ name: "Dissolve after it", onSelect: () => setTransition(reel, placed.item.id, "dissolve") }]) : []),
    { name: one ? "In and out around it" : "In and out around them", onSelect: () => reel.mark({ first: placed.first, last: last.first + last.frames - 1 }) },
    "line",
    { name: "Take out: what follows closes up", does: "remove", onSelect: () => removeItems(reel, items) },
    { name: "Take out and leave a gap", aside: "Shift Delete", onSelect: () => liftItems(reel, items) },
  ];
}

function transitionMenu(reel: ReelSession, id: string, { go }: Around): MenuItem[] {
  reel.choose({ kind: "transition", ids: [id] });
  const transition = reel.shown.transitions?.find((j) => j.id === id);
  if (!transition) return [];
  const at = (["before", "centred", "after"] as const).map((place) => ({
    name: { before: "Before the cut", centred: "Centred on the cut", after: "After the cut" }[place],
    checked: (transition.at ?? "centred") === place,
    onSelect: () => void reel.edit([{ do: "set", target: target("transitions", id, "at"), value: place }], `Transition ${place === "centred" ? "centred on" : place} the cut`),
  }));
  return [
    ...(transition.kind === "reveal" ? [{ name: "Open on the Bench", does: "bench", onSelect: () => go(benchOf(reel, "transitions", id)) }] : []),
    ...at,
    "line",
    { name: "A plain cut instead", does: "remove", onSelect: () => setTransition(reel, transition.after, "cut") },
  ];
}

function spanMenu(reel: ReelSession, id: string, { go, askName, frame }: Around): MenuItem[] {
  reel.choose({ kind: "span", ids: [id] });
  const laid = reel.layout.spans.find((s) => s.span.id === id);
  if (!laid) return [];
  const { span } = laid;
  const set = (key: string, value: unknown, words: string) => void reel.edit([{ do: "set", target: target("spans", id, key), value }], words);
  return [
    { name: "Open on the Bench", does: "bench", onSelect: () => go(benchOf(reel, "spans", id)) },
    { name: "Rename…", onSelect: () => askName("Rename the span", span.name, (name) => set("name", name, `Span ${span.name} is now ${name}`)) },
    { name: "Flash here", onSelect: () => (reel.go(frame), flash(reel, laid)) },
    { name: span.on === false ? "Switch on" : "Switch off", onSelect: () => set("on", span.on === false, `${span.name} ${span.on === false ? "on" : "off"}`) },
    { name: "In and out around it", onSelect: () => reel.mark({ first: laid.first, last: laid.last }) },
    "line",
    { name: "Remove", does: "remove", onSelect: () => void reel.edit([{ do: "remove", target: target("spans", id) }], `Span ${span.name} removed`) },
  ];
}

function timeMenu(reel: ReelSession, { frame }: Around): MenuItem[] {
  const { marks } = reel.now;
  return [
    { name: "In here", does: "in", onSelect: () => reel.markEnd("first", frame) },
    { name: "Out here", does: "out", onSelect: () => reel.markEnd("last", frame) },
    ...(marks
      ? [
          { name: "No in and out", aside: "Shift I", onSelect: () => reel.mark(null) },
          "line" as const,
          { name: `Take out in to out (${marks.last - marks.first + 1} frames): what follows closes up`, does: "stretch", onSelect: () => removeStretch(reel, reel.ends.first, reel.ends.last) },
        ]
      : []),
    "line",
    { name: "All of the reel on the ruler", does: "all", onSelect: () => reel.timeline.set({ stretch: null }) },
  ];
}
