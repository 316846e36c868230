/** How film is cut: what goes in at the playhead or in place of what is there, both sides of a cut at once, what an item shows within its place. */
import type { Command, ReelDocument, ReelItem } from "../../api/types";
import { applyCommands, join as target } from "../commands";
import { equal } from "../equal";
import { conformed, GAP, itemAt, layoutOf, ratio, shownAt, type Placed } from "./layout";
import type { ReelSession } from "./reel";

/** A shot and its frames, as it goes into a reel. */
export type Piece = { shot: string; first: number; last: number };

const set = (at: string, value: unknown): Command => ({ do: "set", target: at, value });
export const nameOf = (engine: ReelSession, item: ReelItem) => (item.shot === GAP ? "Gap" : (engine.view.shots[item.shot]?.name ?? "An item"));
/** A reel as it lies, with or without a room around it. */
type Lying = Pick<ReelSession, "shown" | "layout">;
/** The reel as it is stored, without the gesture under way: what a gesture is measured from. */
const stored = (engine: ReelSession): Lying => {
  const { stored: shown } = engine.document;
  return shown === engine.shown ? engine : { shown, layout: layoutOf(shown, engine.view.shots) };
};
const nextOf = (engine: Lying, id: string) => engine.layout.items[engine.layout.items.findIndex((p) => p.item.id === id) + 1] ?? null;
/** The last frame that an item may have. */
const mostOf = ({ shot }: Placed) => (shot && !shot.still ? shot.length - 1 : 1_000_000);
const counted = (n: number, one: string) => `${n} ${n === 1 ? one : `${one}s`}`;

/** Where in an item it would be cut for a frame of the reel: the first frame of its second half. Null where there is a cut already. */
export function cutIn(engine: Lying, here: Placed, frame: number): number | null {
  const cut = shownAt(here, engine.layout.fps, frame - here.first);
  return frame === here.first || cut <= here.item.first || cut > here.item.last ? null : cut;
}

/** What makes two items of one. A transition after it stays at its end, and so do spans. */
export function splitCommands(engine: Lying, { item }: Placed, cut: number, id: string): Command[] {
  const transition = engine.shown.transitions?.find((j) => j.after === item.id);
  const ends = (engine.shown.spans ?? []).flatMap((span) =>
    (["start", "end"] as const).filter((end) => span[end].item === item.id && span[end].frame >= cut).map((end) => set(target("spans", span.id, end, "item"), id)),
  );
  return [
    { do: "add", target: "items", value: { ...item, id, first: cut, fade_in: 0 }, before: nextOf(engine, item.id)?.item.id ?? null },
    set(target("items", item.id, "last"), cut - 1),
    ...(item.fade_out ? [set(target("items", item.id, "fade_out"), 0)] : []),
    ...(transition ? [set(target("transitions", transition.id, "after"), id)] : []),
    ...ends,
  ];
}

/** Shots put in before an item, or at the end. */
export async function addPieces(engine: ReelSession, pieces: readonly Piece[], before: string | null, first: Command[] = [], words = "put into the reel") {
  if (!pieces.length) return;
  const made = pieces.map((piece) => ({ id: engine.around.newId(), ...piece }));
  const name = made.length === 1 ? (engine.view.shots[made[0]!.shot]?.name ?? "A shot") : counted(made.length, "shot");
  await engine.edit([...first, ...made.map((value): Command => ({ do: "add", target: "items", value, before }))], `${name} ${words}`);
  engine.choose({ kind: "item", ids: made.map((one) => one.id) });
  const placed = engine.layout.items.find((p) => p.item.id === made[0]!.id);
  if (placed) engine.go(placed.first);
}

/** Shots put in at the playhead: an item that is there is cut, and what follows moves on. */
export function insertPieces(engine: ReelSession, pieces: readonly Piece[]) {
  const here = itemAt(engine.layout, engine.timeline.frame);
  const cut = here && cutIn(engine, here, engine.timeline.frame);
  if (!here) return addPieces(engine, pieces, null);
  if (cut === null) return addPieces(engine, pieces, here.item.id, [], "put in at the playhead");
  const id = engine.around.newId();
  return addPieces(engine, pieces, id, splitCommands(engine, here, cut, id), "put in at the playhead");
}

/** A shot in place of the item at the playhead, for as long as that lasts; a shorter one ends earlier. Spans keep their place. */
export async function replaceWith(engine: ReelSession, piece: Piece) {
  const { layout, timeline, view } = engine;
  const here = itemAt(layout, timeline.frame);
  const shot = view.shots[piece.shot];
  if (!here || !shot) return engine.around.say("There is no item at the playhead to be replaced.");
  const rate = ratio(shot.fps);
  const inShot = (frames: number) => conformed(frames, ratio(layout.fps), rate);
  const last = Math.min(piece.first + Math.max(inShot(here.frames), 1) - 1, shot.still ? Infinity : shot.length - 1);
  const at = (frame: number) => Math.min(piece.first + inShot(frame - here.first), last);
  const spans = layout.spans.flatMap(({ span, first, last: end }) => [
    ...(span.start.item === here.item.id ? [set(target("spans", span.id, "start", "frame"), at(first))] : []),
    ...(span.end.item === here.item.id ? [set(target("spans", span.id, "end", "frame"), at(end))] : []),
  ]);
  const item = (key: string, value: unknown) => set(target("items", here.item.id, key), value);
  const before = engine.layout.length;
  await engine.edit([item("shot", piece.shot), item("first", piece.first), item("last", last), ...spans], `${nameOf(engine, here.item)} replaced by ${shot.name}`);
  const shorter = before - engine.layout.length;
  if (shorter > 0) engine.around.say(`“${shot.name}” is over ${counted(shorter, "frame")} earlier: what follows moved up.`);
  engine.choose({ kind: "item", ids: [here.item.id] });
}

/** What moves a cut by frames of the reel: what goes ends later, what comes begins later, and nothing else moves. */
export function rollCommands(engine: ReelSession, before: Placed, by: number): Command[] {
  const lying = stored(engine);
  const after = nextOf(lying, before.item.id);
  if (!after) return [];
  const { layout, shown } = lying;
  const out = conformed(by, ratio(layout.fps), before.rate);
  const into = conformed(by, ratio(layout.fps), after.rate);
  const last = Math.min(Math.max(before.item.last + out, before.item.first), mostOf(before));
  const first = Math.min(Math.max(after.item.first + into, 0), after.item.last);
  const commands = (l: number, f: number) => [set(target("items", before.item.id, "last"), l), set(target("items", after.item.id, "first"), f)];
  const same = [before, after].every(({ rate: [n, d] }) => n / d === layout.rate);
  if (same) {
    const least = out < 0 ? Math.max(last - before.item.last, first - after.item.first) : Math.min(last - before.item.last, first - after.item.first);
    return commands(before.item.last + least, after.item.first + least);
  }
  // Other rates meet at some frames only: of those near by, one at which all that follows stays where it is.
  const far = (l: number, f: number) => Math.abs(l - last) + Math.abs(f - first);
  const near = [0, -1, 1, -2, 2].flatMap((a) => [0, -1, 1, -2, 2].map((b) => [last + a, first + b] as const)).sort(([a, b], [c, d]) => far(a, b) - far(c, d));
  const fits = near.find(([l, f]) => {
    if (l < before.item.first || l > mostOf(before) || f < 0 || f > after.item.last) return false;
    return layoutOf(applyCommands(shown, commands(l, f)) as ReelDocument, engine.view.shots).length === layout.length;
  });
  return fits ? commands(...fits) : [];
}

export function roll(engine: ReelSession, before: Placed, by: number) {
  const commands = rollCommands(engine, before, by);
  const { shown } = stored(engine);
  if (equal(applyCommands(shown, commands), shown)) return engine.around.say("The footage ends here: this cut cannot be moved further.");
  return void engine.edit(commands, `Cut after ${nameOf(engine, before.item)} moved ${counted(Math.abs(by), "frame")} ${by > 0 ? "later" : "earlier"}`);
}

/** What makes items show frames that lie so many of their own later, within the same places. What lies over them keeps its place too. */
export function slipCommands(engine: ReelSession, items: readonly Placed[], by: number): Command[] {
  return items.flatMap((placed) => {
    const { item } = placed;
    const way = Math.min(Math.max(by, -item.first), mostOf(placed) - item.last);
    if (!way || item.shot === GAP) return [];
    const spans = (engine.document.stored.spans ?? []).flatMap((span) =>
      (["start", "end"] as const).filter((end) => span[end].item === item.id).map((end) => set(target("spans", span.id, end, "frame"), Math.max(span[end].frame + way, 0))),
    );
    return [set(target("items", item.id, "first"), item.first + way), set(target("items", item.id, "last"), item.last + way), ...spans];
  });
}

export function slip(engine: ReelSession, items: readonly Placed[], by: number) {
  const commands = slipCommands(engine, items, by);
  if (!commands.length) return engine.around.say(items.length ? `There is no footage ${by > 0 ? "after" : "before"} what is shown here.` : "Choose an item whose frames are to be slipped.");
  return void engine.edit(commands, `${items.length === 1 ? nameOf(engine, items[0]!.item) : counted(items.length, "item")}: shows ${counted(Math.abs(by), "frame")} ${by > 0 ? "later" : "earlier"}`);
}

/** What leaves gaps as long as items are in their places. */
export function liftItems(engine: ReelSession, gone: readonly Placed[]) {
  const left = gone.filter((p) => p.item.shot !== GAP);
  const commands = left.flatMap((p) => [
    set(target("items", p.item.id, "shot"), GAP),
    set(target("items", p.item.id, "first"), 0),
    set(target("items", p.item.id, "last"), p.frames - 1),
    ...engine.layout.spans.flatMap(({ span, first, last }) => [
      ...(span.start.item === p.item.id ? [set(target("spans", span.id, "start", "frame"), first - p.first)] : []),
      ...(span.end.item === p.item.id ? [set(target("spans", span.id, "end", "frame"), last - p.first)] : []),
    ]),
  ]);
  if (commands.length) void engine.edit(commands, left.length === 1 ? `A gap in place of ${nameOf(engine, left[0]!.item)}` : `${left.length} gaps in place of items`);
}

/** What lies from one frame of the reel to another is taken out, and what follows closes up. Spans that end in it end beside it. */
export function removeStretch(engine: ReelSession, first: number, last: number) {
  const { layout } = engine;
  if (first <= 0 && last >= layout.length - 1) return engine.around.say("That is all of the reel: choose the items instead.");
  const commands: Command[] = [];
  for (const placed of layout.items) {
    const end = placed.first + placed.frames - 1;
    if (end < first || placed.first > last) continue;
    const { item } = placed;
    const head = first > placed.first ? shownAt(placed, layout.fps, first - placed.first) - 1 : null;
    const tail = last < end ? shownAt(placed, layout.fps, last + 1 - placed.first) : null;
    if (head === null && tail === null) commands.push({ do: "remove", target: target("items", item.id) });
    else if (head !== null && tail !== null) {
      const id = engine.around.newId();
      commands.push(...splitCommands(engine, placed, tail, id), set(target("items", item.id, "last"), Math.max(head, item.first)));
    } else commands.push(head !== null ? set(target("items", item.id, "last"), Math.max(head, item.first)) : set(target("items", item.id, "first"), Math.min(tail!, item.last)));
  }
  // Spans whose ends would be gone: from the first item that is left, to the last one.
  const gone = new Set(commands.flatMap((c) => (c.do === "remove" ? [c.target] : [])));
  const left = layout.items.filter((p) => !gone.has(target("items", p.item.id)));
  for (const { span, first: begins, last: ends } of layout.spans) {
    const after = left.find((p) => p.first + p.frames > last && p.first <= ends);
    const before = left.findLast((p) => p.first < first && p.first + p.frames > begins);
    if (gone.has(target("items", span.start.item)) && after) commands.push(set(target("spans", span.id, "start"), { item: after.item.id, frame: after.item.first }));
    if (gone.has(target("items", span.end.item)) && before) commands.push(set(target("spans", span.id, "end"), { item: before.item.id, frame: before.item.last }));
  }
  if (!commands.length) return;
  void engine.edit(commands, `${counted(last - first + 1, "frame")} taken out`);
  engine.mark(null);
  engine.go(Math.min(first, engine.timeline.last));
}

const DISSOLVE = 24; // frames over which one half gives way to the other

/** What makes the second half of a shot another shot, into which the first dissolves. Where the reel does not show it there yet, it stands at its end. Null where the frame is at an end of it. */
export function halvesCommands(lying: Lying, { shot, first, last }: Piece, frame: number, second: string, newId: () => string): Command[] | null {
  if (frame <= first || frame > last) return null;
  const here = lying.layout.items.find(({ item }) => item.shot === shot && item.first < frame && frame <= item.last);
  const item = here?.item ?? { id: newId(), shot, first, last };
  const half = newId();
  const split: Command[] = here
    ? splitCommands(lying, here, frame, half)
    : [{ do: "add", target: "items", value: { ...item, last: frame - 1 }, before: null }, { do: "add", target: "items", value: { ...item, id: half, first: frame }, before: null }];
  return [...split, set(target("items", half, "shot"), second), { do: "add", target: "transitions", value: { id: newId(), after: item.id, kind: "dissolve", frames: DISSOLVE } }];
}
