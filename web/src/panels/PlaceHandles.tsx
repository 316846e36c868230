import { type KeyboardEvent, type PointerEvent, useRef } from "react";

import type { XY } from "../engine/paths";
import { useDrag } from "../ui/drag";
import type { Mapping } from "./mapping";

const HANDLE = 10; // pixels on the screen
const STEP = 5.4; // lines of 1080 that an arrow moves

/** What is changed of a place: where its middle is, by how much it is larger, how far it is turned (degrees). */
export type Change = { middle?: XY; scale?: number; turn?: number };

type Props = {
  name: string;
  /** In pixels of a picture of 1080 lines. */
  middle: XY;
  half: XY;
  turn: number;
  mapping: Mapping;
  onLive: (change: Change | null) => void;
  onCommit: (change: Change, words: string) => void;
};
type Drag = { change: (p: XY) => Change; last: Change | null; words: string };

/** A frame around what lies somewhere in the picture: moved by its edge or middle, scaled by its corners, turned by the knob above it; by keys too. */
export function PlaceHandles({ name, middle, half, turn, mapping, onLive, onCommit }: Props) {
  const group = useRef<SVGGElement>(null);
  const { begin, handlers } = useDrag<Drag>({
    move: (d, e) => {
      const last = d.change(place(e));
      onLive(last);
      return { ...d, last };
    },
    end: ({ last, words }) => last && onCommit(last, words),
    giveUp: () => onLive(null),
  });
  const [cos, sin] = [Math.cos((turn * Math.PI) / 180), Math.sin((turn * Math.PI) / 180)];
  const at = (x: number, y: number): XY => mapping.toScreen({ x: middle.x + x * half.x * cos - y * half.y * sin, y: middle.y + x * half.x * sin + y * half.y * cos });
  const corners = [at(-1, -1), at(1, -1), at(1, 1), at(-1, 1)];
  const top = at(0, -1);
  const m = mapping.toScreen(middle);
  const long = Math.max(1, Math.hypot(top.x - m.x, top.y - m.y));
  const above: XY = { x: top.x + ((top.x - m.x) / long) * 24, y: top.y + ((top.y - m.y) / long) * 24 };
  const place = (e: PointerEvent): XY => {
    const box = group.current!.ownerSVGElement!.getBoundingClientRect();
    return mapping.toPicture({ x: e.clientX - box.left, y: e.clientY - box.top });
  };
  const hold = (words: string, change: (p: XY, from: XY) => Change) => (e: PointerEvent) => {
    if (e.button !== 0) return;
    e.stopPropagation();
    const from = place(e);
    begin(e, { change: (p) => change(p, from), last: null, words });
  };
  const far = (p: XY) => Math.max(1, Math.hypot(p.x - middle.x, p.y - middle.y));
  const angle = (p: XY) => (Math.atan2(p.y - middle.y, p.x - middle.x) * 180) / Math.PI;
  const move = hold("moved", (p, from) => ({ middle: { x: middle.x + p.x - from.x, y: middle.y + p.y - from.y } }));
  const size = hold("scaled", (p, from) => ({ scale: far(p) / far(from) }));
  const spin = hold("turned", (p, from) => ({ turn: turn + angle(p) - angle(from) }));
  const keys = (e: KeyboardEvent) => {
    const step = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, -1], ArrowDown: [0, 1] }[e.key];
    if (!step) return;
    e.preventDefault();
    e.stopPropagation();
    const [by, along] = [e.shiftKey ? 10 : 1, step[0]! || -step[1]!];
    if (e.altKey) onCommit({ turn: turn + along * by }, "turned");
    else if (e.ctrlKey) onCommit({ scale: 1 + (along * by) / 100 }, "scaled");
    else onCommit({ middle: { x: middle.x + step[0]! * by * STEP, y: middle.y + step[1]! * by * STEP } }, "moved");
  };
  const d = `${corners.map((p, n) => `${n ? "L" : "M"}${p.x.toFixed(1)} ${p.y.toFixed(1)}`).join("")}Z`;
  return (
    <g ref={group} className="pointer-events-auto" tabIndex={0} role="group" aria-label={`Place of ${name}: arrows move it, with Alt they turn it, with Ctrl they scale it`} onKeyDown={keys}>
      <path d={d} fill="none" stroke="#000000" strokeWidth={5} className="cursor-move" onPointerDown={move} {...handlers} />
      <path d={d} fill="none" stroke="#ffffff" strokeWidth={1.5} strokeDasharray="6 3" pointerEvents="none" />
      <line x1={top.x} y1={top.y} x2={above.x} y2={above.y} stroke="#ffffff" pointerEvents="none" />
      <circle cx={above.x} cy={above.y} r={6} fill="#ffffff" stroke="#000000" className="cursor-grab" aria-label="Turn" onPointerDown={spin} {...handlers}>
        <title>Turn</title>
      </circle>
      {corners.map((p, n) => (
        <rect key={n} x={p.x - HANDLE / 2} y={p.y - HANDLE / 2} width={HANDLE} height={HANDLE} fill="#ffffff" stroke="#000000" className="cursor-nwse-resize" aria-label={`Corner ${n + 1}`} onPointerDown={size} {...handlers}>
          <title>Scale</title>
        </rect>
      ))}
      <circle cx={m.x} cy={m.y} r={8} fill="#ffffff" stroke="#000000" className="cursor-move" aria-label="Move" onPointerDown={move} {...handlers}>
        <title>Move</title>
      </circle>
    </g>
  );
}
