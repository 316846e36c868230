import { HelpButton } from "./HelpButton";
import { memo } from "react";

import { useCatalogue } from "../api/queries";
import type { Bundle, Pass, Side, Treatment } from "../api/types";
import { setBlend, setBundleSide, switchBundle, unbundle } from "../engine/bundles";
import { Button, Heading, Segments } from "../ui/basics";
import { Menu } from "../ui/menu";
import { HoldButton } from "../ui/small";
import { Choice } from "../ui/choice";
import { counts } from "../engine/params";
import { ParamsPanel } from "./editors";
import type { Params } from "./editors/panel";
import { AnimatedRow } from "./Pin";
import { Palettes } from "./Palettes";
import { DockedScope } from "./Scope";
import { Panes, Rest } from "../ui/panes";
import { SWITCH } from "../engine/lanes";
import { addPass, setOfPass, setSide, switchPass } from "../engine/passes";
import { useBundle, useEngine, useParamValues, usePass, useSelection, useShown, useShownParts, useStage, useStored, useValue } from "./engine";
import { passesOf, selectionsOf } from "../engine/scene";

const PARAMS = 130; // pixels that the parameters keep above the scope

/** What the chosen pass does, where, and how much. Drawn from the metadata that the server publishes. */
export function What() {
  const engine = useEngine();
  const pass = usePass();
  const bundle = useBundle();
  const { data } = useCatalogue();
  const solo = useStage((s) => s.solo);
  const treatment = data?.treatments.find((t) => t.id === pass?.treatment);
  return (
    <div className="flex h-full flex-col">
      <div className="flex h-[36px] shrink-0 items-center justify-between gap-2 px-3.5">
        <span className="flex items-baseline gap-0.5">
          <h2 className="text-[18px] font-bold">What</h2>
          <HelpButton of="What" page="bench" part="what" />
        </span>
        {pass && <span className="min-w-0 truncate text-quiet">{bundle?.name ?? pass.name}</span>}
        {pass && !bundle && (
          <Button look="plain" className="!px-1.5" on={solo} title="This pass alone, on the source" does="alone" onClick={() => engine.stage.set({ solo: !solo, show: "result" })}>
            Alone
          </Button>
        )}
      </div>
      <Panes upright className="min-h-0 flex-1">
        <Rest key="params" least={PARAMS}>
          <div key={bundle?.id ?? pass?.id} className="pane min-h-0 flex-1 px-3.5 pb-2">
            {!pass && <NoPass />}
            {bundle && <BundlePanel key={bundle.id} bundle={bundle} />}
            {pass && !bundle && !treatment && data && (
              <p className="border border-strong p-3">
                This pass uses “{pass.treatment}”, which this version does not know. It is kept as it is, and bypassed.
              </p>
            )}
            {pass && !bundle && treatment && <PassPanel key={pass.id} pass={pass} treatment={treatment} />}
          </div>
        </Rest>
        <DockedScope key="scope" />
      </Panes>
    </div>
  );
}

function NoPass() {
  const engine = useEngine();
  const { data } = useCatalogue();
  const selection = useSelection();
  const monochrome = data?.treatments.find((t) => t.id === "monochrome");
  if (!selection) return <p className="text-quiet">Passes appear here once there is a look. Click a colour in the picture, add a pass with + above, or take a finished look from the shelf.</p>;
  return (
    <div className="border border-dashed border-strong p-3">
      <p className="font-bold">{selection.name} is selected.</p>
      <p className="mt-1 text-quiet">Now turn the rest grey, or add any other pass with + above.</p>
      <Button look="solid" className="mt-3" disabled={!monochrome} onClick={() => monochrome && void addPass(engine, monochrome, "outside")}>
        Monochrome, outside
      </Button>
    </div>
  );
}

const SIDES: { value: Side; name: string }[] = [
  { value: "inside", name: "Inside" },
  { value: "outside", name: "Outside" },
  { value: "everywhere", name: "Everywhere" },
];
const FROM_INSIDE = { value: "from inside" as const, name: "From inside", tip: "What spreads is taken from inside the selection, and laid over all" };

function PassPanel({ pass, treatment }: { pass: Pass; treatment: Treatment }) {
  const engine = useEngine();
  const upto = useShown((d) => passesOf(d).findIndex((p) => p.id === pass.id));
  const params = useParamValues(pass.id, treatment.params, pass.params as Params);
  const on = useValue(`passes/${pass.id}/on`, SWITCH, pass.on);
  const written = (values: Params) =>
    Object.entries(values).flatMap(([key, value]) => {
      const info = treatment.params.find((p) => p.key === key);
      return info ? [{ target: `passes/${pass.id}/params/${key}`, info, value }] : [];
    });
  const show = (values: Params) => engine.target.show(written(values));
  const set = (values: Params, words: string) => void engine.target.write(written(values), `${pass.name}: ${words}`);
  return (
    <>
      {!on && (
        <p className="mb-2 flex items-center justify-between border border-strong px-2 py-1">
          Bypassed <Button onClick={() => switchPass(engine, pass)}>Switch on</Button>
        </p>
      )}
      <AppliesTo item={pass} sides={treatment.spreads ? [...SIDES, FROM_INSIDE] : SIDES} onSide={(side, selection) => setSide(engine, pass, side, selection)} />
      {treatment.reads_matte && pass.side === "everywhere" && <p className="mt-1 text-[12px] text-quiet">It works at the edge of a selection: choose inside or outside of one.</p>}
      <Heading
        aside={
          <span className="flex items-center gap-2">
            {treatment.takes_palette && <Palettes treatment={treatment} />}
            <Presets pass={pass} treatment={treatment} />
          </span>
        }
      >
        {treatment.name}
      </Heading>
      <ParamsPanel pass={pass} treatment={treatment} params={params} upto={upto} show={show} set={set} />
      {treatment.params.some((p) => p.axis === "hue" && counts(p, treatment.params, params)) && <OneByOne pass={pass} />}
      <HowMuch pass={pass} />
      <p className="mt-3 text-[12px] text-quiet">
        {treatment.summary} <span title={`Source: ${treatment.source}`} className="underline decoration-dotted">Source</span>
      </p>
    </>
  );
}

/** A curve is animated as a whole; what is animated hue by hue are bands. */
function OneByOne({ pass }: { pass: Pass }) {
  const engine = useEngine();
  const { data } = useCatalogue();
  const bands = data?.treatments.find((t) => t.id === "hue-bands");
  if (!bands) return null;
  return (
    <p className="mt-1 flex items-baseline justify-between gap-2 text-[12px] text-quiet">
      Colours that change one by one, each with pins of its own: hue bands.
      <button type="button" className="shrink-0 underline hover:text-ink" onClick={() => void addPass(engine, bands, pass.side === "from inside" ? undefined : pass.side)}>
        Add them
      </button>
    </p>
  );
}

type AppliesProps = { item: Pick<Pass, "id" | "side" | "selection">; sides: { value: Side; name: string; tip?: string }[]; onSide: (side: Side, selection: string | null) => void };

const AppliesTo = memo(AppliesToItem, (a, b) => a.item.id === b.item.id && a.item.side === b.item.side && a.item.selection === b.item.selection && a.sides.length === b.sides.length);

function AppliesToItem({ item, sides, onSide }: AppliesProps) {
  const selections = useStored(selectionsOf);
  const used = selections.find((s) => s.id === item.selection);
  const none = selections.length === 0;
  return (
    <>
      <Heading
        aside={
          item.side !== "everywhere" && (
            <Menu
              trigger={<button type="button" className="as-button">{used?.name ?? "no selection"} ▾</button>}
              items={selections.map((s) => ({ name: s.name, checked: s.id === item.selection, onSelect: () => onSide(item.side!, s.id) }))}
            />
          )
        }
      >
        Applies to
      </Heading>
      <Segments
        boxed
        wide={sides.length > 3}
        label="Applies to"
        value={item.side!}
        onChange={(side) => onSide(side, null)}
        options={sides.map((s) => ({ ...s, disabled: none && s.value !== "everywhere", tip: none ? "Pick a colour in the picture first" : s.tip }))}
      />
    </>
  );
}

const same = (a: unknown, b: unknown): boolean => (typeof a === "number" && typeof b === "number" ? Math.abs(a - b) < 0.005 : JSON.stringify(a) === JSON.stringify(b));

/** Named sets of parameters. */
function Presets({ pass, treatment }: { pass: Pass; treatment: Treatment }) {
  const presets = Object.entries(treatment.presets).filter(([, values]) => !("stops" in values));
  if (!presets.length) return null;
  const params = pass.params as Params;
  const whole = (values: Params) => Object.fromEntries(treatment.params.map((p) => [p.key, values[p.key] ?? p.default]));
  const current = presets.find(([, values]) => Object.entries(whole(values)).every(([k, v]) => same(params[k], v)));
  return <PresetMenu treatment={treatment} current={current?.[0] ?? null} />;
}

/** The sets to choose from. Whatever a set does not name goes back to where it began. */
const PresetMenu = memo(function PresetMenu({ treatment, current }: { treatment: Treatment; current: string | null }) {
  const engine = useEngine();
  const presets = Object.entries(treatment.presets).filter(([, values]) => !("stops" in values));
  const whole = (values: Params) => Object.fromEntries(treatment.params.map((p) => [p.key, values[p.key] ?? p.default]));
  const choose = (name: string, values: Params) => engine.pass && setOfPass(engine, engine.pass, "params", whole(values), `${engine.pass.name}: ${name}`);
  return (
    <Menu
      trigger={<button type="button" className="as-button">{current ?? "Presets"} ▾</button>}
      items={presets.map(([name, values]) => ({ name, checked: current === name, onSelect: () => choose(name, values) }))}
    />
  );
});

/** A bundle as one: its place, its switch, how much of it and how it is laid over what was there. */
function BundlePanel({ bundle }: { bundle: Bundle }) {
  const engine = useEngine();
  const { data } = useCatalogue();
  const members = useShownParts((d) => passesOf(d).filter((p) => p.bundle === bundle.id));
  const on = useValue(`bundles/${bundle.id}/on`, SWITCH, bundle.on);
  return (
    <>
      {!on && (
        <p className="mb-2 flex items-center justify-between border border-strong px-2 py-1">
          Bypassed <Button onClick={() => switchBundle(engine, bundle)}>Switch on</Button>
        </p>
      )}
      <AppliesTo item={bundle} sides={SIDES} onSide={(side, selection) => setBundleSide(engine, bundle, side as Bundle["side"], selection)} />
      <Heading>How much</Heading>
      <AnimatedRow target={`bundles/${bundle.id}/on`} info={SWITCH} plain={bundle.on} prefix={`${bundle.name}: `} />
      {data && <AnimatedRow target={`bundles/${bundle.id}/amount`} info={data.amount} plain={bundle.amount ?? 100} prefix={`${bundle.name}: `} />}
      <Blend value={bundle.blend ?? "normal"} onChange={(blend) => setBlend(engine, bundle, blend)} />
      <Heading aside={<button type="button" className="as-button" onClick={() => unbundle(engine, bundle)}>Take apart</button>}>Its passes</Heading>
      <ul aria-label="Passes of the bundle">
        {members.map((p) => (
          <li key={p.id}>
            <button type="button" className="flex h-[26px] w-full items-center justify-between border-b border-line hover:text-ink" onClick={() => engine.choosePass(p.id)}>
              {p.name} <span className="text-quiet">{p.on ? (p.side === "everywhere" ? "all" : p.side) : "bypassed"}</span>
            </button>
          </li>
        ))}
      </ul>
    </>
  );
}

function Blend({ value, onChange }: { value: string; onChange: (blend: string) => void }) {
  const { data } = useCatalogue();
  return (
    <label className="flex h-[28px] items-center gap-2" title="How the treated picture is laid over what was there, by the W3C names">
      <span className="w-[98px]">Blend mode</span>
      <Choice aria-label="Blend mode" value={value} onChange={(e) => onChange(e.currentTarget.value)} className="flex-1">
        {data?.blends.map((b) => (
          <option key={b} value={b}>
            {b}
          </option>
        ))}
      </Choice>
    </label>
  );
}

const OF_HOW_MUCH = ["id", "name", "on", "amount", "blend", "reads"] as const;
const HowMuch = memo(HowMuchOf, (a, b) => OF_HOW_MUCH.every((key) => a.pass[key] === b.pass[key]));

function HowMuchOf({ pass }: { pass: Pass }) {
  const engine = useEngine();
  const { data } = useCatalogue();
  return (
    <>
      <Heading
        aside={
          <HoldButton tip="The finished picture without this pass, for as long as it is held" onHold={() => engine.document.show([{ do: "set", target: engine.target.of("passes", pass.id, "on"), value: false }])}>
            hold to see without
          </HoldButton>
        }
      >
        How much
      </Heading>
      <AnimatedRow target={`passes/${pass.id}/on`} info={SWITCH} plain={pass.on} prefix={`${pass.name}: `} />
      {data && <AnimatedRow target={`passes/${pass.id}/amount`} info={data.amount} plain={pass.amount ?? 100} prefix={`${pass.name}: `} />}
      <Blend value={pass.blend ?? "normal"} onChange={(blend) => setOfPass(engine, pass, "blend", blend, `${pass.name}: ${blend}`)} />
      <div className="flex h-[28px] items-center gap-2">
        <span className="shrink-0 whitespace-nowrap" title="Whether this pass works on the picture as the passes before left it, or on the source">
          Works on
        </span>
        <Segments
          boxed
          label="Works on"
          value={pass.reads!}
          onChange={(value) => setOfPass(engine, pass, "reads", value, `${pass.name} works on ${value === "source" ? "the source" : "the passes before"}`)}
          options={[
            { value: "running", name: "The passes before" },
            { value: "source", name: "The source" },
          ]}
        />
      </div>
    </>
  );
}

