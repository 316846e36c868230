/** Edits of shapes, fences and tracks. */
import { ask, client } from "../api/client";
import { catalogueNow } from "../api/queries";
import type { Keyframe, Lane, Operation, ParamInfo, Shape, ShotDocument } from "../api/types";
import { say } from "../ui/notices";
import { edit, refetch, enqueue } from "./edits";
import { about, middleOf, moved, outlineOf, transformOf, apply, type Transform, type XY } from "./geometry";
import { newId } from "./ids";
import { laneOf, lanesOf, PATH, putLane, SWITCH, valueAt, withKeyframe } from "./lanes";
import { withoutPoint, type PathPoint } from "./paths";
import { acceptView, bench, chosenSelection, documentOf, rateOf, selectionPath, selectionsOf, setBench, shapesOf } from "./store";
import { lines } from "./stream";
import type { ShotView } from "../api/types";

const NAMES: Record<Shape["kind"], string> = { ellipse: "Ellipse", rectangle: "Rectangle", polygon: "Polygon", path: "Path" };

const pathOf = (id: string) => `${selectionPath(bench().selectionId!)}/shapes/${shapesOf(chosenSelection()).findIndex((s) => s.id === id)}`;

export const shapeById = (id: string | null) => shapesOf(chosenSelection()).find((s) => s.id === id) ?? null;

function freeName(stem: string) {
  const taken = new Set(shapesOf(chosenSelection()).map((s) => s.name));
  for (let n = 1; ; n++) if (!taken.has(n === 1 ? stem : `${stem} ${n}`)) return n === 1 ? stem : `${stem} ${n}`;
}

/** A drawn shape. The first one of a selection without keys keeps; else it leaves an intruder out. */
export function addShape(kind: Shape["kind"], points: XY[]) {
  const selection = chosenSelection();
  const shape = {
    id: newId(),
    name: freeName(NAMES[kind]),
    kind,
    mode: selection?.keys?.length ? "leave out" : "keep",
    points: points.map((p) => ({ x: Math.round(p.x * 10) / 10, y: Math.round(p.y * 10) / 10 })),
  };
  setBench({ drawing: null });
  if (selection) return void edit([{ op: "add", path: `${selectionPath(selection.id)}/shapes/-`, value: shape }], `${shape.name} drawn`).then(() => setBench({ shapeId: shape.id }));
  const id = newId();
  const value = { id, name: shape.name, shapes: [{ ...shape, mode: "keep" }] };
  void edit([{ op: "add", path: "/look/selections/-", value }], `${shape.name} drawn`).then(() => setBench({ selectionId: id, shapeId: shape.id }));
}

export const shapeTarget = (shape: Shape, field: string) => `selections/${bench().selectionId}/shapes/${shape.id}/${field}`;

const infoOf = (field: string): ParamInfo | null =>
  field === "points" ? PATH : field === "on" ? SWITCH : (catalogueNow()?.shape.find((p) => p.key === field) ?? null);

/** A shape as it is at a frame: its animated values worked out. */
export function shapeAt(document: ShotDocument | null, selectionId: string | null, shape: Shape, frame: number, rate: number): Shape {
  const lanes = lanesOf(document).filter((l) => l.target.startsWith(`selections/${selectionId}/shapes/${shape.id}/`));
  if (!lanes.length) return shape;
  const values = lanes.flatMap((lane) => {
    const field = lane.target.slice(lane.target.lastIndexOf("/") + 1);
    const info = infoOf(field);
    return info ? [[field, valueAt(lane, info, frame, rate)]] : [];
  });
  return { ...shape, ...(Object.fromEntries(values) as Partial<Shape>) };
}

type Change = { patch: Operation[]; keyed: boolean };

/** Operations that give a shape other values: at the frame on screen where they are animated, else throughout. */
function changeOf(shape: Shape, change: Partial<Shape>): Change {
  const path = pathOf(shape.id);
  const state = bench();
  const document = documentOf(state)!;
  let keyed = false;
  const patch = Object.entries(change).map(([field, value]): Operation => {
    const lane = laneOf(document, shapeTarget(shape, field));
    const info = lane && infoOf(field);
    if (!lane || !info) return { op: "replace", path: `${path}/${field}`, value };
    keyed = true;
    return putLane(document, withKeyframe(lane, info, state.frame, value, rateOf(state.view)));
  });
  return { patch, keyed };
}

export const shapePatch = (shape: Shape, change: Partial<Shape>) => changeOf(shape, change).patch;

export function editShape(shape: Shape, change: Partial<Shape>, words: string) {
  const { patch, keyed } = changeOf(shape, change);
  void edit(patch, keyed ? `${words} at frame ${bench().frame}` : words);
}

/** Operations that change the number of a path's points: in every keyframe alike, so that they still go over into each other. */
export function pathsPatch(shape: Shape, make: (points: PathPoint[]) => PathPoint[], here?: (points: PathPoint[]) => PathPoint[]): Operation[] {
  const document = bench().view!.document;
  const stored = shapesOf(selectionsOf(document).find((s) => s.id === bench().selectionId) ?? null).find((s) => s.id === shape.id)!;
  const lane = laneOf(document, shapeTarget(shape, "points"));
  const path = `${pathOf(shape.id)}/points`;
  if (!lane) return [{ op: "replace", path, value: (here ?? ((p) => p))(make(stored.points)) }];
  const all: Lane = { ...lane, keyframes: lane.keyframes.map((k) => ({ ...k, value: make(k.value as PathPoint[]) })) };
  const { frame, view } = bench();
  const moved = here ? withKeyframe(all, PATH, frame, here(make(shape.points)), rateOf(view)) : all;
  return [{ op: "replace", path, value: make(stored.points) }, putLane(document, moved)];
}

export function removePoint(shape: Shape, n: number) {
  void edit(pathsPatch(shape, (points) => withoutPoint(points, n)), `Point of ${shape.name} removed`);
}

/** The keyframes of a shape's path on either side of the frame on screen. */
export function pathsAround(shape: Shape): { before: Keyframe | null; after: Keyframe | null } {
  const { frame } = bench();
  const keyframes = laneOf(documentOf(bench()), shapeTarget(shape, "points"))?.keyframes ?? [];
  return { before: keyframes.findLast((k) => k.frame < frame) ?? null, after: keyframes.find((k) => k.frame > frame) ?? null };
}

/** Put the path of another keyframe at the frame on screen. */
export function copyPathHere(shape: Shape, from: Keyframe) {
  editShape(shape, { points: from.value as Shape["points"] }, `Path of ${shape.name} copied from frame ${from.frame}`);
}

export function moveShape(shape: Shape, move: Transform, words = `${shape.name} moved`) {
  editShape(shape, moved(shape, bench().frame, move), words);
}

/** Keyboard: by pixels, or turned and scaled about its middle. */
export function nudgeShape(shape: Shape, dx: number, dy: number) {
  moveShape(shape, [1, 0, dx, dy]);
}

export function turnShape(shape: Shape, degrees: number, scale: number) {
  const frame = bench().frame;
  const middle = middleOf(outlineOf(shape).map((p) => apply(transformOf(shape, frame), p)));
  moveShape(shape, about(middle, scale, (degrees * Math.PI) / 180), scale === 1 ? `${shape.name} turned` : `${shape.name} scaled`);
}

export function removeShape(shape: Shape) {
  void edit([{ op: "remove", path: pathOf(shape.id) }], `${shape.name} removed`);
  setBench({ shapeId: null });
}

export function duplicateShape(shape: Shape) {
  const id = newId();
  const value = { ...shape, id, name: freeName(shape.name) };
  void edit([{ op: "add", path: `${selectionPath(bench().selectionId!)}/shapes/-`, value }], `${shape.name} duplicated`).then(() => setBench({ shapeId: id }));
}

/** Fence an island off and track the fence, or keep only it. */
export function fenceIsland(island: number, keep: boolean): Promise<void> {
  return enqueue(async () => {
    const { view, frame, selectionId } = bench();
    if (!view || !selectionId) return;
    try {
      const body = { base: view.revision, frame, selection: selectionId, island, keep };
      const answer = await ask(client.POST("/api/shots/{shot_id}/fences", { params: { path: { shot_id: view.shot.id } }, body }));
      acceptView(answer.view);
      setBench({ shapeId: answer.shape, island: null });
      void trackShape(answer.shape, "both");
    } catch (error) {
      await refetch(view.shot.id);
      say(error instanceof Error ? error.message : "The fence was not made.", { bad: true });
    }
  });
}

type Line = { kind: "progress"; done: number; total: number; frame: number } | { kind: "done"; lost: number[]; view: ShotView } | { kind: "failed"; message: string };

export async function trackShape(id: string, direction: "forward" | "backward" | "both") {
  const { view, frame, selectionId } = bench();
  const shape = shapeById(id);
  if (!view || !selectionId || !shape || bench().tracking) return;
  const stop = new AbortController();
  setBench({ tracking: { shape: id, done: 0, total: 1, frame, stop: () => stop.abort() } });
  try {
    const body = JSON.stringify({ selection: selectionId, shape: id, frame, direction });
    const response = await fetch(`/api/shots/${view.shot.id}/tracks`, { method: "POST", headers: { "content-type": "application/json" }, body, signal: stop.signal });
    for await (const line of lines<Line>(response)) {
      if (line.kind === "progress") setBench({ tracking: { shape: id, done: line.done, total: line.total, frame: line.frame, stop: () => stop.abort() } });
      if (line.kind === "failed") say(line.message, { bad: true });
      if (line.kind === "done") {
        acceptView(line.view);
        if (line.lost.length) {
          const where = line.lost.join(" and ");
          say(`${shape.name} was lost at frame ${where}. Put it right there, then track on.`, { bad: true, action: { name: "Go there", run: () => setBench({ frame: line.lost[0]! }) } });
        } else say(`${shape.name} tracked.`);
      }
    }
  } catch (error) {
    if (!stop.signal.aborted) say(error instanceof Error ? error.message : "Tracking stopped.", { bad: true });
    else say("Tracking cancelled; the track is as it was.");
  } finally {
    setBench({ tracking: null });
  }
}
