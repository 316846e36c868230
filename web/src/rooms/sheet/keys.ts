/** The keys of the sheet. */
import { useEffect } from "react";

import type { CellRef, Rows } from "../../engine/sheet/sheet";
import type { Action, Told } from "../../engine/actions";
import { useTellActions } from "../../panels/app";
import { useSay } from "../../ui/notices";
import { busy, typing } from "../../ui/typing";
import { useSheetRoom } from "./context";

const MOVES: Record<string, [number, number]> = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, -1], ArrowDown: [0, 1] };

export const KEYS: readonly Told[] = [
  { group: "Cells", told: "arrows", words: "from cell to cell; with Shift all on the way are chosen" },
  { group: "Cells", told: "Space", words: "choose the cell, or not" },
  { group: "Cells", told: "Enter", words: "open the shot on the Bench" },
  { group: "Cells", told: "C", words: "compare two cells by wipe" },
  { group: "Cells", told: "Esc", words: "choose none" },
];

/** The focus goes to the cell at once, so that the key after this one is already its own. False where it is not drawn yet. */
function focus(cell: CellRef): boolean {
  const button = document.querySelector<HTMLElement>(`[data-cell="${CSS.escape(`${cell.shot} ${cell.column}`)}"]`);
  button?.focus();
  return button !== null;
}

const NONE: readonly Action<unknown>[] = [];

export function useSheetKeys(rows: Rows, onOpen: (cell: CellRef) => void) {
  const { sheet } = useSheetRoom();
  const say = useSay();
  useTellActions(NONE, KEYS);
  useEffect(() => {
    const down = (e: KeyboardEvent) => {
      if (e.defaultPrevented || typing(e.target) || busy() || e.ctrlKey || e.metaKey || e.altKey) return;
      const inGrid = e.target instanceof HTMLElement && (e.target === document.body || e.target.closest("[data-cells]") !== null);
      const { cursor } = sheet.now;
      if (MOVES[e.key] && !(e.target instanceof HTMLElement && e.target.closest("[role=radio], [role=slider], input"))) {
        const to = sheet.go(rows, ...MOVES[e.key]!);
        if (e.shiftKey && to) sheet.choose(to, rows, "upto");
        if (to && !focus(to)) requestAnimationFrame(() => focus(to)); // its row comes into view first
      } else if (e.key === " " && cursor && inGrid) sheet.choose(cursor, rows, "more");
      else if (e.key === "Enter" && cursor && inGrid) onOpen(cursor);
      else if (e.key.toLowerCase() === "c") {
        const why = sheet.startComparing();
        if (why) say(why);
      } else if (e.key === "Escape") sheet.put({ chosen: [] });
      else return;
      e.preventDefault();
    };
    window.addEventListener("keydown", down);
    return () => window.removeEventListener("keydown", down);
  }, [sheet, rows, onOpen, say]);
}
