import { useState, type PointerEvent } from "react";

import type { Stroke } from "../api/types";
import type { Brush } from "../engine/choice";
import { objectsOf, placesOf, stroked } from "../engine/objects";
import type { XY } from "../engine/paths";
import { useDrag } from "../ui/drag";
import { useChoice, useEngine, useOfSelection, useTime } from "./engine";
import type { Mapping } from "./mapping";

const HINTS = { this: "Stroke what it is; hold Alt for what it is not.", "not this": "Stroke what it is not.", "rub out": "Draw over the strokes that are to go." };

export const howToStroke = (kind: Brush["kind"]) => HINTS[kind];

/** The strokes of the chosen object on this frame, and the brush. */
export function Strokes({ mapping, place, hidden }: { mapping: Mapping; place: (e: PointerEvent) => XY; hidden: boolean }) {
  const objectId = useChoice((s) => s.objectId);
  const brush = useChoice((s) => s.brush);
  const frame = useTime((s) => s.frame);
  const part = useOfSelection((s) => objectsOf(s).find((o) => o.id === objectId));
  if (!part) return null;
  return (
    <>
      {!hidden && part.strokes?.filter((s) => s.frame === frame).map((s) => <Line key={s.id} points={placesOf(s)} kind={s.kind!} mapping={mapping} />)}
      {brush && <Drawing brush={brush} mapping={mapping} place={place} />}
    </>
  );
}

function Line({ points, kind, mapping }: { points: readonly XY[]; kind: Stroke["kind"] | Brush["kind"]; mapping: Mapping }) {
  const at = points.map(mapping.toScreen);
  const d = at.length === 1 ? `M${at[0]!.x - 0.1} ${at[0]!.y}h0.2` : at.map((p, n) => `${n ? "L" : "M"}${p.x.toFixed(1)} ${p.y.toFixed(1)}`).join("");
  return (
    <g fill="none" strokeLinecap="round" strokeLinejoin="round" data-stroke={kind}>
      <path d={d} stroke="#000000" strokeWidth={5} />
      <path d={d} stroke="#ffffff" strokeWidth={3} strokeDasharray={kind === "this" ? undefined : kind === "not this" ? "7 7" : "1 6"} />
    </g>
  );
}

type Held = { points: XY[]; kind: Brush["kind"] };

/** Takes the pointer while there is a brush, and shows how wide it is. */
function Drawing({ brush, mapping, place }: { brush: Brush; mapping: Mapping; place: (e: PointerEvent) => XY }) {
  const engine = useEngine();
  const [line, setLine] = useState<Held | null>(null);
  const [at, setAt] = useState<XY | null>(null);
  const drag = useDrag<Held>({
    move: (held, e) => {
      const next = { ...held, points: [...held.points, place(e)] };
      setLine(next);
      return next;
    },
    end: (held) => {
      stroked(engine, held.points, held.kind);
      setLine(null);
    },
    giveUp: () => setLine(null),
  });
  const kindOf = (e: PointerEvent): Brush["kind"] => (e.altKey && brush.kind !== "rub out" ? (brush.kind === "this" ? "not this" : "this") : brush.kind);
  const radius = at ? mapping.toScreen({ x: brush.radius, y: 0 }).x - mapping.toScreen({ x: 0, y: 0 }).x : 0;
  const spot = at && mapping.toScreen(at);
  return (
    <>
      {line && <Line points={line.points} kind={line.kind} mapping={mapping} />}
      <rect
        width="100%"
        height="100%"
        fill="transparent"
        aria-label={HINTS[brush.kind]}
        className="pointer-events-auto cursor-none touch-none"
        onPointerDown={(e) => {
          if (e.button !== 0) return;
          e.stopPropagation();
          const first = { points: [place(e)], kind: kindOf(e) };
          setLine(first);
          drag.begin(e, first);
        }}
        {...drag.handlers}
        onPointerMove={(e) => {
          setAt(place(e));
          drag.handlers.onPointerMove(e);
        }}
        onPointerLeave={() => setAt(null)}
      />
      {spot && (
        <g fill="none" className="pointer-events-none">
          <circle cx={spot.x} cy={spot.y} r={radius} stroke="#000000" strokeWidth={3} />
          <circle cx={spot.x} cy={spot.y} r={radius} stroke="#ffffff" strokeWidth={1.3} strokeDasharray={brush.kind === "this" ? undefined : "4 3"} />
        </g>
      )}
    </>
  );
}
