/** Edits of shapes, fences and tracks. */
import { ask, client } from "../api/client";
import type { Operation, Shape } from "../api/types";
import { say } from "../ui/notices";
import { edit, live, refetch } from "./edits";
import { about, middleOf, moved, outlineOf, transformOf, apply, type Transform, type XY } from "./geometry";
import { acceptView, bench, chosenSelection, selectionPath, setBench, shapesOf } from "./store";
import { lines } from "./stream";
import type { ShotView } from "../api/types";

const NAMES: Record<Shape["kind"], string> = { ellipse: "Ellipse", rectangle: "Rectangle", polygon: "Polygon", path: "Path" };

const pathOf = (id: string) => `${selectionPath(bench().selectionId!)}/shapes/${shapesOf(chosenSelection()).findIndex((s) => s.id === id)}`;

export const shapeById = (id: string | null) => shapesOf(chosenSelection()).find((s) => s.id === id) ?? null;

function freeName(stem: string) {
  const taken = new Set(shapesOf(chosenSelection()).map((s) => s.name));
  for (let n = 1; ; n++) if (!taken.has(n === 1 ? stem : `${stem} ${n}`)) return n === 1 ? stem : `${stem} ${n}`;
}

const newId = () => crypto.randomUUID().replaceAll("-", "").slice(0, 12);

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

export function shapePatch(shape: Shape, change: Partial<Shape>): Operation[] {
  const path = pathOf(shape.id);
  return Object.entries(change).map(([field, value]) => ({ op: "replace", path: `${path}/${field}`, value }));
}

export const editShape = (shape: Shape, change: Partial<Shape>, words: string) => void edit(shapePatch(shape, change), words);
export const liveShape = (shape: Shape, change: Partial<Shape>) => live(shapePatch(shape, change));

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
export async function fenceIsland(island: number, keep: boolean) {
  const { view, frame, selectionId } = bench();
  if (!view || !selectionId) return;
  try {
    const body = { base: view.revision, frame, selection: selectionId, island, keep };
    const answer = await ask(client.POST("/api/shots/{shot_id}/fences", { params: { path: { shot_id: view.shot.id } }, body }));
    acceptView(answer.view);
    setBench({ shapeId: answer.shape, island: null });
    await trackShape(answer.shape, "both");
  } catch (error) {
    await refetch(view.shot.id);
    say(error instanceof Error ? error.message : "The fence was not made.", { bad: true });
  }
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
