import { useQuery, useQueryClient } from "@tanstack/react-query";
import { Popover } from "radix-ui";
import { memo, useRef, useState } from "react";

import { ask, client } from "../api/client";
import { bringFile, bringStill, type Brought } from "../api/files";
import { useProject, useStills } from "../api/queries";
import type { Pass, Treatment } from "../api/types";
import { Button, Segments } from "../ui/basics";
import { Menu } from "../ui/menu";
import { FileInput } from "../ui/fileinput";
import { useSay } from "../ui/notices";
import { useAskName } from "../ui/prompt";
import { SmallNumber } from "../ui/small";
import { putPalette } from "../engine/palettes";
import { useEngine, usePass, useSettledFrame, useView } from "./engine";
import type { Stop } from "../colour/stops";

const COUNTS = [3, 5, 8];
type Source = { shot: string; frame?: number; source: boolean } | { file: string };
type Item = { key: string; name: string; colours: string[]; kept?: string };

/** Palettes from pictures, kept ones and built-in ones, each as what it would make of the frame on screen. */
export const Palettes = memo(function Palettes({ treatment }: { treatment: Treatment }) {
  const [open, setOpen] = useState(false);
  return (
    <Popover.Root open={open} onOpenChange={setOpen}>
      <Popover.Trigger asChild>
        <button type="button" className="as-button" title="Colours from this frame, another shot or a picture; kept palettes">
          Colours from ▾
        </button>
      </Popover.Trigger>
      <Popover.Portal>
        <Popover.Content side="left" align="start" sideOffset={12} collisionPadding={8} aria-label="Palettes" className="z-50 max-h-[calc(var(--radix-popover-content-available-height)-8px)] w-[560px] overflow-auto border border-strong bg-raised p-3">
          <OfPass treatment={treatment} />
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  );
});

function OfPass({ treatment }: { treatment: Treatment }) {
  const pass = usePass();
  return pass && <Content pass={pass} treatment={treatment} />;
}

function Content({ pass, treatment }: { pass: Pass; treatment: Treatment }) {
  const view = useView();
  const engine = useEngine();
  const say = useSay();
  const askName = useAskName();
  const queries = useQueryClient();
  const frame = useSettledFrame();
  const file = useRef<HTMLInputElement>(null);
  const [from, setFrom] = useState("here");
  const [picture, setPicture] = useState<{ digest: string; name: string } | null>(null);
  const [count, setCount] = useState(5);
  const { data: project } = useProject(view.project_id);
  const { data: kept } = useQuery({ queryKey: ["palettes"], queryFn: () => ask(client.GET("/api/palettes")) });
  const source: Source = from === "here" ? { shot: view.shot.id, frame, source: true } : from === "file" && picture ? { file: picture.digest } : { shot: from, source: false };
  const counts = [...new Set([count, ...COUNTS])].sort((a, b) => a - b);
  const { data: found, error } = useQuery({
    queryKey: ["from picture", source, counts],
    placeholderData: (old) => old,
    queryFn: () => Promise.all(counts.map((n) => ask(client.POST("/api/palettes/from", { body: { ...source, count: n } as never })))),
  });
  const name = from === "here" ? `frame ${frame}` : from === "file" ? (picture?.name ?? "a picture") : (project?.shots.find((s) => s.id === from)?.name ?? "a shot");
  const items: Item[] = (found ?? []).map((colours, n) => ({ key: `${from} ${n}`, name: `${colours.length} of ${name}`, colours }));
  const built = Object.entries(treatment.presets).flatMap(([title, values]) => (values["stops"] ? [{ key: title, name: title, colours: (values["stops"] as Stop[]).slice(0, 12).map((s) => s.colour) }] : []));
  const saved = (kept ?? []).map((k): Item => ({ key: k.id, name: k.name, colours: k.colours, kept: k.id }));
  const stills = useStills(view.project_id);
  const bring = async (bringing: Promise<Brought>) => {
    try {
      const answer = await bringing;
      if (answer.kind !== "picture") throw new Error("This is a LUT. Choose a picture (PNG, JPEG, TIFF or WebP).");
      setPicture(answer);
      setFrom("file");
    } catch (problem) {
      say(problem instanceof Error ? problem.message : "The file was not taken.", { bad: true });
    }
  };
  const put = (item: Item) => void putPalette(engine, pass.id, { name: item.name, colours: item.colours });
  const refresh = () => queries.invalidateQueries({ queryKey: ["palettes"] });
  const run = (work: Promise<unknown>, done?: () => void) => void work.then(() => (void refresh(), done?.()), (problem: Error) => say(problem.message, { bad: true }));
  const keep = (item: Item) => askName("Keep this palette", item.name, (title) => run(ask(client.POST("/api/palettes", { body: { name: title, colours: item.colours } })), () => say(`“${title}” is on the shelf.`)));
  const path = (id: string) => ({ params: { path: { palette: id } } });
  const drop = (item: Item) =>
    run(ask(client.DELETE("/api/palettes/{palette}", path(item.kept!))), () => say(`“${item.name}” was taken away.`, { action: { name: "Bring back", run: () => run(ask(client.POST("/api/palettes/{palette}/restore", path(item.kept!)))) } }));
  const others = (project?.shots ?? []).filter((s) => s.id !== view.shot.id);
  return (
    <>
      <div className="flex flex-wrap items-center gap-2">
        <Segments boxed label="Where the colours come from" value={from === "here" ? "here" : from === "file" ? "file" : "shot"} onChange={(v) => (v === "file" ? (picture ? setFrom("file") : file.current?.click()) : setFrom(v === "here" ? "here" : (others[0]?.id ?? "here")))} options={[{ value: "here", name: "This frame" }, { value: "shot", name: "A shot", disabled: !others.length }, { value: "file", name: "A picture" }]} />
        {from !== "here" && from !== "file" && (
          <select aria-label="Shot" value={from} onChange={(e) => setFrom(e.currentTarget.value)} className="h-[26px] min-w-0 flex-1 border border-strong bg-ground px-1">
            {others.map((s) => (
              <option key={s.id} value={s.id}>
                {s.name}
              </option>
            ))}
          </select>
        )}
        {stills.length > 0 && (
          <Menu trigger={<Button look="plain">A still ▾</Button>} items={stills.map((f) => ({ name: f.name, onSelect: () => void bring(bringStill(f.id)) }))} />
        )}
        {from === "file" && <Button onClick={() => file.current?.click()}>{picture?.name ?? "Choose…"}</Button>}
        <span className="flex-1" />
        <SmallNumber className="w-[104px]" name="Colours" label="Colours" value={count} low={2} high={12} step={1} onCommit={setCount} />
      </div>
      <FileInput ref={file} label="Picture for colours" accept=".png,.jpg,.jpeg,.tif,.tiff,.webp" onFile={(chosen) => void bring(bringFile(chosen))} />
      {error && <p className="mt-2 text-quiet">{error.message}</p>}
      <Grid title={`From ${name}`} items={items} pass={pass} frame={frame} onPut={put} action={{ name: "Keep", run: keep }} />
      <Grid title="On the shelf" items={saved} pass={pass} frame={frame} onPut={put} action={{ name: "Remove", run: drop }} />
      <Grid title="Built in" items={built} pass={pass} frame={frame} onPut={put} />
    </>
  );
}

type GridProps = { title: string; items: Item[]; pass: Pass; frame: number; onPut: (item: Item) => void; action?: { name: string; run: (item: Item) => void } };

function Grid({ title, items, pass, frame, onPut, action }: GridProps) {
  const view = useView();
  if (!items.length) return null;
  const query = (item: Item) => `of=${pass.id}&colours=${item.colours.map((c) => c.slice(1)).join("-")}`;
  return (
    <section aria-label={title}>
      <h3 className="pt-2.5 pb-1 text-[12px] font-semibold text-quiet">{title}</h3>
      <div className="grid grid-cols-4 gap-2">
        {items.map((item) => (
          <div key={item.key} className="min-w-0">
            <button type="button" title={`Put ${item.name} into ${pass.name}`} className="block w-full border border-transparent text-left hover:border-ink focus-visible:border-ink" onClick={() => onPut(item)}>
              <span className="block aspect-video w-full overflow-hidden bg-black">
                <img loading="lazy" alt="" draggable={false} className="h-full w-full object-cover" src={`/api/shots/${view.shot.id}/palettes/${view.revision}/${frame}.jpg?${query(item)}`} />
              </span>
              <span className="flex h-[8px]">
                {item.colours.map((c, n) => (
                  <span key={n} className="flex-1" style={{ background: c }} />
                ))}
              </span>
              <span className="block truncate px-0.5 text-[12px] font-semibold">{item.name}</span>
            </button>
            {action && (
              <button type="button" className="as-button min-h-[24px] px-0.5 text-[12px] text-quiet hover:text-ink" onClick={() => action.run(item)}>
                {action.name}
              </button>
            )}
          </div>
        ))}
      </div>
    </section>
  );
}
