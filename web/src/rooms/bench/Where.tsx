import clsx from "clsx";

import { useCatalogue } from "../../api/queries";
import type { HueKey, Pick, Selection } from "../../api/types";
import { edit, live } from "../../editor/edits";
import { duplicateSelection, removeSelection, renameSelection, usersOf } from "../../editor/looks";
import { selectionPath, selectionsOf, setBench, useBench, useDocument, useSelection, type Tool } from "../../editor/store";
import { Button, Heading, Segments, Tip } from "../../ui/basics";
import { Menu, type MenuItem } from "../../ui/menu";
import { format } from "../../ui/numbers";
import { askName } from "../../ui/prompt";
import { NumberRow } from "../../ui/number";
import { Census } from "./Census";

/** Where a look works: the selection, its key, its picks. */
export function Where() {
  const selection = useSelection();
  const coverage = useBench((s) => s.coverage);
  return (
    <>
      <div className="flex h-[40px] items-center justify-between gap-2">
        <h2 className="text-[18px] font-bold">Where</h2>
        {selection && (
          <span className="flex min-w-0 items-center text-quiet">
            <SelectionMenu selection={selection} />
            {coverage !== null && <span className="shrink-0" aria-label="Coverage">{coverage.toFixed(1)} % of frame</span>}
          </span>
        )}
      </div>
      <Census />
      <Tools />
      {selection ? <HueKeyPanel selection={selection} /> : <FirstPick />}
    </>
  );
}

function FirstPick() {
  return (
    <div className="mt-3 border border-dashed border-strong p-3">
      <p className="font-bold">Click the colour that stays.</p>
      <p className="mt-1 text-quiet">A mid-tone of the object, not its brightest or darkest part. Lit and shaded parts are added with further clicks.</p>
    </div>
  );
}

const TOOLS: { value: Tool; name: string; tip: string }[] = [
  { value: "pick", name: "New pick", tip: "A click starts a new selection (P)" },
  { value: "add", name: "Add pick", tip: "A click widens this selection (A)" },
  { value: "refuse", name: "Not this", tip: "A click narrows this selection (N)" },
  { value: "hand", name: "Hand", tip: "Drag the picture (H)" },
];

function Tools() {
  const tool = useBench((s) => s.tool);
  const selection = useSelection();
  return (
    <div className="mt-2">
      <Segments
        boxed
        label="What a click in the picture does"
        value={tool}
        onChange={(value) => setBench({ tool: value })}
        options={TOOLS.map((t) => ({ ...t, disabled: !selection && (t.value === "add" || t.value === "refuse") }))}
      />
    </div>
  );
}

function SelectionMenu({ selection }: { selection: Selection }) {
  const all = selectionsOf(useDocument());
  const users = usersOf(selection.id).map((p) => p.name);
  const items: MenuItem[] = [
    ...all.map((s) => ({ name: s.name, checked: s.id === selection.id, onSelect: () => setBench({ selectionId: s.id }) })),
    "line",
    { name: "Rename…", onSelect: () => askName("Rename the selection", selection.name, (name) => renameSelection(selection, name)) },
    { name: "Duplicate", onSelect: () => duplicateSelection(selection) },
    { name: users.length ? `Remove (used by ${users.join(", ")}, which will be bypassed)` : "Remove", onSelect: () => removeSelection(selection) },
  ];
  return (
    <Menu
      trigger={
        <button type="button" className="mr-2 truncate font-semibold text-ink" title="Selections of this look">
          {selection.name} ▾
        </button>
      }
      items={items}
    />
  );
}

function HueKeyPanel({ selection }: { selection: Selection }) {
  const { data } = useCatalogue();
  const key = selection.keys?.[0];
  const info = data?.keys.find((k) => k.id === "hue");
  if (!key || !info) return null;
  const path = `${selectionPath(selection.id)}/keys/0`;
  const values = key as unknown as Record<string, number>;
  return (
    <>
      <Heading aside={<span>by hue</span>}>Picks</Heading>
      <Picks selection={selection} hueKey={key} />
      <Heading>Edge</Heading>
      {info.params.map((p) => {
        const patch = (value: number) => [{ op: "replace" as const, path: `${path}/${p.key}`, value }];
        const now = values[p.key] ?? p.default;
        return (
          <NumberRow
            key={p.key}
            info={p}
            value={now}
            onLive={(v) => live(patch(v))}
            onCommit={(v) => void edit(patch(v), `${p.name} ${format(p, v)}${p.unit}`)}
          />
        );
      })}
    </>
  );
}

function Picks({ selection, hueKey }: { selection: Selection; hueKey: HueKey }) {
  const remove = (field: "picks" | "refused", n: number) =>
    void edit([{ op: "remove", path: `${selectionPath(selection.id)}/keys/0/${field}/${n}` }], field === "picks" ? "Pick removed" : "Not-this pick removed");
  const picks = hueKey.picks ?? [];
  return (
    <div className="flex flex-wrap gap-1.5">
      {picks.map((p, n) => (
        <Swatch key={n} pick={p} onRemove={() => remove("picks", n)} />
      ))}
      {(hueKey.refused ?? []).map((p, n) => (
        <Swatch key={`not-${n}`} pick={p} refused onRemove={() => remove("refused", n)} />
      ))}
      {picks.length === 0 && (
        <Button look="plain" onClick={() => setBench({ tool: "add" })}>
          No picks: click one in the picture
        </Button>
      )}
    </div>
  );
}

/** A pick as its colour; a click on it removes it. */
function Swatch({ pick, refused, onRemove }: { pick: Pick; refused?: boolean; onRemove: () => void }) {
  const colour = `rgb(${pick.colour.map((v) => Math.round(Math.min(Math.max(v, 0), 1) * 255)).join(" ")})`;
  const name = refused ? "Not-this pick" : "Pick";
  return (
    <Tip text={`${name} from frame ${pick.frame}. Click to remove it.`}>
      <button
        type="button"
        aria-label={`${name} from frame ${pick.frame}: remove`}
        onClick={onRemove}
        className={clsx("relative h-[26px] w-[26px] overflow-hidden border", refused ? "border-dashed border-ink" : "border-ink")}
        style={{ background: colour }}
      >
        {refused && <span className="absolute top-1/2 left-1/2 h-px w-[40px] -translate-x-1/2 -translate-y-1/2 -rotate-45 bg-white" />}
      </button>
    </Tip>
  );
}
