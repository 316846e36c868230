/** What the sheet shows and what of it is chosen. One for each project, kept while the page is there: one comes back to the same place. */
import { createStore, type StoreApi } from "zustand/vanilla";

import type { VariantOf } from "./variants";

export type Mode = "looks" | "takes" | "variants";
export type Which = "stands" | "first" | "middle" | "last";
/** A cell: a shot under the look of a column; see the server's `Columns` for their names. */
export type CellRef = { shot: string; column: string };
/** A putting on that can be taken back on all at once. */
export type Carried = { name: string; made: Record<string, number> };

export type SheetState = {
  mode: Mode;
  columns: string[];
  /** One frame that stands for the shot, or its first, middle and last. */
  frames: "one" | "three";
  shapes: boolean;
  /** Also put on where only a colour that is further away was found. */
  sure: boolean;
  chosen: CellRef[];
  cursor: CellRef | null;
  compare: [CellRef, CellRef] | null;
  carried: Carried | null;
  variants: VariantOf;
  scroll: number;
  /** Of the names of the shots that are shown. */
  words: string;
  /** Whether shots that are not in the reel are left out. */
  used: boolean;
  /** Whether the sheet is being saved as a picture: asked for, or so far, 0-1. */
  saving: "asked" | number | null;
};

export const OWN = "own";
const FIRST_COLUMNS = [OWN, "shelf:day-for-night", "shelf:two-ink-print", "shelf:heat-camera", "shelf:one-colour-stays"];
const MOST_COLUMNS = 24;
const kept = (project: string) => `wenditas-columns-${project}`;

export const keyOf = (cell: CellRef) => `${cell.shot} ${cell.column}`;
const same = (a: CellRef | null, b: CellRef | null) => a !== null && b !== null && keyOf(a) === keyOf(b);

/** What is on screen: rows of shots, each with its columns from left to right. */
export type Rows = { shot: string; columns: string[] }[];

export class Sheet {
  readonly state: StoreApi<SheetState>;
  /** The cell that a stretch is chosen from. */
  private anchor: CellRef | null = null;

  constructor(
    private project: string,
    private storage: Pick<Storage, "getItem" | "setItem">,
  ) {
    this.state = createStore<SheetState>(() => ({
      mode: "looks",
      columns: this.read(),
      frames: "one",
      shapes: false,
      sure: false,
      chosen: [],
      cursor: null,
      compare: null,
      carried: null,
      variants: { shot: null, pass: null, of: null, count: 9 },
      scroll: 0,
      words: "",
      used: false,
      saving: null,
    }));
  }

  get now() {
    return this.state.getState();
  }
  put(change: Partial<SheetState>) {
    this.state.setState(change);
  }

  private read(): string[] {
    try {
      const found: unknown = JSON.parse(this.storage.getItem(kept(this.project)) ?? "null");
      if (Array.isArray(found) && found.length && found.every((c) => typeof c === "string")) return found as string[];
    } catch {
      // What cannot be read is begun anew.
    }
    return FIRST_COLUMNS;
  }

  /** Why no more columns fit; null while they do. */
  get full(): string | null {
    return this.now.columns.length >= MOST_COLUMNS ? `A sheet has ${MOST_COLUMNS} columns at most: take one away first.` : null;
  }

  setColumns(columns: string[]) {
    const { chosen } = this.now;
    this.put({ columns, chosen: chosen.filter((c) => columns.includes(c.column)) });
    try {
      this.storage.setItem(kept(this.project), JSON.stringify(columns));
    } catch {
      // Without room they are the first ones the next time.
    }
  }

  addColumn(id: string) {
    const { columns } = this.now;
    if (!columns.includes(id) && !this.full) this.setColumns([...columns, id]);
  }
  removeColumn(id: string) {
    this.setColumns(this.now.columns.filter((c) => c !== id));
  }
  moveColumn(id: string, by: 1 | -1) {
    const columns = [...this.now.columns];
    const at = columns.indexOf(id);
    const to = at + by;
    if (at < 0 || to < 0 || to >= columns.length) return;
    columns.splice(at, 1);
    columns.splice(to, 0, id);
    this.setColumns(columns);
  }

  isChosen(cell: CellRef) {
    return this.now.chosen.some((c) => same(c, cell));
  }

  /** Choose a cell: alone, besides the others (`more`), or all between it and the one before (`upto`). */
  choose(cell: CellRef, rows: Rows, how: "alone" | "more" | "upto" = "alone") {
    const { chosen } = this.now;
    if (how === "upto" && this.anchor) return this.put({ chosen: between(rows, this.anchor, cell), cursor: cell });
    this.anchor = cell;
    if (how !== "more") return this.put({ chosen: [cell], cursor: cell });
    this.put({ chosen: this.isChosen(cell) ? chosen.filter((c) => !same(c, cell)) : [...chosen, cell], cursor: cell });
  }

  /** The cursor one cell on; it stays within the sheet. */
  go(rows: Rows, right: number, down: number): CellRef | null {
    const { cursor } = this.now;
    if (!rows.length) return null;
    const at = Math.max(0, rows.findIndex((r) => r.shot === cursor?.shot));
    const column = Math.max(0, rows[at]!.columns.indexOf(cursor?.column ?? ""));
    const row = rows[cursor ? Math.min(Math.max(at + down, 0), rows.length - 1) : 0]!;
    const to = { shot: row.shot, column: row.columns[cursor ? Math.min(Math.max(column + right, 0), row.columns.length - 1) : 0]! };
    this.put({ cursor: to });
    return to;
  }

  /** All rows in the column of the cursor, or none where they are chosen already. */
  chooseColumn(rows: Rows, column: string) {
    const cells = rows.filter((r) => r.columns.includes(column)).map(({ shot }) => ({ shot, column }));
    const all = cells.every((c) => this.isChosen(c));
    this.put({ chosen: all ? [] : cells, cursor: cells[0] ?? null });
  }

  /** The two cells that are compared: the chosen two, or the chosen one and the shot's own look. */
  startComparing(): string | null {
    const { chosen } = this.now;
    if (chosen.length === 2) this.put({ compare: [chosen[0]!, chosen[1]!] });
    else if (chosen.length === 1) this.put({ compare: [{ shot: chosen[0]!.shot, column: OWN }, chosen[0]!] });
    else return "Choose two cells to compare, or one, which is compared with the shot's own look.";
    return null;
  }
}

/** The cells of the rectangle between two. */
export function between(rows: Rows, one: CellRef, other: CellRef): CellRef[] {
  const [a, b] = [one, other].map((c) => rows.findIndex((r) => r.shot === c.shot)) as [number, number];
  if (a < 0 || b < 0) return [other];
  const [i, j] = [rows[a]!.columns.indexOf(one.column), rows[b]!.columns.indexOf(other.column)];
  const [top, bottom, left, right] = [Math.min(a, b), Math.max(a, b), Math.min(i, j), Math.max(i, j)];
  return rows.slice(top, bottom + 1).flatMap((r) => r.columns.slice(left, right + 1).map((column) => ({ shot: r.shot, column })));
}
