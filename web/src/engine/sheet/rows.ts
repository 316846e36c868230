/** The sheet as it lies: its rows, what columns and cells are called, and what each cell's picture depends on; all of it from what the server has told. */
import type { Footage, ShotRow } from "../../api/types";
import { OWN, type CellRef, type Rows, type SheetState } from "./sheet";

type Named = { id: string; name: string };

/** What the server has told; null: not yet. used: the shots that are in the reel. */
export type Known = { shots: readonly ShotRow[]; footage: readonly Footage[]; takes: ReadonlyMap<string, readonly Named[]>; shelf: readonly Named[] | null; starters: readonly Named[] | null; used: ReadonlySet<string> };

export class LaidOut {
  /** Those that the search leaves. */
  readonly shots: readonly ShotRow[];
  readonly rows: Rows;

  constructor(
    private known: Known,
    private state: Pick<SheetState, "mode" | "columns" | "words" | "used">,
  ) {
    const words = state.words.trim().toLowerCase();
    this.shots = known.shots.filter((s) => s.name.toLowerCase().includes(words) && (!state.used || known.used.has(s.id)));
    this.rows = this.shots.map((s) => ({ shot: s.id, columns: state.mode === "looks" ? state.columns : [OWN, ...(known.takes.get(s.id) ?? []).map((t) => `take:${t.id}`)] }));
  }

  private shot(id: string) {
    return this.known.shots.find((s) => s.id === id);
  }

  /** What a column is called: a shot's own look, that of another, one of the shelf. */
  title(column: string): string {
    const { shelf, starters } = this.known;
    const [kind, ...rest] = column.split(":");
    const id = rest.join(":");
    if (column === OWN) return "Its own look";
    if (kind === "shot") return `Look of ${this.shot(id)?.name ?? "a shot that is gone"}`;
    return shelf?.find((s) => s.id === id)?.name ?? starters?.find((s) => s.id === id)?.name ?? (shelf && starters ? "A look that is gone" : "…");
  }

  /** What the look of a cell is called. */
  look({ shot, column }: CellRef): string {
    if (column.startsWith("take:")) return this.known.takes.get(shot)?.find((t) => `take:${t.id}` === column)?.name ?? "A take";
    return this.state.mode === "takes" ? "In work" : this.title(column);
  }

  /** A cell in full. */
  name(cell: CellRef): string {
    return `${this.shot(cell.shot)?.name ?? ""}: ${this.look(cell)}`;
  }

  /** The names of the columns, where each row has the same. */
  get heads(): string[] {
    return this.state.mode === "looks" ? this.state.columns.map((column) => this.title(column)) : [];
  }

  /** What a cell's picture depends on beyond its names: the states of the shots in it. */
  stamp({ shot, column }: CellRef): string {
    const head = (id: string) => this.shot(id)?.head ?? 0;
    return `${head(shot)}.${column.startsWith("shot:") ? head(column.slice(5)) : ""}`;
  }

  inReel(shot: string): boolean {
    return this.known.used.has(shot);
  }

  /** What is told of a shot beside its name. */
  aside(shot: ShotRow): string {
    const piece = this.known.footage.find((f) => f.id === shot.footage_id);
    return [piece && piece.facts.kind !== "still" ? `${piece.seconds.toFixed(1)} s` : "still", this.inReel(shot.id) ? "in the reel" : ""].filter(Boolean).join(" · ");
  }
}
