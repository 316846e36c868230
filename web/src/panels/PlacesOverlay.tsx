import { useQuery } from "@tanstack/react-query";
import { type KeyboardEvent, type PointerEvent, useRef } from "react";

import { ask, client } from "../api/client";
import { useCatalogue, useProject } from "../api/queries";
import type { ParamInfo, Pass } from "../api/types";
import type { XY } from "../engine/paths";
import { useDrag } from "../ui/drag";
import { useBundle, useEngine, useParamValues, usePass, useView } from "./engine";
import type { Mapping } from "./ShapesOverlay";

const HANDLE = 10; // pixels on the screen
const KEYS = ["centre_x", "centre_y", "size", "turn"] as const;
type Values = Record<(typeof KEYS)[number], number>;

/** Handles of what the chosen pass puts somewhere: a still, another shot, the picture itself. */
export function PlacesOverlay({ mapping }: { mapping: Mapping }) {
  const pass = usePass();
  const bundle = useBundle();
  const { data } = useCatalogue();
  const params = data?.treatments.find((t) => t.id === pass?.treatment)?.params ?? [];
  const infos = KEYS.map((key) => params.find((p) => p.key === key));
  if (!pass || bundle || !pass.on || infos.some((i) => !i)) return null;
  return <Handles key={pass.id} pass={pass} infos={infos as ParamInfo[]} mapping={mapping} />;
}

/** Width over height of what a pass puts somewhere; null where nothing is chosen yet. */
function useAspect(pass: Pass): number | null {
  const view = useView();
  const { picture, shot } = pass.params as { picture?: string; shot?: string };
  const files = useQuery({ queryKey: ["files"], enabled: picture !== undefined, queryFn: () => ask(client.GET("/api/files")) });
  const project = useProject(shot === undefined ? undefined : view.project_id);
  const of = (facts: { width: number; height: number } | undefined) => (facts ? facts.width / facts.height : null);
  if (picture !== undefined) return of(files.data?.find((f) => f.digest === picture)?.facts as { width: number; height: number } | undefined);
  if (shot === undefined) return of(view.footage.facts);
  const footage = project.data?.shots.find((s) => s.id === shot)?.footage_id;
  return of(project.data?.footage.find((f) => f.id === footage)?.facts);
}

type Drag = { change: (p: XY) => Partial<Values>; last: Partial<Values> | null; words: string };

function Handles({ pass, infos, mapping }: { pass: Pass; infos: ParamInfo[]; mapping: Mapping }) {
  const engine = useEngine();
  const { facts } = useView().footage;
  const aspect = useAspect(pass);
  const now = useParamValues(pass.id, infos, pass.params as Record<string, unknown>);
  const group = useRef<SVGGElement>(null);
  const value = Object.fromEntries(infos.map((i) => [i.key, Number(now[i.key] ?? i.default)])) as Values;
  const written = (change: Partial<Values>) =>
    infos.filter((i) => i.key in change).map((info) => {
      const v = change[info.key as keyof Values]!;
      const round = info.period ? ((((v + 180) % 360) + 360) % 360) - 180 : v;
      return { target: `passes/${pass.id}/params/${info.key}`, info, value: Number(Math.min(Math.max(round, info.low), info.high).toFixed(2)) };
    });
  const { begin, handlers } = useDrag<Drag>({
    move: (d, e) => {
      const last = d.change(place(e));
      engine.target.show(written(last));
      return { ...d, last };
    },
    end: ({ last, words }) => last && void engine.target.write(written(last), `${pass.name} ${words}`),
    giveUp: () => engine.document.drop(),
  });
  if (aspect === null) return null;
  const width = (1080 * facts.width) / facts.height;
  const middle: XY = { x: (value.centre_x / 100) * width, y: (value.centre_y / 100) * 1080 };
  const half = { x: (value.size / 200) * 1080 * aspect, y: (value.size / 200) * 1080 };
  const turn = (value.turn * Math.PI) / 180;
  const at = (x: number, y: number): XY => mapping.toScreen({ x: middle.x + x * half.x * Math.cos(turn) - y * half.y * Math.sin(turn), y: middle.y + x * half.x * Math.sin(turn) + y * half.y * Math.cos(turn) });
  const corners = [at(-1, -1), at(1, -1), at(1, 1), at(-1, 1)];
  const top = at(0, -1);
  const m = mapping.toScreen(middle);
  const long = Math.max(1, Math.hypot(top.x - m.x, top.y - m.y));
  const above: XY = { x: top.x + ((top.x - m.x) / long) * 24, y: top.y + ((top.y - m.y) / long) * 24 };
  const place = (e: PointerEvent): XY => {
    const box = group.current!.ownerSVGElement!.getBoundingClientRect();
    return mapping.toPicture({ x: e.clientX - box.left, y: e.clientY - box.top });
  };
  const hold = (words: string, change: (p: XY, from: XY) => Partial<Values>) => (e: PointerEvent) => {
    if (e.button !== 0) return;
    e.stopPropagation();
    const from = place(e);
    begin(e, { change: (p) => change(p, from), last: null, words });
  };
  const far = (p: XY) => Math.max(1, Math.hypot(p.x - middle.x, p.y - middle.y));
  const angle = (p: XY) => (Math.atan2(p.y - middle.y, p.x - middle.x) * 180) / Math.PI;
  const move = hold("moved", (p, from) => ({ centre_x: value.centre_x + ((p.x - from.x) / width) * 100, centre_y: value.centre_y + ((p.y - from.y) / 1080) * 100 }));
  const size = hold("scaled", (p, from) => ({ size: (value.size * far(p)) / far(from) }));
  const spin = hold("turned", (p, from) => ({ turn: value.turn + angle(p) - angle(from) }));
  const keys = (e: KeyboardEvent) => {
    const step = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, -1], ArrowDown: [0, 1] }[e.key];
    if (!step) return;
    e.preventDefault();
    e.stopPropagation();
    const [far, along] = [e.shiftKey ? 10 : 1, step[0]! || -step[1]!];
    const change: Partial<Values> = e.altKey ? { turn: value.turn + along * far } : e.ctrlKey ? { size: value.size + along * far } : { centre_x: value.centre_x + (step[0]! * far) / 2, centre_y: value.centre_y + (step[1]! * far) / 2 };
    void engine.target.write(written(change), `${pass.name} ${e.altKey ? "turned" : e.ctrlKey ? "scaled" : "moved"}`);
  };
  const d = `${corners.map((p, n) => `${n ? "L" : "M"}${p.x.toFixed(1)} ${p.y.toFixed(1)}`).join("")}Z`;
  return (
    <g ref={group} className="pointer-events-auto" tabIndex={0} role="group" aria-label={`Place of ${pass.name}: arrows move it, with Alt they turn it, with Ctrl they scale it`} onKeyDown={keys}>
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
