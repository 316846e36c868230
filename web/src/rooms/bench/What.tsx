import { useCatalogue } from "../../api/queries";
import type { Pass, Side, Treatment } from "../../api/types";
import { edit, live } from "../../editor/edits";
import { addPass, setSide, switchPass } from "../../editor/looks";
import { passPath, selectionsOf, useDocument, usePass, useSelection } from "../../editor/store";
import { Button, Heading, Segments } from "../../ui/basics";
import { Menu } from "../../ui/menu";
import { format } from "../../ui/numbers";
import { NumberRow } from "../../ui/number";

/** What the chosen pass does, where, and how much. Drawn from the metadata that the server publishes. */
export function What() {
  const pass = usePass();
  const { data } = useCatalogue();
  const treatment = data?.treatments.find((t) => t.id === pass?.treatment);
  return (
    <>
      <div className="flex h-[40px] items-center justify-between gap-2">
        <h2 className="text-[18px] font-bold">What</h2>
        {pass && <span className="truncate text-quiet">{treatment?.name ?? pass.treatment}</span>}
      </div>
      {!pass && <NoPass />}
      {pass && !treatment && data && (
        <p className="border border-strong p-3">
          This pass uses “{pass.treatment}”, which this version does not know. It is kept as it is, and bypassed.
        </p>
      )}
      {pass && treatment && <PassPanel key={pass.id} pass={pass} treatment={treatment} />}
    </>
  );
}

function NoPass() {
  const { data } = useCatalogue();
  const selection = useSelection();
  const monochrome = data?.treatments.find((t) => t.id === "monochrome");
  if (!selection) return <p className="text-quiet">Passes appear here once there is a colour to work with. Click one in the picture.</p>;
  return (
    <div className="border border-dashed border-strong p-3">
      <p className="font-bold">{selection.name} is selected.</p>
      <p className="mt-1 text-quiet">Now turn the rest grey, or add any other pass with + above.</p>
      <Button look="solid" className="mt-3" disabled={!monochrome} onClick={() => monochrome && addPass(monochrome, "outside")}>
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

function PassPanel({ pass, treatment }: { pass: Pass; treatment: Treatment }) {
  const { data } = useCatalogue();
  const selections = selectionsOf(useDocument());
  const used = selections.find((s) => s.id === pass.selection);
  const path = passPath(pass.id);
  const params = pass.params as Record<string, number>;
  const presets = Object.entries(treatment.presets);
  const current = presets.find(([, values]) => Object.entries(values).every(([k, v]) => Math.abs((params[k] ?? NaN) - v) < 0.005));
  const none = selections.length === 0;
  return (
    <>
      {!pass.on && (
        <p className="mb-2 flex items-center justify-between border border-strong px-2 py-1">
          Bypassed <Button onClick={() => switchPass(pass)}>Switch on</Button>
        </p>
      )}
      <Heading
        aside={
          pass.side !== "everywhere" && (
            <Menu
              trigger={<button type="button">{used?.name ?? "no selection"} ▾</button>}
              items={selections.map((s) => ({ name: s.name, checked: s.id === pass.selection, onSelect: () => setSide(pass, pass.side, s.id) }))}
            />
          )
        }
      >
        Applies to
      </Heading>
      <Segments
        boxed
        label="Applies to"
        value={pass.side!}
        onChange={(side) => setSide(pass, side, null)}
        options={SIDES.map((s) => ({ ...s, disabled: none && s.value !== "everywhere", tip: none ? "Pick a colour in the picture first" : undefined }))}
      />
      <Heading
        aside={
          presets.length > 0 && (
            <Menu
              trigger={<button type="button">{current?.[0] ?? "own mix"} ▾</button>}
              items={presets.map(([name, values]) => ({
                name,
                checked: current?.[0] === name,
                onSelect: () => void edit([{ op: "replace", path: `${path}/params`, value: { ...params, ...values } }], `${pass.name}: ${name}`),
              }))}
            />
          )
        }
      >
        {treatment.id === "monochrome" ? "Grey mix" : treatment.name}
      </Heading>
      {treatment.params.map((p) => (
        <PassNumber key={p.key} pass={pass} info={p} value={params[p.key] ?? p.default} path={`${path}/params/${p.key}`} />
      ))}
      <Heading>How much</Heading>
      {data && <PassNumber pass={pass} info={data.amount} value={pass.amount ?? 100} path={`${path}/amount`} />}
      <div className="flex h-[28px] items-center gap-2">
        <span className="w-[98px]" title="Whether this pass works on the picture as the passes before left it, or on the source">
          Reads
        </span>
        <Segments
          boxed
          label="Reads"
          value={pass.reads!}
          onChange={(value) => void edit([{ op: "replace", path: `${path}/reads`, value }], `${pass.name} reads ${value}`)}
          options={[
            { value: "running", name: "Running" },
            { value: "source", name: "Source" },
          ]}
        />
      </div>
      <p className="mt-3 text-[12px] text-quiet">{treatment.summary}</p>
    </>
  );
}

function PassNumber({ pass, info, value, path }: { pass: Pass; info: Treatment["params"][number]; value: number; path: string }) {
  const patch = (v: number) => [{ op: "replace" as const, path, value: v }];
  return <NumberRow info={info} value={value} onLive={(v) => live(patch(v))} onCommit={(v) => void edit(patch(v), `${pass.name}: ${info.name} ${format(info, v)}${info.unit && ` ${info.unit}`}`)} />;
}
