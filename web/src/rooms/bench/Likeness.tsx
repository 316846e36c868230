import { HelpButton } from "../../panels/HelpButton";
import { useQueryClient } from "@tanstack/react-query";
import { Dialog } from "radix-ui";
import { useEffect, useRef, useState } from "react";
import { useParams } from "react-router";

import { bringFile, bringStill, type Brought } from "../../api/files";
import { useProject, useStills } from "../../api/queries";
import type { ParamInfo } from "../../api/types";
import { goTo } from "../../engine/pocket";
import { useChoice, useDoc, useEngine, useView } from "../../panels/engine";
import { StillOptions, stillOf } from "../../panels/StillOptions";
import { Button, Segments } from "../../ui/basics";
import { FileInput } from "../../ui/fileinput";
import { NumberRow } from "../../ui/number";

type Reference = { file: string } | { shot: string; source: boolean };
type Proposal = { name: string; kind: string; take: string; revision: number; told: { id: string; words: string }[] };
type Found = { words: string; proposals: Proposal[]; seen: number[][]; shot: number[][]; result: number[][] };

const FAR = { key: "far", name: "How far", kind: "number", help: "How much of it replaces what was there", unit: "%", low: 0, high: 100, step: 1, default: 100, animatable: false } as ParamInfo;
const WIDE = 264; // pixels of the graph of hue and lightness
const PICTURES = "image/*,.png,.jpg,.jpeg,.tif,.tiff,.webp,.exr,.dpx";

/** A look from a picture, beside the picture on screen. */
export function LikenessPanel() {
  const engine = useEngine();
  const asked = useChoice((s) => s.likeness);
  const close = () => engine.choice.set({ likeness: null });
  return (
    <Dialog.Root open={asked !== null} modal={false} onOpenChange={(open) => !open && close()}>
      <Dialog.Portal>
        <Dialog.Content aria-describedby={undefined} className="pane fixed top-[44px] right-0 bottom-0 z-40 w-[300px] border-l border-strong bg-panel p-4" onInteractOutside={(e) => e.preventDefault()}>
          <div className="flex items-center justify-between">
            <span className="flex items-baseline gap-0.5">
        <Dialog.Title className="text-[18px] font-bold">A look from a picture</Dialog.Title>
        <HelpButton of="A look from a picture" page="bench" part="from-a-picture" />
      </span>
            <Dialog.Close asChild>
              <Button look="plain" aria-label="Close">
                ✕
              </Button>
            </Dialog.Close>
          </div>
          {asked && <Content dropped={asked.file} />}
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  );
}

function Content({ dropped }: { dropped: File | null }) {
  const engine = useEngine();
  const view = useView();
  const queries = useQueryClient();
  const { projectId } = useParams();
  const { data } = useProject(projectId);
  const [scene, setScene] = useState<"other" | "same">("other");
  const [busy, setBusy] = useState("");
  const [wrong, setWrong] = useState("");
  const [found, setFound] = useState<Found | null>(null);
  const file = useRef<HTMLInputElement>(null);
  const measure = async (reference: Reference, name: string) => {
    setBusy(`Measuring ${name}…`);
    setWrong("");
    setFound(null);
    engine.around.settle();
    try {
      const answer = (await engine.document.ask("likeness", { reference, name: name.slice(0, 80), same_scene: scene === "same" })) as unknown as Found & { made: number };
      setFound(answer);
      void queries.invalidateQueries({ queryKey: ["takes"] });
      engine.done(`Like ${name}: ${answer.proposals[0]!.name.toLowerCase()}. All are kept as takes.`, answer.made);
    } catch (error) {
      setWrong(error instanceof Error ? error.message : "Nothing could be measured.");
    } finally {
      setBusy("");
    }
  };
  const bring = (chosen: File) => take(bringFile(chosen), chosen.name);
  const take = async (bringing: Promise<Brought>, name: string) => {
    setBusy(`Reading ${name}…`);
    setWrong("");
    try {
      const brought = await bringing;
      await measure({ file: brought.digest }, name);
    } catch (error) {
      setBusy("");
      setWrong(error instanceof Error ? error.message : "The picture was not read.");
    }
  };
  const once = useRef<File | null>(null);
  useEffect(() => {
    if (!dropped || once.current === dropped) return;
    once.current = dropped;
    void bring(dropped);
    // oxlint-disable-next-line react-hooks/exhaustive-deps -- a file that was dropped is read once
  }, [dropped]);
  const others = (data?.shots ?? []).filter((s) => s.id !== view.shot.id);
  const stills = useStills(view.project_id);
  return (
    <>
      <p className="mt-1 text-quiet">Its tones and colours are measured, and said again as passes that you can open and change.</p>
      <div className="mt-3 flex items-center gap-2">
        <Button disabled={!!busy} onClick={() => file.current?.click()}>
          Choose a picture…
        </Button>
        <select
          aria-label="Or another shot"
          className="h-[26px] min-w-0 flex-1 border border-strong bg-panel px-1"
          value=""
          disabled={!!busy || !(others.length + stills.length)}
          onChange={(e) => {
            const still = stillOf(stills, e.target.value);
            if (still) void take(bringStill(still.id), still.name);
            const shot = others.find((s) => s.id === e.target.value);
            if (shot) void measure({ shot: shot.id, source: scene === "same" }, shot.name);
          }}
        >
          <option value="">or another shot, or a still…</option>
          {others.map((s) => (
            <option key={s.id} value={s.id}>
              {s.name}
            </option>
          ))}
          <StillOptions stills={stills} />
        </select>
      </div>
      <FileInput ref={file} label="Reference picture" accept={PICTURES} onFile={(chosen) => void bring(chosen)} />
      <div className="mt-2">
        <Segments
          boxed
          wide
          label="What it shows"
          value={scene}
          onChange={setScene}
          options={[
            { value: "other", name: "Something else", tip: "Only what is unusual in it is taken for its look" },
            { value: "same", name: "The same scene", tip: "Lit in another way: the shot is matched to it, as far as it differs" },
          ]}
        />
      </div>
      {busy && (
        <p role="status" className="mt-3">
          {busy}
        </p>
      )}
      {wrong && (
        <p role="alert" className="mt-3 border border-strong px-2 py-1">
          {wrong}
        </p>
      )}
      {found && <Answer found={found} />}
    </>
  );
}

function Answer({ found }: { found: Found }) {
  const engine = useEngine();
  const revision = useDoc((s) => s.view.revision);
  const [chosen, setChosen] = useState(0);
  const proposal = found.proposals[chosen]!;
  const bundle = useDoc((s) => s.shown.look.bundles?.find((b) => b.id === "like-it" || b.id === "matched"));
  const amount = (value: unknown) => [engine.target.set(engine.target.of("bundles", bundle!.id, "amount"), Number(value))];
  const choose = (n: number) => {
    setChosen(n);
    if (found.proposals[n]!.revision !== revision) void goTo(engine, found.proposals[n]!.revision, `“${found.proposals[n]!.name}” is in work.`);
  };
  return (
    <>
      <p className="mt-3 font-semibold">{found.words}</p>
      <ul aria-label="Proposals" className="mt-2">
        {found.proposals.map((p, n) => (
          <li key={p.take}>
            <button type="button" aria-pressed={n === chosen} className="flex h-[26px] w-full items-center gap-2 border-b border-line text-left aria-pressed:bg-raised aria-pressed:font-semibold" onClick={() => choose(n)}>
              <span className="w-[14px]">{n === chosen ? "●" : "○"}</span>
              {p.name}
            </button>
          </li>
        ))}
      </ul>
      <ul aria-label="What was measured" className="mt-2 list-disc pl-4 text-[12px] text-quiet">
        {proposal.told.map((t) => (
          <li key={t.id}>{t.words}</li>
        ))}
        {!proposal.told.length && <li>The shot is like it already: nothing is changed.</li>}
      </ul>
      {bundle && (
        <div className="mt-2">
          <NumberRow info={FAR} value={bundle.amount!} onLive={(v) => engine.document.show(amount(v))} onCommit={(v) => void engine.document.edit(amount(v), `Like the picture: ${Number(v)} %`)} />
        </div>
      )}
      <Spread found={found} />
      <p className="mt-2 text-[12px] text-quiet">Each proposal is a take of this shot: compare them by wipe, under History. What was there is one undo away.</p>
    </>
  );
}

/** Hue across, lightness up: the picture as areas, the shot under its look as dots; greys at the right end. */
function Spread({ found }: { found: Found }) {
  const [rows, columns] = [found.seen.length, found.seen[0]!.length];
  const [wide, high] = [WIDE / columns, 6];
  const most = Math.max(...found.seen.flat(), ...found.result.flat());
  const strength = (v: number) => Math.sqrt(v / most);
  const at = (r: number) => (rows - 1 - r) * high;
  return (
    <figure className="mt-3">
      <svg width={WIDE} height={rows * high} role="img" aria-label="Hue and lightness: the picture, and the shot under its look" className="border border-line bg-black">
        {found.seen.flatMap((row, r) => row.map((v, c) => v > 0.0005 && <rect key={`${r} ${c}`} x={c * wide} y={at(r)} width={wide} height={high} fill="#ffffff" opacity={0.15 + 0.6 * strength(v)} />))}
        {found.result.flatMap((row, r) => row.map((v, c) => v > 0.0005 && <circle key={`${r} ${c}`} cx={(c + 0.5) * wide} cy={at(r) + high / 2} r={0.8 + 2.2 * strength(v)} fill="#000000" stroke="#ffffff" strokeWidth={1} />))}
      </svg>
      <figcaption className="mt-0.5 flex justify-between text-[11px] text-quiet">
        <span>0° hue</span>
        <span>areas: the picture · dots: the shot now</span>
        <span>grey</span>
      </figcaption>
    </figure>
  );
}
