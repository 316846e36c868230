import { useQuery } from "@tanstack/react-query";
import clsx from "clsx";
import { useRef, useState, type KeyboardEvent, type PointerEvent, type ReactNode } from "react";

import { ask, client } from "../../api/client";
import { hexOf } from "../../colour/oklch";
import { useAtRest, useDoc, useSettledFrame, useStage, useView } from "../engine";
import { useDrag } from "../../ui/drag";

export const WIDTH = 254;
export const HEIGHT = 136;

/** What the lines of the channels are drawn with: data, so in colour. */
export const INKS = { luma: "#ffffff", red: "#ff7a70", green: "#6fe08a", blue: "#7fa4ff" };

export type Channel = "luma" | "red" | "green" | "blue";

/** How tones are spread in the picture that a pass reads. */
export function useHistogram(upto: number) {
  const view = useView();
  const begun = useStage((s) => s.begun);
  const { frame, revision } = useAtRest(String(upto));
  const { data } = useQuery({
    queryKey: ["histogram", view.shot.id, revision, frame, upto],
    enabled: begun,
    placeholderData: (before) => before,
    queryFn: () => ask(client.GET("/api/shots/{shot_id}/histogram/{revision}/{frame}", { params: { path: { shot_id: view.shot.id, revision, frame }, query: { upto } } })),
  });
  return data;
}

/** The histogram as an area, for behind a curve. */
export function HistogramShape({ upto, channel = "luma", height = HEIGHT }: { upto: number; channel?: Channel; height?: number }) {
  const data = useHistogram(upto);
  if (!data) return null;
  const shares = data[channel];
  const top = [...shares].sort((a, b) => a - b)[Math.floor(shares.length * 0.98)] || Math.max(...shares) || 1;
  const step = WIDTH / shares.length;
  const path = shares.map((s, n) => `L${(n * step).toFixed(1)} ${(height - Math.min(s / top, 1) * height * 0.92).toFixed(1)}`).join("");
  return <path d={`M0 ${height}${path}L${WIDTH} ${height}Z`} className="fill-current text-strong" opacity={0.55} />;
}

/** The frame's colours behind a hue axis. */
export function CensusBehind() {
  const shot = useDoc((s) => s.view.shot.id);
  const begun = useStage((s) => s.begun);
  const frame = useSettledFrame();
  if (!begun) return null;
  return (
    <>
      <image href={`/api/shots/${shot}/census/${frame}.png?up=chroma`} width={WIDTH} height={HEIGHT} preserveAspectRatio="none" opacity={0.75} />
      {Array.from({ length: 60 }, (_, n) => (
        <rect key={n} x={(n / 60) * WIDTH} y={HEIGHT - 4} width={WIDTH / 60 + 0.5} height={4} fill={hexOf(0.7, 0.12, (n + 0.5) * 6)} />
      ))}
    </>
  );
}

/** id: what it is named by in the callbacks; value: its height, as a number. */
export type Handle = { id: string; x: number; y: number; name: string; words: string; value: number };

type Props = {
  label: string;
  /** Handles in pixels of the plot. */
  handles: Handle[];
  chosen: string;
  onChoose: (id: string) => void;
  /** A handle was dragged to a place: answer with what it is named by now. */
  onDrag: (id: string, x: number, y: number) => string;
  /** A press on the empty plot made one: answer with its id, or null where none can be made. */
  onMake?: (x: number, y: number) => string | null;
  onDrop: (id: string, beyond: boolean) => void;
  /** The drag was given up. */
  onGiveUp: () => void;
  /** Arrow keys: steps of 1 to the right and up. */
  onStep: (id: string, dx: number, dy: number) => void;
  onRemove?: (id: string) => void;
  behind?: ReactNode;
  children?: ReactNode;
  height?: number;
};

const NEAR = 10;
const BEYOND = 26; // pixels outside the plot from which a dragged handle is taken away

/** A plot with handles: the ground that curve-like editors stand on. */
export function Plot({ label, handles, chosen, onChoose, onDrag, onMake, onDrop, onGiveUp, onStep, onRemove, behind, children, height = HEIGHT }: Props) {
  const svg = useRef<SVGSVGElement>(null);
  const [leaving, setLeaving] = useState(false);
  const place = (e: PointerEvent) => {
    const box = svg.current!.getBoundingClientRect();
    return { x: ((e.clientX - box.left) / box.width) * WIDTH, y: ((e.clientY - box.top) / box.height) * height };
  };
  const { begin, handlers: pointer } = useDrag<{ id: string; beyond: boolean }>({
    move: ({ id }, e) => {
      const at = place(e);
      const beyond = !!onRemove && (at.x < -BEYOND || at.x > WIDTH + BEYOND || at.y < -BEYOND || at.y > height + BEYOND);
      setLeaving(beyond);
      return { id: onDrag(id, Math.min(Math.max(at.x, 0), WIDTH), Math.min(Math.max(at.y, 0), height)), beyond };
    },
    end: ({ id, beyond }) => {
      setLeaving(false);
      onDrop(id, beyond);
    },
    giveUp: () => {
      setLeaving(false);
      onGiveUp();
    },
  });
  const down = (e: PointerEvent) => {
    if (e.button !== 0) return;
    const at = place(e);
    const distances = handles.map((h) => Math.hypot(h.x - at.x, h.y - at.y));
    const nearest = distances.indexOf(Math.min(...distances));
    const there = nearest >= 0 && distances[nearest]! <= NEAR ? handles[nearest]!.id : null;
    if (there === null && !onMake) return;
    begin(e, () => {
      const id = there ?? onMake!(at.x, at.y);
      if (id !== null) onChoose(id);
      return id === null ? null : { id, beyond: false };
    }, svg.current!);
  };
  const key = (id: string) => (e: KeyboardEvent) => {
    if (onRemove && (e.key === "Delete" || e.key === "Backspace")) {
      e.preventDefault();
      e.stopPropagation();
      return onRemove(id);
    }
    const by = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, 1], ArrowDown: [0, -1] }[e.key];
    if (!by) return;
    e.preventDefault();
    e.stopPropagation();
    const times = e.shiftKey ? 10 : e.altKey ? 0.1 : 1;
    onStep(id, by[0]! * times, by[1]! * times);
  };
  return (
    <svg
      ref={svg}
      role="group"
      aria-label={label}
      viewBox={`0 0 ${WIDTH} ${height}`}
      className="block w-full touch-none border border-line bg-black text-white select-none"
      style={{ height }}
      onPointerDown={down}
      {...pointer}
    >
      {behind}
      {[0.25, 0.5, 0.75].map((t) => (
        <g key={t} stroke="white" strokeOpacity={0.16}>
          <line x1={t * WIDTH} x2={t * WIDTH} y1={0} y2={height} />
          <line x1={0} x2={WIDTH} y1={t * height} y2={t * height} />
        </g>
      ))}
      {children}
      {handles.map((h, n) => (
        <rect
          key={n} // handles keep their order, and the focus while what they are named by changes
          role="slider"
          tabIndex={0}
          aria-label={h.name}
          aria-valuenow={h.value}
          aria-valuetext={h.words}
          x={h.x - 4.5}
          y={h.y - 4.5}
          width={9}
          height={9}
          strokeWidth={1.5}
          className={clsx("cursor-move", h.id === chosen && leaving && "opacity-30")}
          fill={h.id === chosen ? "white" : "black"}
          stroke={h.id === chosen ? "black" : "white"}
          style={{ outlineOffset: 2 }}
          onFocus={() => onChoose(h.id)}
          onKeyDown={key(h.id)}
        >
          <title>{`${h.name}: ${h.words}`}</title>
        </rect>
      ))}
    </svg>
  );
}
