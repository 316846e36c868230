import { useMemo, useState, type ComponentType } from "react";

import type { ParamInfo } from "../../api/types";
import { counts } from "../../engine/params";
import type { Point } from "../../engine/monotone";
import type { Loose } from "../../colour/stops";
import { Segments } from "../../ui/basics";
import { useEngine } from "../engine";
import { AnimatedRow, Pin, Pinned } from "../Pin";
import { BandsEditor } from "./BandsEditor";
import { CurveEditor } from "./CurveEditor";
import { DecisionList } from "./DecisionList";
import { EndsEditor } from "./EndsEditor";
import { FileRow } from "./FileRow";
import { GradientEditor } from "./GradientEditor";
import { INKS, type Channel } from "./Plot";
import type { PanelProps } from "./panel";
import { PartRow, ShotRow } from "./ShotRow";
import { ZonesEditor } from "./ZonesEditor";

/** Panels of their own, where a picture beats numbers; every other treatment is drawn from its metadata. */
const PANELS: Record<string, ComponentType<PanelProps>> = {
  "tone-zones": ZonesEditor,
  "lift-gamma-gain": EndsEditor,
  cdl: DecisionList,
  curves: ChannelCurves,
  "hue-bands": BandsEditor,
};

export function ParamsPanel(props: PanelProps) {
  const Panel = PANELS[props.treatment.id] ?? Declared;
  return <Panel {...props} />;
}

/** The four tone curves, one at a time on the histogram of its channel. */
function ChannelCurves(props: PanelProps) {
  const [channel, setChannel] = useState("master");
  const info = props.treatment.params.find((p) => p.key === channel)!;
  const bent = (p: ParamInfo) => JSON.stringify(props.params[p.key] ?? p.default) !== JSON.stringify(p.default);
  return (
    <div>
      <div className="mb-1 -ml-[12px] flex items-center">
        <Pin target={`passes/${props.pass.id}/params/${info.key}`} info={info} shown={props.params[info.key] ?? info.default} />
        <Segments boxed label="Channel" value={channel} onChange={setChannel} options={props.treatment.params.map((p) => ({ value: p.key, name: `${p.name}${bent(p) ? " •" : ""}` }))} />
      </div>
      <Curve key={channel} {...props} info={info} />
    </div>
  );
}

function Curve({ info, pass, params, upto }: PanelProps & { info: ParamInfo }) {
  const { target: looks } = useEngine();
  const target = `passes/${pass.id}/params/${info.key}`;
  const channel = info.key === "red" || info.key === "green" || info.key === "blue" ? info.key : "luma";
  return (
    <CurveEditor
      info={info}
      value={(params[info.key] ?? info.default) as Point[]}
      latest={() => looks.shown<Point[]>(target, info)}
      upto={upto}
      channel={channel}
      ink={INKS[info.key === "master" ? "luma" : (info.key as Channel)] ?? INKS.luma}
      onLive={(change) => looks.display(looks.change(target, info, change))}
      onCommit={(change, words) => void looks.store(looks.change(target, info, change), `${pass.name}: ${words}`)}
    />
  );
}

const DRAWN_APART: readonly ParamInfo["kind"][] = ["curve", "gradient", "shot", "part", "file"];

/** Every parameter by its kind, in the order of the declaration. */
function Declared(props: PanelProps) {
  const { treatment, params, set } = props;
  const palettes = useMemo(() => Object.entries(treatment.presets).flatMap(([name, values]) => (values["stops"] ? [[name, values["stops"] as Loose[]] as [string, Loose[]]] : [])), [treatment]);
  const target = (key: string) => `passes/${props.pass.id}/params/${key}`;
  return treatment.params.filter((info) => counts(info, treatment.params, params)).map((info) =>
    DRAWN_APART.includes(info.kind) ? (
      <Pinned key={info.key} target={target(info.key)} info={info} shown={params[info.key] ?? info.default}>
        {drawn(info)}
      </Pinned>
    ) : (
      <AnimatedRow key={info.key} target={target(info.key)} info={info} plain={params[info.key]} prefix={`${props.pass.name}: `} />
    ),
  );
  function drawn(info: ParamInfo) {
    if (info.kind === "curve") return <Curve key={info.key} {...props} info={info} />;
    if (info.kind === "gradient") {
      const look = { mixing: String(params["mixing"] ?? ""), space: String(params["space"] ?? "") };
      return <GradientEditor key={info.key} pass={props.pass} info={info} value={(params[info.key] ?? info.default) as Loose[]} look={look} palettes={palettes} />;
    }
    if (info.kind === "shot") return <ShotRow key={info.key} info={info} value={String(params[info.key] ?? "")} onCommit={(v, name) => set({ [info.key]: v, part: "" }, `${info.name}: ${name}`)} />;
    if (info.kind === "part") return <PartRow key={info.key} info={info} shot={String(params["shot"] ?? "")} value={String(params[info.key] ?? "")} onCommit={(v, name) => set({ [info.key]: v }, `${info.name}: ${name}`)} />;
    return <FileRow key={info.key} info={info} value={String(params[info.key] ?? "")} onCommit={(v, name) => set({ [info.key]: v }, `${info.name}: ${name}`)} />;
  }
}
