/** The keys of the sheet. */
import { useEffect } from "react";

import type { CellRef, Rows } from "../../engine/sheet/sheet";
import { presses, type Action, type Told } from "../../engine/actions";
import { useTellActions } from "../../panels/app";
import { useSay } from "../../ui/notices";
import { listen } from "../../ui/listen";
import { elsewhere } from "../../ui/typing";
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
    const inGrid = (e: KeyboardEvent) => e.target instanceof HTMLElement && (e.target === document.body || e.target.closest("[data-cells]") !== null);
    const move = (by: [number, number]) => (e: KeyboardEvent) => {
      if (e.target instanceof HTMLElement && e.target.closest("[role=radio], [role=slider], input")) return;
      e.preventDefault();
      const to = sheet.go(rows, ...by);
      if (e.shiftKey && to) sheet.choose(to, rows, "upto");
      if (to && !focus(to)) requestAnimationFrame(() => focus(to)); // its row comes into view first
    };
    const onCursor = (does: (cell: CellRef) => void) => (e: KeyboardEvent) => {
      const { cursor } = sheet.now;
      if (!cursor || !inGrid(e)) return;
      e.preventDefault();
      does(cursor);
    };
    const compare = (e: KeyboardEvent) => {
      e.preventDefault();
      const why = sheet.startComparing();
      if (why) say(why);
    };
    const chooseNone = (e: KeyboardEvent) => {
      e.preventDefault();
      sheet.put({ chosen: [] });
    };
    const does: [string, (e: KeyboardEvent) => void][] = [
      ...Object.entries(MOVES).map(([key, by]): [string, (e: KeyboardEvent) => void] => [key, move(by)]),
      ["Space", onCursor((cell) => sheet.choose(cell, rows, "more"))],
      ["Enter", onCursor(onOpen)],
      ["c", compare],
      ["Escape", chooseNone],
    ];
    return listen(Object.fromEntries(does.flatMap(([key, run]) => presses(key).map((press) => [press, run]))), elsewhere);
  }, [sheet, rows, onOpen, say]);
}
