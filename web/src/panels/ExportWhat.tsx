import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";

import { ask, client } from "../api/client";
import type { ExportFormat, ExportOptions } from "../api/types";
import { Button, Segments } from "../ui/basics";
import { Choice } from "../ui/choice";
import { Menu } from "../ui/menu";
import { useSay } from "../ui/notices";
import { useAskFor } from "../ui/prompt";

export const PLAIN: ExportOptions = { shows: "result", selection: null, format: "h264", quality: "good", sound: true, width: null, fps: null, folder: false, stretch: null };

const LOOP = { width: 480, fps: 12 }; // what loops are usually small enough with

const QUALITIES = [
  { value: "fine" as const, name: "Fine", tip: "To go on working with: no loss that can be seen, a large file." },
  { value: "good" as const, name: "Good", tip: "To hand on: loss is hard to see." },
  { value: "small" as const, name: "Small", tip: "To look at and send: fine grain and noise are smoothed." },
];
const SHOWS = [
  { value: "result" as const, name: "Finished picture" },
  { value: "matte" as const, name: "Matte" },
  { value: "alpha" as const, name: "Picture with alpha" },
];

export const useFormats = () => useQuery({ queryKey: ["formats"], staleTime: Infinity, queryFn: () => ask(client.GET("/api/formats")) }).data ?? [];

/** The options with what their format cannot do left out. */
export function fitting(options: ExportOptions, formats: ExportFormat[], selections: { id: string }[]): ExportOptions {
  const format = formats.find((f) => f.id === options.format);
  const shows = options.shows !== "result" && !selections.length ? "result" : (options.shows ?? "result");
  const chosen = options.selection && selections.some((s) => s.id === options.selection) ? options.selection : (selections[0]?.id ?? null);
  return {
    ...options,
    shows,
    format: shows === "alpha" && format && !format.alpha ? "prores-4444" : options.format,
    selection: shows === "result" ? null : chosen,
    fps: format?.loop ? (options.fps ?? null) : null,
    folder: !!format?.pictures && !!options.folder,
  };
}

type Props = {
  options: ExportOptions;
  onChange: (options: ExportOptions) => void;
  selections: { id: string; name: string }[];
  /** Why there is no sound to keep; empty where there is. */
  silent: string;
  /** Of the pictures as they are. */
  size?: { width: number; height: number; rate: number };
};

/** What to export, in which format, how finely: the fields that the dialogs of all rooms share, two columns wide. */
export function ExportWhat({ options, onChange, selections, silent, size }: Props) {
  const formats = useFormats();
  const format = formats.find((f) => f.id === options.format);
  const set = (changed: Partial<ExportOptions>) => onChange(fitting({ ...options, ...changed }, formats, selections));
  const able = options.shows === "alpha" ? formats.filter((f) => f.alpha) : formats;
  const hushed = options.shows !== "result" ? "a matte has none" : format && !format.sound ? `${format.name} has none` : silent;
  return (
    <>
      <span>What</span>
      <div className="justify-self-start">
      <Segments boxed label="What" value={options.shows ?? "result"} onChange={(shows) => set({ shows })} options={SHOWS.map((s) => ({ ...s, disabled: s.value !== "result" && !selections.length, tip: s.value !== "result" && !selections.length ? "There is no selection whose matte could be written." : undefined }))} />
      </div>
      {options.shows !== "result" && (
        <>
          <label htmlFor="export-selection">Selection</label>
          <Choice id="export-selection" value={options.selection ?? ""} onChange={(e) => set({ selection: e.currentTarget.value })} className="h-[28px]">
            {selections.map((s) => (
              <option key={s.id} value={s.id}>
                {s.name}
              </option>
            ))}
          </Choice>
        </>
      )}
      <label htmlFor="export-format">Format</label>
      <div className="flex items-center gap-2">
        <Choice id="export-format" value={options.format} onChange={(e) => set({ format: e.currentTarget.value, ...(formats.find((f) => f.id === e.currentTarget.value)?.loop && !format?.loop ? LOOP : {}) })} className="h-[28px] flex-1">
          {[
            { name: "Video", list: able.filter((f) => !f.pictures && !f.loop) },
            { name: "Pictures", list: able.filter((f) => f.pictures) },
            { name: "Loops", list: able.filter((f) => f.loop) },
          ].map((group) => (
            <optgroup key={group.name} label={group.name}>
              {group.list.map((f) => (
                <option key={f.id} value={f.id}>
                  {f.name}
                </option>
              ))}
            </optgroup>
          ))}
        </Choice>
        <Presets options={options} onChange={(kept) => onChange(fitting(kept, formats, selections))} />
      </div>
      <span />
      <p className="text-[12px] text-quiet">{format?.tells ?? "…"}</p>
      {format?.choose && (
        <>
          <span>Quality</span>
          <div>
            <Segments boxed label="Quality" value={options.quality ?? "good"} onChange={(quality) => set({ quality })} options={QUALITIES} />
            <p className="mt-1 text-[12px] text-quiet">{QUALITIES.find((q) => q.value === options.quality)?.tip}</p>
          </div>
        </>
      )}
      <label htmlFor="export-width">Size</label>
      <span className="flex items-center gap-2">
        <Whole id="export-width" value={options.width ?? null} least={16} most={16384} placeholder={size ? String(size.width) : "as it is"} onChange={(width) => set({ width })} />
        <span className="text-quiet">pixels across{size && options.width ? `, ${Math.max(1, Math.round((size.height * options.width) / size.width))} down` : ""}</span>
        {format?.loop && (
          <>
            <Whole label="Frames a second" value={options.fps ?? null} least={1} most={60} placeholder={size ? String(Number(size.rate.toFixed(2))) : "as it is"} onChange={(fps) => set({ fps })} />
            <span className="text-quiet">fps</span>
          </>
        )}
      </span>
      {format?.pictures && (
        <>
          <span>In</span>
          <Segments
            boxed
            label="In"
            value={options.folder ? "folder" : "zip"}
            onChange={(where) => set({ folder: where === "folder" })}
            options={[
              { value: "zip", name: "one ZIP file" },
              { value: "folder", name: "a folder", tip: "On the machine that Wenditas runs on: its path is shown." },
            ]}
          />
        </>
      )}
      <span>Sound</span>
      <label className="flex items-center gap-2">
        <input type="checkbox" className="accent-[var(--inverse)]" checked={!!options.sound && !hushed} disabled={!!hushed} onChange={(e) => set({ sound: e.currentTarget.checked })} />
        {hushed || "keep it"}
      </label>
    </>
  );
}

/** A whole number that may be left empty; what lies outside its range is limited when the field is left. */
function Whole({ id, label, value, least, most, placeholder, onChange }: { id?: string; label?: string; value: number | null; least: number; most: number; placeholder: string; onChange: (value: number | null) => void }) {
  const [text, setText] = useState<string | null>(null);
  const done = (typed: string) => {
    setText(null);
    const number = Math.round(Number(typed));
    onChange(typed.trim() && Number.isFinite(number) ? Math.min(most, Math.max(least, number)) : null);
  };
  return <input id={id} aria-label={label} inputMode="numeric" value={text ?? value ?? ""} placeholder={placeholder} onChange={(e) => setText(e.currentTarget.value)} onBlur={(e) => text !== null && done(e.currentTarget.value)} onKeyDown={(e) => e.key === "Enter" && text !== null && done(e.currentTarget.value)} className="h-[28px] w-[76px] border border-strong bg-ground px-2 tabular-nums" />;
}

/** Options kept under names of one's own: not the stretch, which is of one reel. */
function Presets({ options, onChange }: { options: ExportOptions; onChange: (options: ExportOptions) => void }) {
  const queries = useQueryClient();
  const say = useSay();
  const askFor = useAskFor();
  const { data } = useQuery({ queryKey: ["export-presets"], queryFn: () => ask(client.GET("/api/exports/presets")) });
  const again = () => queries.invalidateQueries({ queryKey: ["export-presets"] });
  const act = (work: Promise<unknown>, done: string) => void work.then(() => (say(done), again()), (error: Error) => say(error.message, { bad: true }));
  const keep = () => askFor({ title: "Keep these options", label: "Name", value: "", save: "Keep", done: (name) => act(ask(client.POST("/api/exports/presets", { body: { name, options: { ...options, stretch: null } } })), `Kept as “${name}”.`) });
  const remove = (id: string, name: string) => act(ask(client.DELETE("/api/exports/presets/{preset_id}", { params: { path: { preset_id: id } } })), `“${name}” is forgotten.`);
  return (
    <Menu
      trigger={<Button>Presets ▾</Button>}
      items={[
        ...(data ?? []).map((p) => ({ name: p.name, onSelect: () => onChange({ ...PLAIN, ...(p.options as Partial<ExportOptions>) }) })),
        ...(data?.length ? (["line"] as const) : []),
        { name: "Keep these options…", onSelect: keep },
        ...(data ?? []).map((p) => ({ name: `Forget “${p.name}”`, onSelect: () => remove(p.id, p.name) })),
      ]}
    />
  );
}
