/** Edits of shapes, fences and tracks. */
import type { Command, Keyframe, ParamInfo, Shape } from "../api/types";
import { type BenchSession } from "./bench";
import { about, apply, bent, middleOf, moved, outlineOf, transformOf, type Placed, type Transform } from "./geometry";
import { laneOf, lanesOf, PATH, SWITCH, valueAt, withKeyframe } from "./lanes";
import { withoutPoint, type PathPoint, type XY } from "./paths";
import { shapesOf } from "./scene";

const NAMES: Record<Shape["kind"], string> = { ellipse: "Ellipse", rectangle: "Rectangle", polygon: "Polygon", path: "Path" };

const stored = (engine: BenchSession, id: string | null): Shape | null => shapesOf(engine.selection).find((s) => s.id === id) ?? null;

function freeName(engine: BenchSession, stem: string) {
  const taken = new Set(shapesOf(engine.selection).map((s) => s.name));
  for (let n = 1; ; n++) if (!taken.has(n === 1 ? stem : `${stem} ${n}`)) return n === 1 ? stem : `${stem} ${n}`;
}

const add = (engine: BenchSession, selection: string, shape: unknown): Command => ({ do: "add", target: engine.target.of("selections", selection, "shapes"), value: shape });

/** A drawn shape: only what lies in the first one is kept, others leave intruders out. Where the selection has keys, the other way is offered at once. */
export function addShape(engine: BenchSession, kind: Shape["kind"], points: XY[]) {
  const { selection } = engine;
  const shape = {
    id: engine.around.newId(),
    name: freeName(engine, NAMES[kind]),
    on: true,
    kind,
    mode: shapesOf(selection).length ? "leave out" : "keep",
    points: points.map((p) => ({ x: Math.round(p.x * 10) / 10, y: Math.round(p.y * 10) / 10, corner: false })),
    angle: 0,
    feather_in: 0,
    feather_out: 10,
    track: "",
    corrections: [],
  };
  if (selection) {
    void engine.document.edit([add(engine, selection.id, shape)], `${shape.name} drawn`);
    engine.choice.set({ drawing: null, shapeId: shape.id });
    if (!selection.keys?.length) return;
    const [other, words] = shape.mode === "keep" ? ["leave out", `Of ${selection.name} only what lies in “${shape.name}” is kept.`] : ["keep", `What lies in “${shape.name}” is left out of ${selection.name}.`];
    const turn = { name: other === "keep" ? "Keep only that instead" : "Leave it out instead", run: () => void engine.document.edit([engine.target.set(`selections/${selection.id}/shapes/${shape.id}/mode`, other)], `${shape.name}: ${other}`) };
    return engine.around.say(words!, { action: turn });
  }
  const id = engine.around.newId();
  const value = { id, name: shape.name, keys: [], shapes: [{ ...shape, mode: "keep" }] };
  void engine.document.edit([{ do: "add", target: engine.target.of("selections"), value }], `${shape.name} drawn`);
  engine.choice.set({ drawing: null, selectionId: id, shapeId: shape.id });
}

export const shapeTarget = (engine: BenchSession, shape: { id: string }, field: string) => `selections/${engine.now.selectionId}/shapes/${shape.id}/${field}`;

const infoOf = (engine: BenchSession, field: string): ParamInfo | null =>
  field === "points" ? PATH : field === "on" ? SWITCH : (engine.around.catalogue()?.shape.find((p) => p.key === field) ?? null);

/** The shapes of the chosen selection as they are at the frame on screen: animated values worked out, tracks at hand. */
export function placedShapes(engine: BenchSession): Placed[] {
  const { selection } = engine;
  const { frame, rate } = engine.timeline;
  return shapesOf(selection).map((shape) => {
    const track = (shape.track && engine.around.track(shape.track)) || [];
    const mine = lanesOf(engine.shown).filter((l) => l.target.startsWith(`selections/${selection!.id}/shapes/${shape.id}/`));
    const values = mine.flatMap((lane) => {
      const field = lane.target.slice(lane.target.lastIndexOf("/") + 1);
      const info = infoOf(engine, field);
      return info ? [[field, valueAt(lane, info, frame, rate)]] : [];
    });
    return { ...shape, ...(Object.fromEntries(values) as Partial<Shape>), track, tracked: !!shape.track };
  });
}

type Change = { commands: Command[]; keyed: boolean };

/** What gives a shape other values: at the frame on screen where they are animated, else throughout. */
function changeOf(engine: BenchSession, shape: { id: string }, change: Partial<Shape>): Change {
  let keyed = false;
  const commands = Object.entries(change).flatMap(([field, value]): Command[] => {
    const target = shapeTarget(engine, shape, field);
    const lane = laneOf(engine.document.stored, target);
    const info = lane && infoOf(engine, field);
    if (!lane || !info) return [engine.target.set(target, value)];
    keyed = true;
    return engine.target.lanes([withKeyframe(lane, info, engine.timeline.frame, value, engine.timeline.rate)]);
  });
  return { commands, keyed };
}

/** While a shape is dragged: what it becomes. */
export const shapeCommands = (engine: BenchSession, shape: { id: string }, change: Partial<Shape>) => changeOf(engine, shape, change).commands;

export function editShape(engine: BenchSession, shape: { id: string }, change: Partial<Shape>, words: string) {
  const { commands, keyed } = changeOf(engine, shape, change);
  void engine.document.edit(commands, keyed ? `${words} at frame ${engine.timeline.frame}` : words);
}

/** What changes the number of a path's points: in every keyframe alike, so that they still go over into each other. */
export function pathCommands(engine: BenchSession, shape: Placed, make: (points: PathPoint[]) => PathPoint[], here?: (points: PathPoint[]) => PathPoint[]): Command[] {
  const plain = stored(engine, shape.id);
  if (!plain) return [];
  const target = shapeTarget(engine, shape, "points");
  const lane = laneOf(engine.document.stored, target);
  const before = shapesOf(engine.document.stored.look.selections?.find((s) => s.id === engine.now.selectionId) ?? null).find((s) => s.id === shape.id) ?? plain;
  if (!lane) return [engine.target.set(target, (here ?? ((p) => p))(make(before.points)))];
  const all = { ...lane, keyframes: lane.keyframes.map((k) => ({ ...k, value: make(k.value as PathPoint[]) })) };
  const next = here ? withKeyframe(all, PATH, engine.timeline.frame, here(make(shape.points)), engine.timeline.rate) : all;
  return [engine.target.set(target, make(before.points)), { do: "set", target: engine.target.of("lanes", target), value: next }];
}

export const removePoint = (engine: BenchSession, shape: Placed, n: number) =>
  void engine.document.edit(pathCommands(engine, shape, (points) => withoutPoint(points, n)), `Point of ${shape.name} removed`);

/** The keyframes of a shape's path on either side of the frame on screen. */
export function pathsAround(engine: BenchSession, shape: { id: string }): { before: Keyframe | null; after: Keyframe | null } {
  const { frame } = engine.timeline;
  const keyframes = laneOf(engine.shown, shapeTarget(engine, shape, "points"))?.keyframes ?? [];
  return { before: keyframes.findLast((k) => k.frame < frame) ?? null, after: keyframes.find((k) => k.frame > frame) ?? null };
}

/** Put the path of another keyframe at the frame on screen. */
export const copyPathHere = (engine: BenchSession, shape: Placed, from: Keyframe) => editShape(engine, shape, { points: from.value as Shape["points"] }, `Path of ${shape.name} copied from frame ${from.frame}`);

export const moveShape = (engine: BenchSession, shape: Placed, move: Transform, words = `${shape.name} moved`) => editShape(engine, shape, moved(shape, engine.timeline.frame, move), words);

/** Keyboard: turned and scaled about its middle. */
export function turnShape(engine: BenchSession, shape: Placed, degrees: number, scale: number) {
  const { frame } = engine.timeline;
  const middle = middleOf(outlineOf({ ...shape, points: bent(shape, frame) }).map((p) => apply(transformOf(shape, frame), p)));
  moveShape(engine, shape, about(middle, scale, (degrees * Math.PI) / 180), scale === 1 ? `${shape.name} turned` : `${shape.name} scaled`);
}

export function removeShape(engine: BenchSession, shape: Placed) {
  void engine.document.edit([{ do: "remove", target: engine.target.of("selections", engine.now.selectionId!, "shapes", shape.id) }], `${shape.name} removed`);
}

export function duplicateShape(engine: BenchSession, shape: Placed) {
  const plain = stored(engine, shape.id);
  if (!plain) return;
  const id = engine.around.newId();
  void engine.document.edit([add(engine, engine.now.selectionId!, { ...plain, id, name: freeName(engine, shape.name) })], `${shape.name} duplicated`);
  engine.choice.set({ shapeId: id });
}

/** Fence an island off and track the fence, or keep only it. */
export async function fenceIsland(engine: BenchSession, island: number, keep: boolean) {
  const { frame, selectionId } = engine.now;
  if (!selectionId) return;
  const answer = await engine.ask("fences", { frame, selection: selectionId, island, keep }, "The fence was not made.");
  if (!answer) return;
  engine.choice.set({ shapeId: String(answer["shape"]), island: null });
  void trackShape(engine, String(answer["shape"]), "both");
}

/** Its points go to the nearest strong edge of the frame on screen. */
export async function snapShape(engine: BenchSession, shape: Placed) {
  engine.around.settle();
  const { frame, selectionId } = engine.now;
  if (!selectionId) return;
  try {
    const places = await engine.around.server.snap(engine.view.shot.id, engine.view.revision, frame, selectionId, shape.id);
    const now = stored(engine, shape.id);
    if (!now || places.length !== shape.points.length) return;
    editShape(engine, shape, { points: shape.points.map((p, n) => ({ ...p, x: places[n]![0]!, y: places[n]![1]! })) }, `${shape.name} laid on the edge`);
  } catch (error) {
    engine.around.say(error instanceof Error ? error.message : "The edge was not found.", { bad: true });
  }
}

type Line = { kind: "progress"; done: number; total: number; frame: number } | { kind: "done"; lost: number[]; doubtful: [number, number][] } | { kind: "failed"; message: string };

/** Track a shape; what comes of it is an edit of this document, whichever is open by then. */
export async function trackShape(engine: BenchSession, id: string, direction: "forward" | "backward" | "both", bends = false) {
  engine.around.settle();
  const { frame, selectionId, tracking } = engine.now;
  const shape = stored(engine, id);
  if (!selectionId || !shape || tracking) return;
  const { say } = engine.around;
  const stop = new AbortController();
  const task = engine.around.background.begin(`Tracking ${shape.name}`, 0, () => stop.abort());
  const progress = (done: number, total: number, at: number) => (task.at(done, total), engine.choice.set({ tracking: { shape: id, done, total, frame: at, stop: () => stop.abort() } }));
  progress(0, 1, frame);
  try {
    const body = { base: engine.view.revision, id: engine.around.newId(), selection: selectionId, shape: id, frame, direction, bends };
    for await (const line of engine.around.server.track<Line>(engine.view.shot.id, body, stop.signal)) {
      if (line.kind === "progress") progress(line.done, line.total, line.frame);
      if (line.kind === "failed") say(line.message, { bad: true });
      if (line.kind === "done") {
        await engine.document.newest();
        const there = { action: { name: "Go there", run: () => engine.go(line.lost[0]!) }, bad: true, seen: true };
        const [drift] = line.doubtful;
        if (line.lost.length) say(`${shape.name} was lost at frame ${line.lost.join(" and ")}. Put it right there, then track on.`, there);
        else if (drift) say(`${shape.name} is tracked, but from frame ${drift[0]} to ${drift[1]} it may have drifted: what is under it looks unlike where it began.`, { action: { name: "Go there", run: () => engine.go(drift[0]) }, bad: true, seen: true });
        else say(`${shape.name} tracked.`);
      }
    }
  } catch (error) {
    if (!stop.signal.aborted) say(error instanceof Error ? error.message : "Tracking stopped.", { bad: true });
    else say("Tracking cancelled; the track is as it was.");
  } finally {
    task.end();
    engine.choice.set({ tracking: null });
  }
}
