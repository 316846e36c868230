/** Objects: strokes that say what a thing is, edits of them, and how sure it is where it was carried to. */
import type { Command, ObjectPart, Selection, Stroke } from "../api/types";
import type { Brush, Sure } from "./choice";
import type { BenchSession } from "./bench";
import type { XY } from "./paths";
import { rested } from "./rested";

export const UNSURE = 0.78; // below which a stroke is asked for, as the server has it
export const LOST = 0;
const [LEAST_RADIUS, MOST_RADIUS, RADIUS] = [1, 400, 12];
const FINEST = 1; // pixels of 1080 lines between two points of a stroke, at least
const MOST_POINTS = 1000;
const WAIT = 250; // ms of rest before an object is carried on
const TELL = 150; // ms between two reports
const JOIN = 6; // frames between two places that are one

export const objectsOf = (selection: Selection | null): ObjectPart[] => selection?.objects ?? [];

export const chosenObject = (engine: BenchSession): ObjectPart | null => objectsOf(engine.selection).find((o) => o.id === engine.now.objectId) ?? null;

const freeName = (engine: BenchSession) => {
  const taken = new Set(objectsOf(engine.selection).map((o) => o.name));
  for (let n = 1; ; n++) if (!taken.has(n === 1 ? "Object" : `Object ${n}`)) return n === 1 ? "Object" : `Object ${n}`;
};

/** A new object of the chosen selection, or of a new one: what it is is stroked next. */
export function addObject(engine: BenchSession) {
  const { selection } = engine;
  const part = { id: engine.around.newId(), name: freeName(engine), on: true, mode: "keep", strokes: [] };
  if (selection) void engine.document.edit([{ do: "add", target: engine.target.of("selections", selection.id, "objects"), value: part }], `${part.name} begun`);
  const id = selection?.id ?? engine.around.newId();
  if (!selection) void engine.document.edit([{ do: "add", target: engine.target.of("selections"), value: { id, name: part.name, keys: [], objects: [part] } }], `${part.name} begun`);
  engine.choice.set({ selectionId: id, objectId: part.id, shapeId: null, drawing: null, brush: { kind: "this", radius: engine.now.brush?.radius ?? RADIUS } });
}

export const objectTarget = (engine: BenchSession, part: ObjectPart, ...more: string[]) => engine.target.of("selections", engine.now.selectionId!, "objects", part.id, ...more);

export const editObject = (engine: BenchSession, part: ObjectPart, change: Partial<ObjectPart>, words: string) =>
  void engine.document.edit(Object.entries(change).map(([field, value]): Command => ({ do: "set", target: objectTarget(engine, part, field), value })), words);

export function removeObject(engine: BenchSession, part: ObjectPart) {
  void engine.document.edit([{ do: "remove", target: objectTarget(engine, part) }], `${part.name} removed`);
  engine.choice.set({ objectId: null, brush: null });
}

/** Make a shape of an object as it lies on this frame: it can be taken by its points, tracked, keyframed. */
export async function objectToShape(engine: BenchSession, part: ObjectPart) {
  const { frame, selectionId } = engine.now;
  const answer = selectionId && (await engine.ask("outlines", { frame, selection: selectionId, object: part.id }, "No shape was made."));
  if (answer) engine.choice.set({ shapeId: String(answer["shape"]), objectId: null, brush: null });
}

/** Make an object of a shape as it lies on this frame: it is carried through the shot then. */
export async function shapeToObject(engine: BenchSession, shape: { id: string }) {
  const { frame, selectionId } = engine.now;
  const answer = selectionId && (await engine.ask("objects", { frame, selection: selectionId, shape: shape.id }, "No object was made."));
  if (answer) engine.choice.set({ objectId: String(answer["object"]), shapeId: null, brush: null });
}

/** Points of a line, no nearer to each other than makes a difference, and not too many. */
export function thinned(points: readonly XY[]): [number, number][] {
  const kept: XY[] = [];
  for (const p of points) if (!kept.length || Math.hypot(p.x - kept.at(-1)!.x, p.y - kept.at(-1)!.y) >= FINEST) kept.push(p);
  const every = Math.ceil(kept.length / MOST_POINTS);
  return kept.filter((_, n) => n % every === 0).map((p) => [Math.round(p.x * 10) / 10, Math.round(p.y * 10) / 10]);
}

/** The points of a stroke. */
export const placesOf = (stroke: Stroke): XY[] => stroke.points.map(([x, y]) => ({ x: x!, y: y! }));

/** The strokes that a line with a radius touches, of those on a frame. */
export function touchedBy(strokes: readonly Stroke[], frame: number, points: readonly XY[], radius: number): Stroke[] {
  const near = (stroke: Stroke) => placesOf(stroke).some(({ x, y }) => points.some((p) => Math.hypot(p.x - x, p.y - y) <= radius + (stroke.radius ?? RADIUS)));
  return strokes.filter((s) => s.frame === frame && near(s));
}

const WORDS = { this: "this", "not this": "not this" } as const;

/** A line that was drawn with the brush: a stroke, or strokes that are rubbed out. */
export function stroked(engine: BenchSession, points: readonly XY[], kind: Brush["kind"]) {
  const part = chosenObject(engine);
  const { brush } = engine.now;
  const { frame } = engine.timeline;
  if (!part || !brush || !points.length) return;
  if (kind === "rub out") {
    const gone = touchedBy(part.strokes ?? [], frame, points, brush.radius);
    const commands = gone.map((s): Command => ({ do: "remove", target: objectTarget(engine, part, "strokes", s.id) }));
    if (commands.length) void engine.document.edit(commands, `${part.name}: ${gone.length === 1 ? "a stroke" : `${gone.length} strokes`} rubbed out at frame ${frame}`);
    return;
  }
  const stroke: Stroke = { id: engine.around.newId(), frame, kind, radius: brush.radius, points: thinned(points) };
  void engine.document.edit([{ do: "add", target: objectTarget(engine, part, "strokes"), value: stroke }], `${part.name}: ${WORDS[kind]} stroked at frame ${frame}`);
}

/** Take a kind of brush, or lay it down where it is the one in hand. */
export function takeBrush(engine: BenchSession, kind: Brush["kind"]) {
  const { brush } = engine.now;
  if (!chosenObject(engine)) return;
  engine.choice.set({ brush: brush?.kind === kind ? null : { kind, radius: brush?.radius ?? RADIUS }, drawing: null });
}

export const sizeBrush = (engine: BenchSession, by: number) => {
  const { brush } = engine.now;
  if (brush) engine.choice.set({ brush: { ...brush, radius: Math.min(Math.max(Math.round(brush.radius * by), LEAST_RADIUS), MOST_RADIUS) } });
};

/** Runs of frames that are as sure as each other: first, last, and how. What is not carried yet is none. */
export function sureness(values: readonly number[]): { first: number; last: number; how: "sure" | "unsure" | "lost" }[] {
  const found: ReturnType<typeof sureness> = [];
  values.forEach((v, n) => {
    if (Number.isNaN(v)) return;
    const how = v <= LOST ? "lost" : v < UNSURE ? "unsure" : "sure";
    const before = found.at(-1);
    if (before && before.last === n - 1 && before.how === how) before.last = n;
    else found.push({ first: n, last: n, how });
  });
  return found;
}

/** Where a stroke is asked for: stretches of frames (first and last), near ones as one. */
export function asking(values: readonly number[]): [number, number][] {
  const found: [number, number][] = [];
  values.forEach((v, n) => {
    if (!(v < UNSURE) || v <= LOST) return;
    if (found.length && n - found.at(-1)![1] <= JOIN) found.at(-1)![1] = n;
    else found.push([n, n]);
  });
  return found;
}

/** The next place (or the one before) that asks for a stroke, going round: its frame. */
export function nextAsking(values: readonly number[], frame: number, direction: 1 | -1): number | null {
  const places = asking(values).map(([first]) => first);
  if (!places.length) return null;
  return direction > 0 ? (places.find((n) => n > frame) ?? places[0]!) : (places.findLast((n) => n < frame) ?? places.at(-1)!);
}

/** How far an object is carried, in words. count: frames of the shot. */
export function carriedWords({ values, done, over }: Pick<Sure, "values" | "done" | "over">, count: number): string {
  const places = asking(values).length;
  const hidden = values.filter((v) => v === LOST).length;
  const cuts = values.flatMap((v, n) => (v < LOST && !(values[n - 1]! < LOST) ? [n] : []));
  const told = [
    places ? `unsure in ${places} place${places > 1 ? "s" : ""}` : "",
    hidden ? `out of sight in ${hidden}` : "",
    cuts.length ? `stopped by a cut at frame ${cuts[0]}` : "",
  ].filter(Boolean);
  return [`${done} of ${count} frames`, ...(told.length ? told : over ? ["sure throughout"] : [])].join(", ");
}

type Line = { kind: "sure"; frame: number; sure: number } | { kind: "done" } | { kind: "failed"; message: string };

/** Carry the chosen object through the shot in the background, outward from the playhead, until the function that is given back is called. */
export function followObject(engine: BenchSession): () => void {
  let [part, key]: [ObjectPart | null, string] = [null, ""];
  const keyOf = () => {
    if (engine.document.state.getState().draft.length) return null;
    const now = chosenObject(engine);
    if (now !== part) [part, key] = [now, now?.strokes?.some((s) => s.kind === "this") ? JSON.stringify([now.id, now.method, now.strokes]) : ""]; // strokes are many: put as text once
    return key;
  };
  return rested(engine, WAIT, keyOf, (wanted) => {
    if (wanted) return (signal, stop) => carry(engine, part!.id, wanted, signal, stop);
    engine.choice.set({ sure: null });
    return null;
  });
}

async function carry(engine: BenchSession, object: string, key: string, signal: AbortSignal, stop: () => void) {
  await engine.document.idle();
  if (signal.aborted) return;
  const { shot, revision } = engine.view;
  const values = Array<number>(engine.timeline.length).fill(NaN);
  const tell = (more: Partial<Sure>) => engine.choice.set({ sure: { key, object, values: [...values], done: values.filter((v) => !Number.isNaN(v)).length, over: false, ...more } });
  let told = -Infinity;
  const task = engine.around.background.begin(`Object carried through ${shot.name}`, values.length, stop);
  try {
    const query = new URLSearchParams({ selection: engine.now.selectionId!, object, frame: String(engine.timeline.frame) });
    for await (const line of engine.around.server.carry<Line>(shot.id, revision, query, signal)) {
      if (signal.aborted) return;
      if (line.kind === "sure") values[line.frame] = line.sure;
      if (line.kind === "failed") engine.around.say(line.message, { bad: true });
      const now = performance.now();
      if (line.kind === "sure" && now - told < TELL) continue; // long shots have many frames, and what is at hand already comes at once
      told = now;
      task.at(values.filter((v) => !Number.isNaN(v)).length, values.length);
      tell({ over: line.kind !== "sure" });
    }
  } catch (error) {
    if (!signal.aborted) engine.around.say(error instanceof Error ? error.message : "The object was not carried on.", { bad: true });
  } finally {
    task.end();
  }
}
