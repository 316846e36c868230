import { useState } from "react";
import { useParams } from "react-router";

import { projects } from "../../api/projects";
import { useProject } from "../../api/queries";
import type { ShotRow } from "../../api/types";
import type { LaidOut } from "../../engine/sheet/rows";
import { OWN } from "../../engine/sheet/sheet";
import { useDoing } from "../../panels/doing";
import { ExportDialog } from "../../panels/ExportDialog";
import { Button } from "../../ui/basics";
import { Menu } from "../../ui/menu";
import { carryOver, matchTo } from "./carry";
import { pictureOf } from "./cells";
import { useSheetRoom, useSheetState } from "./context";
import { ExportCells } from "./ExportCells";
import { usePrinting } from "./printing";

/** What is done with the chosen cells. */
export function Foot({ laid }: { laid: LaidOut }) {
  const { rows, shots, heads } = laid;
  const { projectId } = useParams();
  const { sheet } = useSheetRoom();
  const doing = useDoing();
  const { say } = doing;
  const { data } = useProject(projectId);
  const chosen = useSheetState((s) => s.chosen);
  const shapes = useSheetState((s) => s.shapes);
  const sure = useSheetState((s) => s.sure);
  const takes = useSheetState((s) => s.mode === "takes");
  const [exporting, setExporting] = useState(false);
  const [busy, setBusy] = useState(false);
  const columns = [...new Set(chosen.map((c) => c.column))];
  const ids = [...new Set(chosen.map((c) => c.shot))];
  const one = columns.length === 1 ? columns[0]! : null;
  const name = one && chosen[0] ? laid.look({ column: one, shot: chosen[0].shot }) : "";
  const puts = one !== null && one !== OWN;
  const inReel = ids.filter((id) => laid.inReel(id)).length;
  const put = async () => {
    setBusy(true);
    await carryOver(sheet, ids, one!, name, doing);
    setBusy(false);
  };
  const match = async (to: ShotRow) => {
    setBusy(true);
    await matchTo(sheet, ids.filter((id) => id !== to.id), to, doing);
    setBusy(false);
  };
  const span = async () => {
    const laidOver = await doing.carryOut(projects.layOver(doing.project, { column: one!, shots: ids }), "everything");
    if (laidOver !== null) say(`“${name}” lies over ${inReel === 1 ? "one shot" : `${inReel} shots`} in the reel.`);
  };
  usePrinting(`${data?.project.name ?? "Film"} sheet`, () => {
    const cells = chosen.length > 1 ? chosen : null;
    const shown = rows.filter((r) => !cells || cells.some((c) => c.shot === r.shot));
    const across = cells ? rows[0]!.columns.filter((c) => cells.some((k) => k.column === c)) : null;
    const printed = shown.map((r) => {
      const shot = shots.find((s) => s.id === r.shot)!;
      return { name: shot.name, aside: laid.aside(shot), cells: (across ?? r.columns).map((column) => ({ url: pictureOf({ shot: r.shot, column }, "stands", 320, { shapes, sure }, laid.stamp({ shot: r.shot, column })), words: heads.length ? "" : laid.look({ shot: r.shot, column }) })) };
    });
    const named = across ? across.map((column) => laid.look({ column, shot: shown[0]!.shot })) : heads;
    return { title: data?.project.name ?? "Sheet", heads: heads.length ? named : [], rows: printed };
  });
  return (
    <section aria-label="What is chosen" className="flex min-h-[96px] shrink-0 items-end justify-between gap-4 border-t border-line bg-panel px-4 py-3">
      <div className="min-w-0">
        {chosen.length ? (
          <>
            <p className="font-semibold">
              {ids.length === 1 ? "1 shot" : `${ids.length} shots`} chosen{name && ` · ${name}`}
            </p>
            <p className="text-quiet">
              {puts ? "Put it on each with its keys fitted again, or lay one span over them in the reel. What was there stays as a take of every shot." : one === OWN ? "Their own looks: export them, or compare one with another." : "Of several columns: compare two, or export all."}
            </p>
          </>
        ) : (
          <p className="text-quiet">{takes ? "A take is a saved version of a shot's look: T on the Bench saves one. Choose one and put it on, or compare it with what is in work." : "Choose cells: click, Ctrl or Shift click, or arrows and Space. Enter opens one on the Bench, C compares two."}</p>
        )}
        <p className="mt-1 flex gap-4">
          <label className="flex items-center gap-1.5">
            <input type="checkbox" checked={shapes} onChange={(e) => sheet.put({ shapes: e.currentTarget.checked })} /> with shapes and tracks
          </label>
          <label className="flex items-center gap-1.5" title="Where only another colour is found, it is taken">
            <input type="checkbox" checked={sure} onChange={(e) => sheet.put({ sure: e.currentTarget.checked })} /> take the nearest colour
          </label>
        </p>
      </div>
      <div className="flex shrink-0 gap-2">
        <Button
          disabled={!chosen.length || chosen.length > 2}
          title="Two cells by wipe, or one with the shot's own look (C)"
          onClick={() => {
            const why = sheet.startComparing();
            if (why) say(why);
          }}
        >
          Compare
        </Button>
        <Menu
          trigger={
            <Button disabled={!ids.length || busy || shots.length < 2} title="Give the chosen shots the light of another, before a look is laid over them">
              Match to… ▾
            </Button>
          }
          items={shots.map((s) => ({ name: s.name, disabled: ids.length === 1 && ids[0] === s.id, onSelect: () => void match(s) }))}
        />
        <Button disabled={!puts || !inReel} title={inReel ? "Over those of them that are in the reel" : "None of them is in the reel"} onClick={() => void span()}>
          Lay a span
        </Button>
        <Button disabled={!chosen.length} onClick={() => setExporting(true)}>
          Export all
        </Button>
        <Button look="solid" disabled={!puts || busy} onClick={() => void put()}>
          {busy ? "Putting it on…" : ids.length ? `Put on ${ids.length === 1 ? "1 shot" : `${ids.length} shots`}` : "Put on"}
        </Button>
      </div>
      <ExportDialog open={exporting} onClose={() => setExporting(false)}>
        <ExportCells cells={chosen} onClose={() => setExporting(false)} />
      </ExportDialog>
    </section>
  );
}
