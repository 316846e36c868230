import { HelpButton } from "./HelpButton";
import { useQuery } from "@tanstack/react-query";
import { Dialog } from "radix-ui";
import { useState, type ReactNode } from "react";

import type { ExportOptions } from "../api/types";
import { Button } from "../ui/basics";
import { useDoing } from "./doing";
import { Estimate } from "./Estimate";
import { ExportWhat, PLAIN } from "./ExportWhat";
import { NameFields } from "./NameFields";

/** What is exported, and how it is asked for. The rooms have one each. */
export type Exporting = {
  title: string;
  /** How it is called at first; several: it is a pattern, of which each file gets a name of its own. */
  name: string;
  several?: boolean;
  selections: { id: string; name: string }[];
  /** Why there is no sound; empty where there is. */
  silent: string;
  size?: { width: number; height: number; rate: number };
  /** The options that are sent, from those that are chosen. */
  options?: (chosen: ExportOptions) => ExportOptions;
  /** When other options are chosen: what becomes of them. */
  change?: (next: ExportOptions, before: ExportOptions) => ExportOptions;
  /** About how large and how long: by what it is found again, and how it is asked for. */
  estimate?: { of: readonly unknown[]; ask: (options: ExportOptions, signal: AbortSignal) => Promise<{ bytes: number; seconds: number; notes?: string[] }> };
  /** Where one frame of it is. */
  frame?: (options: ExportOptions) => { href: string; title: string };
  start: (name: string, options: ExportOptions) => Promise<unknown>;
  begun: string;
};

type Props = { exporting: Exporting; about: (options: ExportOptions) => ReactNode; rows?: ReactNode; children?: ReactNode; onClose: () => void };

/** A dialog around what is exported. */
export function ExportDialog({ open, onClose, children }: { open: boolean; onClose: () => void; children: ReactNode }) {
  return (
    <Dialog.Root open={open} onOpenChange={(next) => !next && onClose()}>
      <Dialog.Portal>
        <Dialog.Overlay className="fixed inset-0 z-40 bg-black/60" />
        <Dialog.Content aria-describedby={undefined} className="fixed top-[12%] left-1/2 z-50 w-[520px] max-w-[96%] -translate-x-1/2 border border-strong bg-panel p-5">
          {children}
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  );
}

/** What to export, and as what. rows: more to be chosen; children: what is to be known before. */
export function ExportForm({ exporting, about, rows, children, onClose }: Props) {
  const { project, say, go, carryOut } = useDoing();
  const [name, setName] = useState(exporting.name);
  const [chosen, setChosen] = useState<ExportOptions>(PLAIN);
  const [busy, setBusy] = useState(false);
  const options = exporting.options?.(chosen) ?? chosen;
  const frame = exporting.frame?.(options);
  const start = async () => {
    setBusy(true);
    const begun = await carryOut(exporting.start(name.trim(), options).then(() => true), "exports");
    setBusy(false);
    if (!begun) return;
    onClose();
    say(exporting.begun, { action: { name: "See exports", run: () => go(`/projects/${project}/exports`) } });
  };
  return (
    <form
      onSubmit={(e) => {
        e.preventDefault();
        void start();
      }}
    >
      <span className="flex items-baseline gap-0.5">
        <Dialog.Title className="text-[18px] font-bold">{exporting.title}</Dialog.Title>
        <HelpButton of="Export" page="exports" part="what" />
      </span>
      <p className="mt-1 text-quiet">{about(options)}</p>
      <div className="mt-4 grid grid-cols-[70px_1fr] items-center gap-y-3">
        <label htmlFor="export-name">{exporting.several ? "Names" : "Name"}</label>
        <div>
          <input id="export-name" value={name} maxLength={120} onChange={(e) => setName(e.currentTarget.value)} className="h-[28px] w-full border border-strong bg-ground px-2" />
          <NameFields pattern={name} onChange={setName} />
        </div>
        {rows}
        <ExportWhat options={chosen} onChange={(next) => setChosen(exporting.change?.(next, chosen) ?? next)} selections={exporting.selections} silent={exporting.silent} size={exporting.size} />
      </div>
      {children}
      {exporting.estimate && <About estimate={exporting.estimate} options={options} />}
      <div className="mt-4 flex items-center gap-2">
        {frame && (
          <a className="inline-flex h-[26px] items-center border border-strong px-2.5 font-medium hover:border-ink" title={frame.title} href={frame.href} download onClick={onClose}>
            This frame as PNG
          </a>
        )}
        <span className="flex-1" />
        <Button onClick={onClose}>Cancel</Button>
        <Button look="solid" type="submit" disabled={busy}>
          Export
        </Button>
      </div>
    </form>
  );
}

/** About how large the file will be and how long it will take: the server measures some frames of it. */
function About({ estimate, options }: { estimate: NonNullable<Exporting["estimate"]>; options: ExportOptions }) {
  const { data, error } = useQuery({ queryKey: ["estimate", ...estimate.of, options], queryFn: ({ signal }) => estimate.ask(options, signal) });
  return <Estimate data={data} error={error} />;
}
