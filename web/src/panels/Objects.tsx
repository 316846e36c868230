import clsx from "clsx";
import { useEffect } from "react";

import { useCatalogue } from "../api/queries";
import type { ObjectPart, ParamInfo } from "../api/types";
import type { Brush } from "../engine/choice";
import { addObject, carriedWords, editObject, followObject, nextAsking, objectTarget, objectToShape, removeObject, takeBrush } from "../engine/objects";
import { NumberOf } from "./NumberOf";
import { Button, Heading, ProgressBar, Segments } from "../ui/basics";
import { Menu } from "../ui/menu";
import { useAskName } from "../ui/prompt";
import { useChoice, useEngine, useOfSelection, useSelection, useTime } from "./engine";
import { ParamRow } from "./ParamRow";

const MODES: { value: NonNullable<ObjectPart["mode"]>; name: string; tip: string }[] = [
  { value: "keep", name: "Keep", tip: "Of what the colours select, only what lies in it" },
  { value: "leave out", name: "Leave out", tip: "Of what the colours select, only what lies outside it" },
  { value: "is", name: "Is it", tip: "It is the selection, whatever its colours" },
];
const BRUSHES: { value: Brush["kind"]; name: string; tip: string }[] = [
  { value: "this", name: "This", tip: "Stroke what it is; with Alt what it is not (Shift P)" },
  { value: "not this", name: "Not this", tip: "Stroke what it is not (Shift N)" },
  { value: "rub out", name: "Rub out", tip: "Take strokes of this frame away" },
];

const BRUSH: ParamInfo = { key: "brush", name: "Brush", kind: "number", help: "How wide a line is (< and > make it smaller and larger)", unit: "px", low: 2, high: 400, step: 1, default: 24, animatable: false } as ParamInfo;

/** The things that a selection keeps, or leaves out: stroked on the picture, carried through the shot. */
export function Objects() {
  const engine = useEngine();
  const selection = useSelection();
  const objectId = useChoice((s) => s.objectId);
  const parts = useOfSelection((s) => s?.objects) ?? [];
  const chosen = parts.find((o) => o.id === objectId);
  useEffect(() => followObject(engine), [engine]);
  return (
    <>
      <Heading
        aside={
          <button type="button" className="as-button" onClick={() => addObject(engine)}>
            Stroke one
          </button>
        }
      >
        Objects
      </Heading>
      {!parts.length && (
        <p className="text-[12px] text-quiet">
          {selection ? "Where colour cannot tell two things apart: stroke the one you mean, and it is carried through the shot." : "Or stroke a thing: two lines on it, and it is carried through the shot."}
        </p>
      )}
      <ul aria-label="Objects">
        {parts.map((part) => (
          <Row key={part.id} part={part} chosen={part.id === objectId} />
        ))}
      </ul>
      {chosen && <Chosen key={chosen.id} part={chosen} />}
    </>
  );
}

function Row({ part, chosen }: { part: ObjectPart; chosen: boolean }) {
  const engine = useEngine();
  const askName = useAskName();
  const choose = () => engine.choice.set(chosen ? { objectId: null, brush: null } : { objectId: part.id, shapeId: null });
  return (
    <li className={clsx("flex h-[26px] items-center gap-2 border-b border-line", chosen && "bg-raised", !part.on && "text-quiet line-through")}>
      <button type="button" aria-pressed={chosen} className="flex min-w-0 flex-1 items-center gap-2 text-left" onClick={choose}>
        <span className="truncate">{part.name}</span>
        <span className="ml-auto shrink-0 text-quiet">{MODES.find((m) => m.value === part.mode)!.name.toLowerCase()}</span>
      </button>
      <Menu
        trigger={
          <button type="button" aria-label={`Do something with ${part.name}`} className="px-1 text-quiet hover:text-ink">
            ⋯
          </button>
        }
        items={[
          { name: part.on ? "Switch off" : "Switch on", onSelect: () => editObject(engine, part, { on: !part.on }, `${part.name} switched ${part.on ? "off" : "on"}`) },
          { name: "Rename…", onSelect: () => askName("Rename the object", part.name, (name) => editObject(engine, part, { name }, `${part.name} renamed to ${name}`)) },
          { name: "Make a shape of it here", disabled: !part.strokes?.length, onSelect: () => void objectToShape(engine, part) },
          { name: "Forget its strokes", disabled: !part.strokes?.length, onSelect: () => editObject(engine, part, { strokes: [] }, `Strokes of ${part.name} removed`) },
          "line",
          { name: "Remove", onSelect: () => removeObject(engine, part) },
        ]}
      />
    </li>
  );
}

function Chosen({ part }: { part: ObjectPart }) {
  const engine = useEngine();
  const { data } = useCatalogue();
  const brush = useChoice((s) => s.brush);
  const values = part as unknown as Record<string, number>;
  const size = (value: unknown) => brush && engine.choice.set({ brush: { ...brush, radius: Number(value) / 2 } });
  const setMode = (mode: NonNullable<ObjectPart["mode"]>) => editObject(engine, part, { mode }, `${part.name}: ${MODES.find((m) => m.value === mode)!.name.toLowerCase()}`);
  return (
    <div className="mt-1">
      <Segments boxed wide label="What a line in the picture is" value={brush?.kind ?? ""} options={BRUSHES} onChange={(kind) => kind && takeBrush(engine, kind)} />
      {brush && <NumberOf info={BRUSH} value={2 * brush.radius} onLive={size} onCommit={size} />}
      <Segments boxed label="What the object does" value={part.mode!} options={MODES} onChange={setMode} />
      {data?.object.map((info) => (
        <ParamRow
          key={info.key}
          info={info}
          value={values[info.key] ?? info.default}
          onLive={(value) => engine.document.show([{ do: "set", target: objectTarget(engine, part, info.key), value }])}
          onCommit={(value, words) => editObject(engine, part, { [info.key]: value }, `${part.name}: ${words}`)}
        />
      ))}
      <CarriedWords part={part} />
    </div>
  );
}

/** How far it is carried, and where a stroke is asked for. */
function CarriedWords({ part }: { part: ObjectPart }) {
  const engine = useEngine();
  const sure = useChoice((s) => (s.sure?.object === part.id ? s.sure : null));
  const frame = useTime((s) => s.frame);
  const count = engine.timeline.ends.last - engine.timeline.ends.first + 1;
  if (!part.strokes?.some((s) => s.kind === "this")) return <p className="mt-1 text-[12px] text-quiet">Draw one or two lines on it. Where it reaches too far, draw what it is not, with Alt held.</p>;
  if (!sure) return <p className="mt-1 text-[12px] text-quiet">It is being carried…</p>;
  const next = nextAsking(sure.values, frame, 1);
  return (
    <div className="mt-1 text-[12px]" role="status" aria-label="How far the object is carried">
      {!sure.over && <ProgressBar value={sure.done / count} label="Carrying" />}
      <p className="mt-1 flex items-center justify-between gap-2 text-quiet">
        <span>
          {sure.over ? "Carried" : "Carrying"}: {carriedWords(sure, count)}
        </span>
        {next !== null && (
          <Button className="h-[22px] shrink-0 px-1.5" title="Next place that asks for a stroke" does="weak" onClick={() => engine.go(next)}>
            Next ▸
          </Button>
        )}
      </p>
    </div>
  );
}
