import { useEffect, useRef, useState, type KeyboardEvent, type PointerEvent } from "react";

import type { Command, Pick, Selection, Shape } from "../api/types";
import { about, apply, bent, boxCorners, inverse, isBox, middleOf, moved, outlineOf, transformOf, unbent, withCorner, withPoint, type Transform, type Placed } from "../engine/geometry";
import { withMiddle, type XY } from "../engine/paths";
import { keyOf, pick } from "../engine/selections";
import { addShape, editShape, moveShape, pathCommands, pathsAround, removePoint, removeShape, shapeCommands, turnShape } from "../engine/shapes";
import { useChoice, useEngine, useOfSelection, useShapes, useStage, useTime, useView } from "./engine";
import { type Mapping, useMapping } from "./mapping";
import { Strokes } from "./Strokes";
import { PlacesOverlay } from "./PlacesOverlay";
import { useDrag } from "../ui/drag";

const HANDLE = 9; // pixels on the screen
const ROOM = 14; // pixels that a handle between two points has around it, or is not there: a point that was meant is never missed
const PULL = 4; // pixels of a drag before it adds a point
const CLOSE = 10; // how near to the first point a click closes what is drawn

const apart = (a: XY, b: XY) => Math.hypot(a.x - b.x, a.y - b.y);
const path = (points: XY[], close = true) => points.map((p, n) => `${n ? "L" : "M"}${p.x.toFixed(1)} ${p.y.toFixed(1)}`).join("") + (close && points.length ? "Z" : "");

/** Shapes and their handles, the island pointed at, the picks, and what is being drawn, over the picture. */
export function ShapesOverlay() {
  const mapping = useMapping();
  const shapes = useShapes();
  const shapeId = useChoice((s) => s.shapeId);
  const island = useChoice((s) => s.island);
  const drawing = useChoice((s) => s.drawing);
  const playing = useTime((s) => s.playing);
  const frame = useTime((s) => s.frame);
  const hidden = useStage((s) => s.outlines === false || s.compare !== "off" || s.peek);
  const svg = useRef<SVGSVGElement>(null);
  if (!mapping || playing) return null;
  const place = (e: PointerEvent | MouseEvent): XY => {
    const box = svg.current!.getBoundingClientRect();
    return mapping.toPicture({ x: e.clientX - box.left, y: e.clientY - box.top });
  };
  return (
    <svg ref={svg} className="pointer-events-none absolute inset-0 h-full w-full" aria-label="Outlines and handles">
      {!hidden && <Picks mapping={mapping} frame={frame} />}
      {!hidden && <PlacesOverlay mapping={mapping} />}
      {!hidden && shapes.filter((s) => s.on && s.id === shapeId).map((shape) => (
        <Onion key={shape.id} shape={shape} frame={frame} mapping={mapping} />
      ))}
      {!hidden && shapes.filter((s) => s.on).map((shape) => (
        <Outline key={shape.id} shape={shape} frame={frame} mapping={mapping} chosen={shape.id === shapeId} place={place} idle={drawing !== null} />
      ))}
      {island && (
        <>
          <path d={path(island.map(([x, y]) => mapping.toScreen({ x, y })))} fill="rgb(255 255 255 / 0.35)" stroke="#000000" strokeWidth={4} />
          <path d={path(island.map(([x, y]) => mapping.toScreen({ x, y })))} fill="none" stroke="#ffffff" strokeWidth={2} />
        </>
      )}
      <Strokes mapping={mapping} place={place} hidden={hidden} />
      {drawing && <Drawing key={drawing} kind={drawing} mapping={mapping} place={place} />}
    </svg>
  );
}

const NONE: Pick[] = [];

function picksOf(selection: Selection | null, keyId: string | null, which: "picks" | "refused"): Pick[] {
  const key = keyOf(selection, keyId);
  return (key && "picks" in key && key[which]) || NONE;
}

/** Where the picks of the chosen key were taken, on this frame. */
function Picks({ mapping, frame }: { mapping: Mapping; frame: number }) {
  const keyId = useChoice((s) => s.keyId);
  const picked = useOfSelection((s) => picksOf(s, keyId, "picks"));
  const refused = useOfSelection((s) => picksOf(s, keyId, "refused"));
  const facts = useView().footage.facts;
  const width = (1080 * facts.width) / facts.height;
  const all = [...picked.map((p) => ({ p, refused: false })), ...refused.map((p) => ({ p, refused: true }))];
  return all.filter(({ p }) => p.frame === frame).map(({ p, refused }, n) => {
    const at = mapping.toScreen({ x: p.x * width, y: p.y * 1080 });
    return (
      <g key={n}>
        <rect x={at.x - 4.5} y={at.y - 4.5} width={9} height={9} fill="none" stroke="#000000" strokeWidth={3} />
        <rect x={at.x - 4.5} y={at.y - 4.5} width={9} height={9} fill="none" stroke="#ffffff" strokeWidth={1.3} strokeDasharray={refused ? "2 2" : undefined} />
      </g>
    );
  });
}

type OutlineProps = { shape: Placed; frame: number; mapping: Mapping; chosen: boolean; place: (e: PointerEvent) => XY; idle: boolean };
type Drag = { change: (p: XY) => Command[]; last: Command[] | null; words: string; click?: () => void };

/** The outlines of the keyframes before and after, as they would lie here: what the path comes from and goes to. */
function Onion({ shape, frame, mapping }: { shape: Placed; frame: number; mapping: Mapping }) {
  const engine = useEngine();
  const { before, after } = pathsAround(engine, shape);
  const move = transformOf(shape, frame);
  return [before, after].map((k, side) => {
    if (!k) return null;
    const points = outlineOf({ ...shape, points: k.value as Shape["points"] }).map((p) => mapping.toScreen(apply(move, p)));
    // The one before is told at its left, the one after at its right: where both lie in one place, neither covers the other.
    const ends = points.reduce((a, b) => ((side === 0 ? b.x < a.x : b.x > a.x) ? b : a));
    const dash = k === before ? "1 4" : "7 5";
    return (
      <g key={k.frame} pointerEvents="none" opacity={0.8} aria-label={`Path at frame ${k.frame}`} role="img">
        <path d={path(points)} fill="none" stroke="#000000" strokeWidth={2.5} strokeDasharray={dash} />
        <path d={path(points)} fill="none" stroke="#ffffff" strokeWidth={1} strokeDasharray={dash} />
        <text x={ends.x + (side === 0 ? -6 : 6)} y={ends.y + 4} fill="#ffffff" stroke="#000000" strokeWidth={3} paintOrder="stroke" fontSize={11} textAnchor={side === 0 ? "end" : "start"}>
          {side === 0 ? `◂ ${k.frame}` : `${k.frame} ▸`}
        </text>
      </g>
    );
  });
}

function Outline({ shape, frame, mapping, chosen, place, idle }: OutlineProps) {
  const engine = useEngine();
  const { facts } = useView().footage;
  const [chosenPoint, choosePoint] = useState<{ n: number; of: number } | null>(null);
  const point = chosenPoint?.of === shape.points.length ? chosenPoint.n : null; // where points come or go elsewhere, it may be another by now
  const setPoint = (n: number | null) => choosePoint(n === null ? null : { n, of: shape.points.length });
  const transform = transformOf(shape, frame);
  const lying = { ...shape, points: bent(shape, frame) };
  const points = outlineOf(lying).map((p) => apply(transform, p));
  const screen = points.map(mapping.toScreen);
  const d = path(screen);
  const label = { x: Math.min(...screen.map((p) => p.x)), y: Math.max(...screen.map((p) => p.y)) + 16 }; // below, clear of the handles
  const dashed = shape.mode === "leave out" ? "5 4" : undefined;

  const { begin: hold, handlers } = useDrag<Drag>({
    move: (d, e) => {
      if (d.click && !d.last && !e.movementX && !e.movementY) return d;
      const last = d.change(place(e));
      engine.document.show(last);
      return { ...d, last };
    },
    end: ({ last, words, click }) => !last ? click?.() : void engine.document.edit(last, last.some((c) => c.target.includes("/lanes/")) ? `${words} at frame ${engine.timeline.frame}` : words),
    giveUp: () => engine.document.drop(),
  });
  const draw = (words: string, change: (p: XY, from: XY) => Command[]) => (e: PointerEvent) => {
    if (e.button !== 0) return;
    e.stopPropagation();
    const from = place(e);
    hold(e, { change: (p) => change(p, from), last: null, words });
  };
  const begin = (words: string, change: (p: XY, from: XY) => Partial<Shape>) => draw(words, (p, from) => shapeCommands(engine, shape, change(p, from)));
  const by = (make: (p: XY, from: XY) => Transform) => (p: XY, from: XY) => moved(shape, frame, make(p, from));
  const inside = by((p, from) => [1, 0, p.x - from.x, p.y - from.y]);
  /** Dragged it moves; a click in it with a pick tool picks. */
  const shift = (e: PointerEvent) => {
    if (e.button !== 0) return;
    e.stopPropagation();
    const from = place(e);
    const { tool, selectionId } = engine.now;
    const width = (1080 * facts.width) / facts.height;
    const click = () => void pick(engine, Math.min(Math.max(from.x / width, 0), 1), Math.min(Math.max(from.y / 1080, 0), 1), tool === "refuse", tool === "pick" ? null : selectionId);
    hold(e, { change: (p) => shapeCommands(engine, shape, inside(p, from)), last: null, words: `${shape.name} moved`, click: tool === "hand" ? undefined : click });
  };

  const keys = (e: KeyboardEvent) => {
    const step = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, -1], ArrowDown: [0, 1] }[e.key];
    const far = e.shiftKey ? 10 : 1;
    if (step) {
      const along = step[0]! || -step[1]!;
      if (e.altKey) turnShape(engine, shape, along * far, 1);
      else if (e.ctrlKey) turnShape(engine, shape, 0, 1 + 0.01 * along * far);
      else moveShape(engine, shape, [1, 0, step[0]! * far, step[1]! * far]);
    } else if (e.key === "Delete" || e.key === "Backspace") {
      if (point === null) removeShape(engine, shape);
      else if (shape.points.length > 3) removePoint(engine, shape, point);
      else return; // a polygon keeps three points
      setPoint(null);
    } else return;
    e.preventDefault();
    e.stopPropagation();
  };
  return (
    <g className={idle ? "pointer-events-none" : "pointer-events-auto"} tabIndex={chosen ? 0 : -1} role="group" aria-label={`Shape ${shape.name}`} onKeyDown={keys}>
      <path d={d} fill={chosen ? "rgb(255 255 255 / 0.001)" : "none"} stroke="#000000" strokeWidth={3.5} className={chosen ? "cursor-move" : "cursor-pointer"} onPointerDown={chosen ? shift : (e) => (e.stopPropagation(), engine.choice.set({ shapeId: shape.id }))} {...handlers} />
      <path d={d} fill="none" stroke="#ffffff" strokeWidth={1.5} strokeDasharray={dashed} pointerEvents="none" />
      <text x={label.x} y={label.y} fill="#ffffff" stroke="#000000" strokeWidth={3} paintOrder="stroke" fontSize={12} pointerEvents="none">
        {shape.name}
      </text>
      {chosen && (
        <Handles shape={shape} lying={lying} frame={frame} points={points} mapping={mapping} begin={begin} draw={draw} by={by} handlers={handlers} point={point} setPoint={setPoint} />
      )}
    </g>
  );
}

type HandlesProps = {
  shape: Placed;
  lying: Placed;
  frame: number;
  points: XY[];
  mapping: Mapping;
  begin: (words: string, change: (p: XY, from: XY) => Partial<Shape>) => (e: PointerEvent) => void;
  draw: (words: string, change: (p: XY, from: XY) => Command[]) => (e: PointerEvent) => void;
  by: (make: (p: XY, from: XY) => Transform) => (p: XY, from: XY) => Partial<Shape>;
  handlers: object;
  point: number | null;
  setPoint: (n: number | null) => void;
};

function Handles({ shape, lying, frame, points, mapping, begin, draw, by, handlers, point, setPoint }: HandlesProps) {
  const engine = useEngine();
  const transform = transformOf(shape, frame);
  const home = inverse(transform);
  const middle = middleOf(points);
  const top = Math.min(...points.map((p) => mapping.toScreen(p).y));
  const right = Math.max(...points.map((p) => mapping.toScreen(p).x));
  const bottom = Math.max(...points.map((p) => mapping.toScreen(p).y));
  const m = mapping.toScreen(middle);
  const angle = (p: XY) => Math.atan2(p.y - middle.y, p.x - middle.x);
  const far = (p: XY) => Math.max(1, Math.hypot(p.x - middle.x, p.y - middle.y));
  const turn = begin(`${shape.name} turned`, by((p, from) => about(middle, 1, angle(p) - angle(from))));
  const size = begin(`${shape.name} scaled`, by((p, from) => about(middle, far(p) / far(from), 0)));
  const square = (p: XY, key: string, title: string, cursor: string, down: (e: PointerEvent) => void, on = false, more: object = {}) => (
    <rect key={key} x={p.x - HANDLE / 2} y={p.y - HANDLE / 2} width={HANDLE} height={HANDLE} fill={on ? "#000000" : "#ffffff"} stroke={on ? "#ffffff" : "#000000"} className={cursor} onPointerDown={down} {...handlers} {...more}>
      <title>{title}</title>
    </rect>
  );
  const own = isBox(shape) ? boxCorners(shape) : lying.points;
  const place = (p: XY) => mapping.toScreen(apply(transform, p));
  const pull = useChoice((s) => s.pull);
  /** Where a track bends the shape, what is dragged is the point as it was drawn, by as much. */
  const dragPoint = (n: number, reach: number) =>
    begin(reach ? `Points of ${shape.name} moved` : `Point of ${shape.name} moved`, (q) => {
      const [to, from, own] = [apply(home, q), lying.points[n]!, shape.points[n]!];
      return withPoint(shape, n, { x: own.x + to.x - from.x, y: own.y + to.y - from.y }, reach);
    });
  return (
    <>
      <line x1={m.x} y1={top} x2={m.x} y2={top - 22} stroke="#ffffff" pointerEvents="none" />
      <circle cx={m.x} cy={top - 24} r={6} fill="#ffffff" stroke="#000000" className="cursor-grab" onPointerDown={turn} {...handlers}>
        <title>Turn</title>
      </circle>
      {square({ x: right + 16, y: bottom + 10 }, "size", "Scale", "cursor-nwse-resize", size)}
      {isBox(shape)
        ? own.map((p, n) => square(place(p), `c${n}`, "Drag the corner", "cursor-crosshair", begin(`${shape.name} resized`, (q) => withCorner(shape, n, apply(home, q)))))
        : own.map((p, n) =>
            square(place(p), `p${n}`, `Drag; with Shift its neighbours come along${shape.kind === "path" ? "; double-click: corner or curve" : ""}; Delete removes`, "cursor-crosshair", (e) => (setPoint(n), dragPoint(n, e.shiftKey ? pull : 0)(e)), point === n, {
              onDoubleClick: () => shape.kind === "path" && editShape(engine, shape, { points: shape.points.map((old, k) => (k === n ? { ...old, corner: !old.corner, arrive: null, leave: null } : old)) }, `Point of ${shape.name}: ${shape.points[n]!.corner ? "curve" : "corner"}`),
            }),
          )}
      {!isBox(shape) &&
        own.map((_, n) => {
          const smooth = shape.kind === "path";
          const middle = withMiddle(lying.points, n, smooth)[n + 1]!;
          const at = place(middle);
          if (own.some((p) => apart(place(p), at) < ROOM)) return null;
          const add = draw(`Point added to ${shape.name}`, (r, from) => {
            if (apart(mapping.toScreen(r), mapping.toScreen(from)) < PULL) return [];
            const to = unbent(shape, frame, apply(home, r));
            const put = (points: Shape["points"]) => points.map((p, k) => (k === n + 1 ? { ...p, x: to.x, y: to.y } : p));
            return pathCommands(engine, shape, (points) => withMiddle(points, n, smooth), put);
          });
          return (
            <circle key={`m${n}`} cx={at.x} cy={at.y} r={3.5} fill="#000000" stroke="#ffffff" className="cursor-copy" onPointerDown={add} {...handlers}>
              <title>Drag to add a point</title>
            </circle>
          );
        })}
    </>
  );
}

/** A shape on its way: a box by dragging, a polygon or path by clicking. */
function Drawing({ kind, mapping, place }: { kind: Shape["kind"]; mapping: Mapping; place: (e: PointerEvent) => XY }) {
  const engine = useEngine();
  const [points, setPoints] = useState<XY[]>([]);
  const [pointer, setPointer] = useState<XY | null>(null);
  const box = kind === "ellipse" || kind === "rectangle";
  const finish = (list: XY[]) => {
    if (list.length >= 3) addShape(engine, kind, list);
  };
  useEffect(() => {
    const down = (e: globalThis.KeyboardEvent) => {
      if (e.key === "Enter" && !box) finish(points);
      if (e.key === "Backspace" && !box) setPoints(points.slice(0, -1));
    };
    window.addEventListener("keydown", down);
    return () => window.removeEventListener("keydown", down);
  });
  const near = (a: XY, b: XY) => apart(mapping.toScreen(a), mapping.toScreen(b)) < CLOSE;
  const press = (e: PointerEvent) => {
    if (e.button !== 0) return;
    e.stopPropagation();
    e.currentTarget.setPointerCapture(e.pointerId);
    const p = place(e);
    if (box) setPoints([p]);
    else if (points.length >= 3 && near(p, points[0]!)) finish(points);
    else setPoints([...points, p]);
    setPointer(p);
  };
  const release = (e: PointerEvent) => {
    e.stopPropagation();
    if (!box || !points[0]) return;
    const p = place(e);
    if (Math.abs(p.x - points[0].x) > 6 && Math.abs(p.y - points[0].y) > 6) addShape(engine, kind, [points[0], p]);
    setPoints([]);
  };
  const shown = box && points[0] && pointer ? outlineOf({ kind, points: [points[0], pointer], angle: 0 } as unknown as Shape) : pointer && points.length ? [...points, pointer] : points;
  const d = path(shown.map(mapping.toScreen), box);
  return (
    <g className="pointer-events-auto cursor-crosshair">
      <rect width="100%" height="100%" fill="transparent" onPointerDown={press} onPointerMove={(e) => (e.stopPropagation(), setPointer(place(e)))} onPointerUp={release} data-drawing={kind} />
      <path d={d} fill="none" stroke="#000000" strokeWidth={3.5} pointerEvents="none" />
      <path d={d} fill="none" stroke="#ffffff" strokeWidth={1.5} pointerEvents="none" />
      {!box && points.map((p, n) => <rect key={n} x={mapping.toScreen(p).x - 4} y={mapping.toScreen(p).y - 4} width={8} height={8} fill="#ffffff" stroke="#000000" pointerEvents="none" />)}
    </g>
  );
}
