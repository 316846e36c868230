/** What is wanted of the picture, and what is told of it. */
import type { View } from "../../api/types";

export type Compare = "off" | "wipe" | "side";
export type ScopeKind = "waveform" | "parade" | "vectorscope" | "histogram";
export type ScopeOf = "result" | "source" | "inside" | "outside";
/** rgb, luma: percent. */
export type PixelReport = { hex: string; rgb: [number, number, number]; luma: number; hue: number; chroma: number; lightness: number; matte: number | null };

export type Saved = { revision: number; name: string };

export type StageState = {
  show: View;
  compare: Compare;
  /** The saved state that the picture is compared with, in place of the source. */
  against: Saved | null;
  /** The saved state that is shown in place of the one in work, until that is changed. */
  instead: Saved | null;
  wipe: number;
  /** Held to see the source. */
  peek: boolean;
  /** Show the picture up to the chosen pass instead of the finished one. */
  upTo: boolean;
  /** Show the chosen pass alone, on the source. */
  solo: boolean;
  scope: { kind: ScopeKind; of: ScopeOf; open: boolean; codes: boolean };
  scopeImage: { kind: ScopeKind; bitmap: ImageBitmap } | null;
  /** Where the pointer is in the picture, 0-1. */
  pointer: { x: number; y: number } | null;
  /** A selection of the moment whose pixels are hatched: what lies under the pointer in the census. */
  lit: ({ id: string } & Record<string, unknown>) | null;
  pixel: PixelReport | null;
  coverage: number | null;
  busySince: number | null;
  /** The final picture is on screen and everything about it is measured. */
  settled: boolean;
  /** The first picture has arrived; everything less urgent waits for it. */
  begun: boolean;
  /** Why there is no picture of what is asked for. */
  failure: string | null;
  /** Outlines and handles are drawn over the picture. */
  outlines: boolean;
  /** The picture takes the window. */
  whole: boolean;
};

export const NOTHING: Omit<StageState, "scope"> = {
  show: "result",
  compare: "off",
  against: null,
  instead: null,
  wipe: 0.5,
  peek: false,
  outlines: true,
  upTo: false,
  solo: false,
  scopeImage: null,
  pointer: null,
  lit: null,
  pixel: null,
  coverage: null,
  busySince: null,
  settled: false,
  begun: false,
  failure: null,
  whole: false,
};

export const SCOPE: StageState["scope"] = { kind: "waveform", of: "result", open: true, codes: false };

/** A picture that is wanted: of what state, which frame, how wide, and what of it. */
export type Want = { revision: number; frame: number; width: number; view: View; selection: string | null; upto: number | null; alone: string | null; without?: "spans" | "looks" | null; stamp?: number };
