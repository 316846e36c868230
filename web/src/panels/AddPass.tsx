import clsx from "clsx";
import { Plus } from "lucide-react";
import { Popover } from "radix-ui";
import { useEffect, useMemo, useState, type KeyboardEvent } from "react";

import { useCatalogue } from "../api/queries";
import { found as foundIn } from "../engine/search";
import { addPass } from "../engine/passes";
import { pastePass } from "../engine/pocket";
import { usePocket } from "./app";
import { useChoice, useDocument, useEngine, useSettledFrame, useView } from "./engine";
import { passesOf } from "../engine/scene";

const COLUMNS = 4;

/** Arrow keys walk through a grid of buttons. */
export function walk(e: KeyboardEvent<HTMLElement>, columns: number) {
  const by = { ArrowLeft: -1, ArrowRight: 1, ArrowUp: -columns, ArrowDown: columns }[e.key];
  if (!by) return;
  const buttons = [...e.currentTarget.querySelectorAll<HTMLButtonElement>("button[data-cell]")];
  const at = buttons.indexOf(document.activeElement as HTMLButtonElement);
  const inField = document.activeElement instanceof HTMLInputElement;
  if (inField && e.key !== "ArrowDown") return;
  e.preventDefault();
  buttons[inField ? 0 : Math.min(Math.max(at + by, 0), buttons.length - 1)]?.focus();
}

/** The list behind +: every treatment with a thumbnail of itself on the current frame. */
export function AddPass({ invite }: { invite: boolean }) {
  const [open, setOpen] = useState(false);
  return (
    <Popover.Root open={open} onOpenChange={setOpen}>
      <Popover.Trigger asChild>
        <button type="button" aria-label="Add a pass" title="Add a pass" className={clsx("flex h-[60px] items-center justify-center gap-2 border border-dashed border-strong text-quiet hover:border-ink hover:text-ink", invite ? "w-[142px]" : "w-[44px]")}>
          <Plus size={16} />
          {invite && "Add a pass"}
        </button>
      </Popover.Trigger>
      <Popover.Portal>
        <Popover.Content align="start" sideOffset={4} collisionPadding={8} aria-label="Treatments" className="z-50 max-h-[calc(var(--radix-popover-content-available-height)-8px)] w-[580px] overflow-auto border border-strong bg-raised p-2" onKeyDown={(e) => walk(e, COLUMNS)}>
          <List close={() => setOpen(false)} />
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  );
}

const BEFORE_PICTURES = 250; // ms for which the list is open before its pictures are asked for

/** Whether some time has gone since this came. */
function useSoon(ms: number): boolean {
  const [gone, setGone] = useState(false);
  useEffect(() => {
    const timer = window.setTimeout(() => setGone(true), ms);
    return () => window.clearTimeout(timer);
  }, [ms]);
  return gone;
}

function List({ close }: { close: () => void }) {
  const engine = useEngine();
  const [search, setSearch] = useState("");
  const { data } = useCatalogue();
  const view = useView();
  const passId = useChoice((s) => s.passId);
  const passes = passesOf(useDocument());
  const frame = useSettledFrame();
  const pocket = usePocket();
  const upto = passes.findIndex((p) => p.id === passId) + 1 || passes.length;
  const found = useMemo(() => foundIn((data?.treatments ?? []).map((t) => ({ ...t, summary: `${t.summary} ${t.group}` })), search), [data, search]);
  const selectionId = useChoice((s) => s.selectionId);
  const around = selectionId ? `&selection=${selectionId}` : ""; // of a small selection the part of the picture around it
  const pictured = useSoon(BEFORE_PICTURES); // who types the name at once needs none
  const choose = (id: string | undefined) => {
    const treatment = found.find((t) => t.id === id);
    if (!treatment) return;
    void addPass(engine, treatment);
    close();
  };
  return (
    <>
      <div className="sticky top-[-8px] z-10 flex gap-2 bg-raised py-1">
        <input
          autoFocus
          placeholder="Search treatments"
          aria-label="Search treatments"
          value={search}
          onChange={(e) => setSearch(e.currentTarget.value)}
          onKeyDown={(e) => e.key === "Enter" && choose(found[0]?.id)}
          className="h-[28px] min-w-0 flex-1 border border-strong bg-ground px-2"
        />
        {pocket && (
          <button
            type="button"
            className="border border-strong px-2 hover:border-ink"
            onClick={() => {
              pastePass(engine, pocket);
              close();
            }}
          >
            Paste “{pocket.name}”
          </button>
        )}
      </div>
      {(data?.groups ?? [])
        .filter((group) => found.some((t) => t.group === group))
        .map((group) => (
          <section key={group} aria-label={group}>
            <h3 className="pt-1.5 pb-1 text-[12px] font-semibold text-quiet">{group}</h3>
            <div className="grid grid-cols-4 gap-2">
              {found
                .filter((t) => t.group === group)
                .map((t) => (
                  <button key={t.id} type="button" data-cell title={t.summary} aria-label={t.name} onClick={() => choose(t.id)} className="group min-w-0 border border-transparent text-left hover:border-ink focus-visible:border-ink">
                    <span className="block aspect-video w-full overflow-hidden bg-black">
                      {pictured && <img loading="lazy" alt="" draggable={false} className="h-full w-full object-cover" src={`/api/shots/${view.shot.id}/treatments/${t.id}/${view.revision}/${frame}.jpg?upto=${upto}${around}`} />}
                    </span>
                    <span className="block truncate px-0.5 text-[12px] font-semibold">{t.name}</span>
                  </button>
                ))}
            </div>
          </section>
        ))}
      {!found.length && <p className="p-2 text-quiet">No treatment is called that.</p>}
    </>
  );
}

