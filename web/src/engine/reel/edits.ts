/** What is done to a reel: each an edit of commands, with words for the history. */
import type { Command, Look, ReelTransition, ReelSpan, StandingShot } from "../../api/types";
import { join as target } from "../commands";
import { cutIn, nameOf, splitCommands } from "./cutting";
import { itemAt, shownAt, type Laid, type Placed } from "./layout";
import type { ReelSession } from "./reel";

const TRANSITION = 24; // frames of a new transition
const FLASH = 12;

const set = (at: string, value: unknown): Command => ({ do: "set", target: at, value });

/** Items taken out; what follows closes up. Spans that end on them end on their neighbours. */
export function removeItems(engine: ReelSession, gone: Placed[]) {
  if (!gone.length) return;
  const ids = new Set(gone.map((p) => p.item.id));
  const { items, spans } = engine.layout;
  const commands: Command[] = gone.map((p) => ({ do: "remove", target: target("items", p.item.id) }));
  for (const { span } of spans) {
    const within = items.slice(items.findIndex((p) => p.item.id === span.start.item), items.findIndex((p) => p.item.id === span.end.item) + 1).filter((p) => !ids.has(p.item.id));
    if (ids.has(span.start.item) && within.length) commands.push(set(target("spans", span.id, "start"), { item: within[0]!.item.id, frame: within[0]!.item.first }));
    if (ids.has(span.end.item) && within.length) commands.push(set(target("spans", span.id, "end"), { item: within.at(-1)!.item.id, frame: within.at(-1)!.item.last }));
  }
  void engine.edit(commands, gone.length === 1 ? `${nameOf(engine, gone[0]!.item)} taken out of the reel` : `${gone.length} items taken out of the reel`);
}

/** Items moved together before another, to the end where null; they keep their order. */
export function moveItems(engine: ReelSession, ids: readonly string[], before: string | null) {
  const order = engine.layout.items.map((p) => p.item);
  const moved = order.filter((item) => ids.includes(item.id));
  const from = before === null ? order.length : order.findIndex((item) => item.id === before);
  const stays = order.slice(from).find((item) => !moved.includes(item))?.id ?? null; // one that moves itself is no place
  const others = order.filter((item) => !moved.includes(item));
  const at = stays === null ? others.length : others.findIndex((item) => item.id === stays);
  if (others.toSpliced(at, 0, ...moved).every((item, n) => item === order[n])) return;
  const commands = moved.map((item): Command => ({ do: "move", target: target("items", item.id), before: stays }));
  void engine.edit(commands, moved.length === 1 ? `${nameOf(engine, moved[0]!)} moved` : `${moved.length} items moved`);
}

/** The chosen item one place earlier or later. */
export function nudgeItem(engine: ReelSession, by: 1 | -1) {
  const [placed] = engine.items;
  if (!placed) return;
  const { items } = engine.layout;
  const at = items.indexOf(placed);
  if (at + by < 0 || at + by >= items.length) return;
  engine.choose({ kind: "item", ids: [placed.item.id] });
  moveItems(engine, [placed.item.id], items[by < 0 ? at - 1 : at + 2]?.item.id ?? null);
}

/** What makes an item begin or end so many frames of its shot later. */
export function trimCommands({ item, shot }: Placed, edge: "first" | "last", by: number): Command[] {
  const most = shot && !shot.still ? shot.length - 1 : 1_000_000;
  const value = edge === "first" ? Math.min(Math.max(item.first + by, 0), item.last) : Math.max(Math.min(item.last + by, most), item.first);
  return [set(target("items", item.id, edge), value)];
}

/** Chosen items that begin or end so many frames of their shots later, all alike. */
export function trim(engine: ReelSession, items: readonly Placed[], edge: "first" | "last", by: number) {
  const [one] = items;
  if (!one) return;
  const told = items.length === 1 ? nameOf(engine, one.item) : `${items.length} items`;
  const verb = `${edge === "first" ? "begin" : "end"}${items.length === 1 ? "s" : ""}`;
  void engine.edit(items.flatMap((placed) => trimCommands(placed, edge, by)), `${told}: ${verb} ${Math.abs(by)} ${Math.abs(by) === 1 ? "frame" : "frames"} ${by > 0 ? "later" : "earlier"}`);
}

/** Two items of one, cut before the frame on screen. */
export function split(engine: ReelSession) {
  const { layout, timeline } = engine;
  const here = itemAt(layout, timeline.frame);
  if (!here) return;
  const cut = cutIn(engine, here, timeline.frame);
  if (cut === null) return engine.around.say("There is a cut here already.");
  const id = engine.around.newId();
  void engine.edit(splitCommands(engine, here, cut, id), `${nameOf(engine, here.item)} split at frame ${cut}`);
  engine.choose({ kind: "item", ids: [id] });
}

/** The cut nearest the frame on screen, as the item before it. */
export function nearestCut(engine: ReelSession): Placed | null {
  const { items } = engine.layout;
  const far = (p: Placed) => Math.abs(p.first + p.frames - engine.timeline.frame);
  return items.slice(0, -1).reduce<Placed | null>((best, p) => (best && far(best) <= far(p) ? best : p), null);
}

/** What stands at a cut after an item: a plain cut, a dissolve, or a reveal through a selection. */
export function setTransition(engine: ReelSession, after: string, kind: "cut" | "dissolve" | "reveal", reveal: Partial<ReelTransition> = {}) {
  const transition = engine.shown.transitions?.find((j) => j.after === after);
  if (kind === "cut") {
    if (!transition) return;
    void engine.edit([{ do: "remove", target: target("transitions", transition.id) }], "A plain cut");
    return engine.around.say(`The ${transition.kind ?? "dissolve"} is gone: a plain cut.`, { action: { name: "Undo", run: () => void engine.step("undo") } });
  }
  const words = kind === "dissolve" ? "Dissolve" : "Reveal";
  const id = transition?.id ?? engine.around.newId();
  if (transition) void engine.edit([...Object.entries(reveal).map(([key, value]) => set(target("transitions", id, key), value)), set(target("transitions", id, "kind"), kind)], words);
  else void engine.edit([{ do: "add", target: "transitions", value: { id, after, kind, frames: TRANSITION, ...reveal } }], words);
  engine.choose({ kind: "transition", ids: [id] });
}

/** The next kind of transition at the cut that is nearest: a plain cut, a dissolve, and so on. */
export function nextTransition(engine: ReelSession) {
  const cut = nearestCut(engine);
  if (!cut) return engine.around.say("There is no cut yet: a transition stands between two items.");
  setTransition(engine, cut.item.id, engine.shown.transitions?.some((j) => j.after === cut.item.id) ? "cut" : "dissolve");
}

/** A span over items: an empty look, to be worked on, or one that there is. */
export function addSpan(engine: ReelSession, over: Placed[], called: string | null = null, look: Look | null = null) {
  const [start, end] = [over[0], over.at(-1)];
  if (!start || !end) return engine.around.say("Choose the items that the span is to lie over.");
  const name = called ?? freeName((engine.shown.spans ?? []).map((span) => span.name), over.length === 1 ? `Over ${nameOf(engine, start.item)}` : `Over ${over.length} items`);
  const id = engine.around.newId();
  const value = { id, name, start: { item: start.item.id, frame: start.item.first }, end: { item: end.item.id, frame: end.item.last }, ...(look ? { look } : {}) };
  void engine.edit([{ do: "add", target: "spans", value }], `Span ${name}`);
  engine.choose({ kind: "span", ids: [id] });
}

/** A name that is not taken yet: itself, or with a number. */
export function freeName(taken: readonly string[], name: string): string {
  const tried = (n: number) => (n === 1 ? name.slice(0, 76) : `${name.slice(0, 76)} ${n}`);
  let n = 1;
  while (taken.includes(tried(n))) n++;
  return tried(n);
}

/** Where a frame of the reel lies, as spans name it. */
export function placeAt(engine: ReelSession, frame: number): ReelSpan["start"] | null {
  const { layout } = engine;
  const at = Math.min(Math.max(frame, 0), layout.length - 1);
  const here = itemAt(layout, at);
  return here && { item: here.item.id, frame: shownAt(here, layout.fps, at - here.first) };
}

/** What makes a span begin, end or lie elsewhere. */
export function spanCommands(engine: ReelSession, { span }: Laid, to: { first?: number; last?: number }): Command[] {
  const [start, end] = [to.first === undefined ? null : placeAt(engine, to.first), to.last === undefined ? null : placeAt(engine, to.last)];
  return [...(start ? [set(target("spans", span.id, "start"), start)] : []), ...(end ? [set(target("spans", span.id, "end"), end)] : [])];
}

/** 0 → 100 → 0 % over some frames at the playhead, or all of the span where it is shorter. */
export function flash(engine: ReelSession, { span, first, last }: Laid, frames = FLASH) {
  const top = Math.min(Math.max(engine.timeline.frame - first, 0), last - first);
  const keys = new Map<number, number>([
    [Math.max(0, top - Math.floor(frames / 2)), 0],
    [Math.min(last - first, top + Math.ceil(frames / 2)), 0],
    [top, 100],
  ]);
  const amounts = [...keys].sort(([a], [b]) => a - b).map(([frame, value]) => ({ frame, value, how: "linear" }));
  void engine.edit([set(target("spans", span.id, "amounts"), amounts)], `${span.name}: a flash at frame ${engine.timeline.frame}`);
}

/** The frames at which items begin, and the last one of all. */
export const cutsOf = (engine: ReelSession) => [...engine.layout.items.map((p) => p.first), engine.layout.length - 1];

export function toCut(engine: ReelSession, direction: 1 | -1) {
  const cuts = cutsOf(engine);
  const next = direction > 0 ? cuts.find((c) => c > engine.timeline.frame) : cuts.findLast((c) => c < engine.timeline.frame);
  if (next !== undefined) engine.go(next);
}

/** How a shot's rate and size come into the reel, in words; empty where they fit. */
export function conformWords(shot: StandingShot | null, fps: string): string {
  if (!shot || shot.still || shot.fps === fps) return "";
  const told = (rate: string) => (rate.includes("/") ? (Number(rate.split("/")[0]) / Number(rate.split("/")[1])).toFixed(3) : rate);
  return `${told(shot.fps)} → ${told(fps)} frames a second: each frame shows the nearest in time, nothing runs faster or slower.`;
}
