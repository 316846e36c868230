import { useQuery } from "@tanstack/react-query";
import { Link, useParams } from "react-router";

import { ask, client } from "../../api/client";
import { shots as shotCalls } from "../../api/footage";
import { useCatalogue } from "../../api/queries";
import type { Pass, ShotRow } from "../../api/types";
import { makeVariant, variantsOf, varied, type Variant } from "../../engine/sheet/variants";
import { useApp } from "../../panels/app";
import { useDoing } from "../../panels/doing";
import { Button } from "../../ui/basics";
import { Choice } from "../../ui/choice";
import { numberWords } from "../../ui/lengths";
import { Picture } from "./Cell";
import { usePrinting } from "./printing";
import { useSheetRoom, useSheetState } from "./context";

const COUNTS = [5, 9, 15];
const ACROSS = 4; // variants in a row of the picture that is saved

/** One shot's look in many variants: a click makes one the look, or a take. */
export function Variants({ shots }: { shots: ShotRow[] }) {
  const { projectId } = useParams();
  const { sheet } = useSheetRoom();
  const app = useApp();
  const { say, carryOut } = useDoing();
  const chosen = useSheetState((s) => s.variants);
  const { data: catalogue } = useCatalogue();
  const { data: palettes } = useQuery({ queryKey: ["palettes"], queryFn: () => ask(client.GET("/api/palettes")) });
  const pairs = Object.entries(catalogue?.ink_pairs ?? {}).map(([name, colours]) => ({ name, colours: [...colours] as string[] }));
  const shot = shots.find((s) => s.id === chosen.shot) ?? shots[0];
  const { data: view } = useQuery({
    queryKey: ["shot", shot?.id, shot?.head, "variants"],
    enabled: !!shot,
    queryFn: () => shotCalls.view(shot!.id),
  });
  const passes = (view?.document.look.passes ?? []) as Pass[];
  const { pass, treatment, offered, of, counted } = varied(passes, catalogue?.treatments ?? [], pairs.length + (palettes?.length ?? 0), chosen);
  const variants = pass && view ? variantsOf(pass, treatment, { of, count: chosen.count }, [...pairs, ...(palettes ?? [])], pairs, (value, info) => numberWords(info, value, view.footage.facts.height)) : [];
  const put = (change: Partial<typeof chosen>) => sheet.put({ variants: { ...chosen, ...change } });
  const make = async (v: Variant) => {
    const document = app.documentOf(view!);
    await document.newest();
    const made = await carryOut(makeVariant(document, v, pass!));
    if (made === null) return;
    const back = () => (document.view.revision === made ? document.ask("undo") : Promise.reject(new Error(`“${shot!.name}” was changed since then. Its History has the state before.`)));
    say(`“${v.name}” is the look of “${shot!.name}”.`, { action: { name: "Undo", run: () => void carryOut(back()) } });
  };
  const keep = async (v: Variant) => {
    const kept = await carryOut(shotCalls.keep(shot!.id, { name: v.name, column: null, sets: v.sets, of: v.palette ? pass!.id : null, colours: v.palette ?? [] }));
    if (kept !== null) say(`“${v.name}” is kept as a take of “${shot!.name}”.`);
  };
  const urlOf = (v: Variant) => `/api/shots/${shot!.id}/variants/stands.jpg?width=320${v.palette ? `&of=${pass!.id}&colours=${v.palette.map((c) => c.slice(1)).join("-")}` : `&sets=${encodeURIComponent(JSON.stringify(v.sets))}`}&v=${view!.revision}`;
  usePrinting(`${shot?.name ?? "Shot"} variants`, () => ({
    title: `${shot?.name}: ${pass?.name ?? ""}, ${offered.find((o) => o.of === of)?.name.toLowerCase() ?? "variants"}`,
    heads: [],
    rows: Array.from({ length: Math.ceil(variants.length / ACROSS) }, (_, n) => ({ name: n ? "" : (shot?.name ?? ""), aside: n ? "" : (pass?.name ?? ""), cells: variants.slice(n * ACROSS, (n + 1) * ACROSS).map((v) => ({ url: urlOf(v), words: v.name })) })),
  }));
  if (!shot) return null;
  return (
    <>
      <div className="flex shrink-0 flex-wrap items-center gap-3 border-b border-line px-4 py-2">
        <Pick label="Shot" value={shot.id} onChange={(id) => put({ shot: id, pass: null, of: null })} options={shots.map((s) => [s.id, s.name])} />
        {passes.length > 0 && <Pick label="Pass" value={pass?.id ?? ""} onChange={(id) => put({ pass: id, of: null })} options={passes.map((p) => [p.id, p.name ?? p.treatment])} />}
        {offered.length > 0 && <Pick label="What is varied" value={of ?? ""} onChange={(next) => put({ of: next })} options={offered.map((o) => [o.of, o.name])} />}
        {counted && <Pick label="How many" value={String(chosen.count)} onChange={(n) => put({ count: Number(n) })} options={COUNTS.map((n) => [String(n), String(n)])} />}
      </div>
      {!variants.length && view && (
        <p className="p-8 text-quiet">
          {passes.length ? "Nothing of this pass can be varied: choose another." : "This shot has no passes yet: "}
          {!passes.length && (
            <Link className="underline" to={`/projects/${projectId}/shots/${shot.id}?from=sheet`}>
              give it a look on the Bench
            </Link>
          )}
        </p>
      )}
      <ul aria-label="Variants" className="pane grid min-h-0 flex-1 auto-rows-min grid-cols-[repeat(auto-fill,minmax(260px,1fr))] gap-3 overflow-auto p-4">
        {variants.map((v) => (
          <li key={v.name}>
            <div className="flex aspect-video border-2 border-line bg-black">
              <Picture standIn={`/api/footage/${shot.footage_id}/poster.jpg`} url={urlOf(v)} />
            </div>
            <div className="mt-1 flex items-center gap-1.5">
              <span className="min-w-0 flex-1 truncate font-semibold">{v.name}</span>
              <Button aria-label={`Use it: ${v.name}`} onClick={() => void make(v)}>
                Use it
              </Button>
              <Button aria-label={`Keep as a take: ${v.name}`} onClick={() => void keep(v)}>
                Keep as a take
              </Button>
            </div>
          </li>
        ))}
      </ul>
    </>
  );
}

function Pick({ label, value, options, onChange }: { label: string; value: string; options: [string, string][]; onChange: (value: string) => void }) {
  return (
    <label className="flex items-center gap-2">
      <span className="text-quiet">{label}</span>
      <Choice aria-label={label} value={value} onChange={(e) => onChange(e.currentTarget.value)}>
        {options.map(([id, name]) => (
          <option key={id} value={id}>
            {name}
          </option>
        ))}
      </Choice>
    </label>
  );
}
