/** How much room each pane of a room takes, which are folded, and how the scope stands: remembered from one time to the next. */
import { createStore, type StoreApi } from "zustand/vanilla";

/** Of the Bench, and of the reel: its shots, what is chosen, its time. */
export type Pane = "where" | "what" | "when" | "scope" | "shots" | "chosen" | "cut";

/** null: as much as it needs. */
type Sizes = Record<Pane, number | null>;
export type Box = { x: number; y: number; width: number; height: number };

export type LayoutState = {
  sizes: Sizes;
  folded: Pane[];
  /** Where the scope floats over the room; null: it has its place in the panel. */
  floating: Box | null;
  /** What the pictures along the ruler show. */
  strip: "source" | "result";
};

/** CSS pixels: the least, what it is at first, and the most. */
export const PANES: Record<Pane, { least: number; first: number | null; most: number }> = {
  where: { least: 230, first: 268, most: 520 },
  what: { least: 250, first: 300, most: 560 },
  when: { least: 104, first: null, most: 620 },
  scope: { least: 70, first: 112, most: 480 },
  shots: { least: 190, first: 220, most: 420 },
  chosen: { least: 250, first: 282, most: 520 },
  cut: { least: 200, first: 272, most: 560 },
};

const NAME = "wenditas-layout";
const FIRST: LayoutState = { sizes: { where: null, what: null, when: null, scope: null, shots: null, chosen: null, cut: null }, folded: [], floating: null, strip: "source" };
export const LEAST_FLOAT = { width: 220, height: 130 };

type Kept = Pick<Storage, "getItem" | "setItem">;

/** What was remembered, as far as it makes sense here. */
function read(kept: Kept): LayoutState {
  try {
    const found = JSON.parse(kept.getItem(NAME) ?? "{}") as Partial<LayoutState>;
    const panes = Object.keys(PANES) as Pane[];
    const size = (pane: Pane) => (Number.isFinite(found.sizes?.[pane]) ? within(pane, found.sizes![pane]!) : null);
    const { floating } = found;
    return {
      sizes: Object.fromEntries(panes.map((p) => [p, size(p)])) as Sizes,
      folded: panes.filter((p) => found.folded?.includes(p)),
      floating: floating && [floating.x, floating.y, floating.width, floating.height].every(Number.isFinite) ? floating : null,
      strip: found.strip === "result" ? "result" : "source",
    };
  } catch {
    return FIRST;
  }
}

const within = (pane: Pane, size: number) => Math.round(Math.min(Math.max(size, PANES[pane].least), PANES[pane].most));

export class Layout {
  readonly state: StoreApi<LayoutState>;

  constructor(private kept: Kept) {
    this.state = createStore<LayoutState>(() => read(kept));
    this.state.subscribe((now) => this.kept.setItem(NAME, JSON.stringify(now)));
  }

  /** Give a pane some room; null: as much as it needs. */
  size(pane: Pane, size: number | null) {
    this.state.setState(({ sizes }) => ({ sizes: { ...sizes, [pane]: size === null ? null : within(pane, size) } }));
  }

  fold(pane: Pane) {
    this.state.setState(({ folded }) => ({ folded: folded.includes(pane) ? folded.filter((p) => p !== pane) : [...folded, pane] }));
  }

  /** Let the scope float in a box that is large enough to read, or put it back. */
  float(box: Box | null) {
    this.state.setState({ floating: box && { ...box, width: Math.max(box.width, LEAST_FLOAT.width), height: Math.max(box.height, LEAST_FLOAT.height) } });
  }
}
