import { useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { useParams } from "react-router";

import { ask, client } from "../../api/client";
import { useProject } from "../../api/queries";
import type { ShotRow } from "../../api/types";
import { OWN, type CellRef, type Rows } from "../../engine/sheet/sheet";
import { Button } from "../../ui/basics";
import { useSay } from "../../ui/notices";
import { Menu } from "../../ui/menu";
import { carryOver, matchTo } from "./carry";
import { pictureOf } from "./cells";
import { useSheetRoom, useSheetState } from "./context";
import { ExportCells } from "./ExportCells";
import { usePrinting } from "./printing";

type Props = { rows: Rows; shots: ShotRow[]; told: (column: string, shot: string) => string; stamp: (cell: CellRef) => string; aside: (shot: ShotRow) => string; used: Set<string>; heads: string[] };

/** What is done with the chosen cells. */
export function Foot({ rows, shots, told, stamp, aside, used, heads }: Props) {
  const { projectId } = useParams();
  const { sheet } = useSheetRoom();
  const queries = useQueryClient();
  const say = useSay();
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
  const name = one && chosen[0] ? told(one, chosen[0].shot) : "";
  const puts = one !== null && one !== OWN;
  const inReel = ids.filter((id) => used.has(id)).length;
  const put = async () => {
    setBusy(true);
    await carryOver(sheet, projectId!, ids, one!, name, say, queries);
    setBusy(false);
  };
  const match = async (to: ShotRow) => {
    setBusy(true);
    await matchTo(sheet, projectId!, ids.filter((id) => id !== to.id), to, say, queries);
    setBusy(false);
  };
  const span = async () => {
    try {
      await ask(client.POST("/api/projects/{project_id}/spans", { params: { path: { project_id: projectId! } }, body: { column: one!, shots: ids } }));
      say(`“${name}” lies over ${inReel === 1 ? "one shot" : `${inReel} shots`} in the reel.`);
    } catch (error) {
      say((error as Error).message, { bad: true });
    }
  };
  usePrinting(`${data?.project.name ?? "Film"} sheet`, () => {
    const cells = chosen.length > 1 ? chosen : null;
    const shown = rows.filter((r) => !cells || cells.some((c) => c.shot === r.shot));
    const across = cells ? rows[0]!.columns.filter((c) => cells.some((k) => k.column === c)) : null;
    const printed = shown.map((r) => {
      const shot = shots.find((s) => s.id === r.shot)!;
      return { name: shot.name, aside: aside(shot), cells: (across ?? r.columns).map((column) => ({ url: pictureOf({ shot: r.shot, column }, "stands", 320, { shapes, sure }, stamp({ shot: r.shot, column })), words: heads.length ? "" : told(column, r.shot) })) };
    });
    const named = across ? across.map((c) => told(c, shown[0]!.shot)) : heads;
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
      <ExportCells open={exporting} cells={chosen} onClose={() => setExporting(false)} />
    </section>
  );
}
