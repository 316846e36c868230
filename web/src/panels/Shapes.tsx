import clsx from "clsx";
import { useState } from "react";

import { useCatalogue } from "../api/queries";
import type { ParamInfo, Shape } from "../api/types";
import { Button, Heading, ProgressBar, Segments } from "../ui/basics";
import { Menu } from "../ui/menu";
import { AnimatedRow, Pin } from "./Pin";
import { laneOf, PATH, SWITCH } from "../engine/lanes";
import { shapeToObject } from "../engine/objects";
import { copyPathHere, duplicateShape, editShape, pathsAround, removeShape, snapShape, trackShape } from "../engine/shapes";
import { useChoice, useEngine, useSelection, useShapes, useShown, useTime } from "./engine";
import { useAskName } from "../ui/prompt";
import { NumberOf } from "./NumberOf";
import { isBox, liesAt, worstFrame, type Placed } from "../engine/geometry";

const KINDS: { value: Shape["kind"]; name: string; how: string }[] = [
  { value: "ellipse", name: "Ellipse", how: "Drag a box for the ellipse." },
  { value: "rectangle", name: "Rectangle", how: "Drag a rectangle." },
  { value: "polygon", name: "Polygon", how: "Click the corners; click the first one again, or press Enter, to close." },
  { value: "path", name: "Path", how: "Click points of the curve; click the first one again, or press Enter, to close." },
];

const PULL = { key: "pull", name: "Brush", kind: "number", help: "How far around a point that is dragged with Shift others come along", unit: "px", low: 10, high: 600, step: 10, default: 120, animatable: false } as ParamInfo;

export const howToDraw = (kind: Shape["kind"]) => KINDS.find((k) => k.value === kind)!.how;

/** The fences of a selection. */
export function Shapes() {
  const engine = useEngine();
  const selection = useSelection();
  const shapes = useShapes();
  const drawing = useChoice((s) => s.drawing);
  const shapeId = useChoice((s) => s.shapeId);
  const chosen = shapes.find((s) => s.id === shapeId);
  return (
    <>
      <Heading
        aside={
          <Menu
            trigger={<button type="button" className="as-button">{drawing ? "drawing…" : "Draw"} ▾</button>}
            items={KINDS.map((k) => ({ name: k.name, checked: drawing === k.value, onSelect: () => engine.choice.set({ drawing: k.value, shapeId: null }) }))}
          />
        }
      >
        Shapes
      </Heading>
      {drawing && (
        <p className="mb-1 flex items-start justify-between gap-2 border border-strong px-2 py-1">
          {howToDraw(drawing)}
          <Button look="plain" className="px-1" onClick={() => engine.choice.set({ drawing: null })}>
            Cancel
          </Button>
        </p>
      )}
      {!shapes.length && !drawing && (
        <p className="text-[12px] text-quiet">
          {selection ? "A rough shape fences an intruder of the same hue off, or keeps only what is in it." : "Or draw a shape: what lies in it is selected, whatever its colour."}
        </p>
      )}
      <ul aria-label="Shapes">
        {shapes.map((shape) => (
          <Row key={shape.id} shape={shape} chosen={shape.id === shapeId} />
        ))}
      </ul>
      {chosen && <Chosen key={chosen.id} shape={chosen} />}
    </>
  );
}

function Row({ shape, chosen }: { shape: Placed; chosen: boolean }) {
  const askName = useAskName();
  const engine = useEngine();
  const tracked = shape.tracked;
  return (
    <li className={clsx("flex h-[26px] items-center gap-2 border-b border-line", chosen && "bg-raised", !shape.on && "text-quiet line-through")}>
      <button type="button" aria-pressed={chosen} className="flex min-w-0 flex-1 items-center gap-2 text-left" onClick={() => engine.choice.set({ shapeId: chosen ? null : shape.id })}>
        <span className={clsx("h-[12px] w-[12px] shrink-0 border border-ink", shape.kind === "ellipse" && "rounded-full", shape.mode === "leave out" && "border-dashed")} />
        <span className="truncate">{shape.name}</span>
        <span className="ml-auto shrink-0 text-quiet">
          {shape.mode}
          {tracked && " · tracked"}
        </span>
      </button>
      <Menu
        trigger={
          <button type="button" aria-label={`Do something with ${shape.name}`} className="px-1 text-quiet hover:text-ink">
            ⋯
          </button>
        }
        items={[
          { name: shape.on ? "Switch off" : "Switch on", onSelect: () => editShape(engine, shape, { on: !shape.on }, `${shape.name} switched ${shape.on ? "off" : "on"}`) },
          { name: "Rename…", onSelect: () => askName("Rename the shape", shape.name, (name) => editShape(engine, shape, { name }, `${shape.name} renamed to ${name}`)) },
          { name: "Duplicate", onSelect: () => duplicateShape(engine, shape) },
          { name: "Make an object of it here", onSelect: () => void shapeToObject(engine, shape) },
          { name: "Forget the track", disabled: !tracked, onSelect: () => editShape(engine, shape, { track: "", corrections: [] }, `Track of ${shape.name} removed`) },
          "line",
          { name: "Remove", onSelect: () => removeShape(engine, shape) },
        ]}
      />
    </li>
  );
}

function Chosen({ shape }: { shape: Placed }) {
  const engine = useEngine();
  const { data } = useCatalogue();
  const tracking = useChoice((s) => s.tracking);
  const selectionId = useChoice((s) => s.selectionId);
  const pull = useChoice((s) => s.pull);
  const [bends, setBends] = useState(shape.track.some((t) => t.bend?.length));
  const setPull = (value: unknown) => engine.choice.set({ pull: Number(value) });
  const values = shape as unknown as Record<string, number>;
  const params = (data?.shape ?? []).filter((p) => p.key !== "angle" || shape.kind === "ellipse" || shape.kind === "rectangle");
  const modes: { value: Shape["mode"] & string; name: string }[] = [
    { value: "keep", name: "Keep" },
    { value: "leave out", name: "Leave out" },
  ];
  return (
    <div className="mt-1">
      <Segments boxed label="What the shape does" value={shape.mode!} options={modes} onChange={(mode) => editShape(engine, shape, { mode }, `${shape.name}: ${mode}`)} />
      <PathRow shape={shape} target={`selections/${selectionId}/shapes/${shape.id}/points`} />
      {[SWITCH, ...params].map((p) => (
        <AnimatedRow key={p.key} target={`selections/${selectionId}/shapes/${shape.id}/${p.key}`} info={p} plain={values[p.key] ?? p.default} prefix={`${shape.name}: `} />
      ))}
      {tracking?.shape === shape.id ? (
        <div className="mt-1 flex items-center gap-2" role="status">
          <ProgressBar value={tracking.done / tracking.total} label="Tracking" />
          <span className="shrink-0">frame {tracking.frame}</span>
          <Button onClick={tracking.stop}>Cancel</Button>
        </div>
      ) : (
        <div className="mt-1 flex flex-wrap items-center gap-1.5">
          <span className="text-quiet">Track</span>
          {(["backward", "both", "forward"] as const).map((direction) => (
            <Button key={direction} className="px-2" disabled={!!tracking} onClick={() => void trackShape(engine, shape.id, direction, bends && !isBox(shape))}>
              {{ backward: "◂ back", both: "both", forward: "forward ▸" }[direction]}
            </Button>
          ))}
          {!isBox(shape) && (
            <label className="flex items-center gap-1" title="Each point goes its own way with the edge of what is in the shape; slower">
              <input type="checkbox" checked={bends} onChange={(e) => setBends(e.target.checked)} />
              bends
            </label>
          )}
        </div>
      )}
      {shape.track.length > 0 && <HowItLies shape={shape} />}
      {!isBox(shape) && (
        <>
          <NumberOf info={PULL} value={pull} onLive={setPull} onCommit={setPull} />
          <Button className="mt-1" title="Its points go to the nearest strong edge of this frame" onClick={() => void snapShape(engine, shape)}>
            Lay on the edge
          </Button>
        </>
      )}
    </div>
  );
}

/** How well a tracked outline lies on an edge, here and where it does so worst. */
function HowItLies({ shape }: { shape: Placed }) {
  const engine = useEngine();
  const frame = useTime((s) => s.frame);
  const [here, worst] = [liesAt(shape.track, frame), worstFrame(shape.track)];
  if (!worst) return null;
  return (
    <p className="mt-1 flex items-center justify-between gap-2 text-[12px] text-quiet" title="How strong the edge under the outline is, beside where tracking began">
      <span>{here === null ? "" : `Lies on its edge: ${Math.round(100 * here)} %`}</span>
      <Button className="h-[22px] shrink-0 px-1.5" disabled={worst.frame === frame} title={`Frame ${worst.frame}: ${Math.round(100 * worst.lies)} %`} onClick={() => engine.go(worst.frame)}>
        Worst frame ▸
      </Button>
    </p>
  );
}

/** The outline itself: still, or keyframed by hand, with copies from the keyframes around. */
function PathRow({ shape, target }: { shape: Placed; target: string }) {
  const engine = useEngine();
  const animated = useShown((d) => laneOf(d, target) !== null);
  useTime((s) => s.frame);
  const { before, after } = pathsAround(engine, shape);
  return (
    <div className="-ml-[12px] flex h-[26px] items-center gap-[1px]">
      <Pin target={target} info={PATH} shown={shape.points} />
      <span className="flex-1">Path</span>
      {animated ? (
        <Menu
          trigger={<button type="button" className="as-button text-quiet hover:text-ink">copy to this frame ▾</button>}
          items={[
            { name: before ? `From frame ${before.frame}` : "From the keyframe before", disabled: !before, onSelect: () => before && copyPathHere(engine, shape, before) },
            { name: after ? `From frame ${after.frame}` : "From the keyframe after", disabled: !after, onSelect: () => after && copyPathHere(engine, shape, after) },
            "line",
            { name: "Go to the keyframe before", disabled: !before, onSelect: () => before && engine.go(before.frame) },
            { name: "Go to the keyframe after", disabled: !after, onSelect: () => after && engine.go(after.frame) },
          ]}
        />
      ) : (
        <span className="text-[12px] text-quiet">stands still</span>
      )}
    </div>
  );
}
