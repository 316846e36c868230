/** What is chosen and under way on the Bench: the pass, the selection and its parts, the tool. Nothing of it is stored. */
import type { Command, MarkView, Shape, ShotDocument, WeakFrame } from "../api/types";
import { split } from "./commands";
import { Slice } from "./slice";

export type Tool = "pick" | "add" | "refuse" | "hand";

export type Tracking = { shape: string; done: number; total: number; frame: number; stop: () => void };

/** Selected area over time, in percent, and which stretches of it are known; `fresh` once it belongs to the newest state of the selection. */
export type Curve = { key: string; values: number[]; known: [number, number][]; weak: WeakFrame[]; fresh: boolean };

/** What a stroke in the picture is: of the thing, of what it is not, or a brush that takes strokes away. radius: in pixels of 1080 lines. */
export type Brush = { kind: "this" | "not this" | "rub out"; radius: number };

/** How sure an object is, frame by frame (NaN: not carried there yet), and where a stroke is asked for. over: nothing more comes. */
export type Sure = { key: string; object: string; values: number[]; done: number; over: boolean };

/** revision: of what the marks belong to; done, total: frames; broken: why they broke off. */
export type Checked = { revision: number; marks: MarkView[]; done: number; total: number; broken?: string };

/** A fit that would select much more than before: what it would be, until it is decided on. */
export type Fitting = { selection: string; key: string; words: string; before: number; after: number; commands: Command[] };

export type ChoiceState = {
  selectionId: string | null;
  passId: string | null;
  /** The bundle that the panel edits, instead of the pass. */
  bundleId: string | null;
  /** The other end of a run of passes that is marked, from the chosen one on. */
  marked: string | null;
  /** The bundles whose cards are open. */
  open: string[];
  /** Which key of the selection the panel edits; null: the first. */
  keyId: string | null;
  shapeId: string | null;
  objectId: string | null;
  /** Strokes are drawn on the picture. */
  brush: Brush | null;
  sure: Sure | null;
  tool: Tool;
  /** Side of the square that a click samples, in source pixels. */
  patch: number;
  /** The kind of shape being drawn on the picture. */
  drawing: Shape["kind"] | null;
  /** The next click in the picture gives a colour to this, instead of a pick. */
  dropper: ((hex: string) => void) | null;
  /** What a look from the shelf asks to be picked, and for which selection. */
  asks: { words: string; selection: string } | null;
  /** A fit that would select much more than before, until it is decided on. */
  fitting: Fitting | null;
  /** The island pointed at in the list: its outline. */
  island: [number, number][] | null;
  tracking: Tracking | null;
  /** A look is being made from a picture: the file that was dropped for it, if one was. */
  likeness: { file: File | null } | null;
  /** How far around a point that is dragged with Shift others come along, in pixels of a 1080-line picture. */
  pull: number;
  curve: Curve | null;
  /** What checks have found, and of which revision. */
  checked: Checked | null;
  /** The mark that lights up on the picture. */
  litMark: MarkView | null;
};

export class Choice extends Slice<ChoiceState> {
  constructor(document: ShotDocument, kept: Partial<ChoiceState> = {}) {
    super({
      selectionId: document.look.selections?.[0]?.id ?? null,
      passId: document.look.passes?.at(-1)?.id ?? null,
      bundleId: null,
      marked: null,
      open: [],
      keyId: null,
      shapeId: null,
      objectId: null,
      brush: null,
      sure: null,
      tool: "hand",
      patch: 5,
      drawing: null,
      dropper: null,
      asks: null,
      fitting: null,
      island: null,
      tracking: null,
      likeness: null,
      pull: 120,
      curve: null,
      checked: null,
      litMark: null,
      ...kept,
    });
  }

  /** Choose a pass; a bundle that was chosen is not any more. */
  choosePass(passId: string | null) {
    this.set({ passId, bundleId: null });
  }

  /** Choose a bundle, and the last of its passes. */
  chooseBundle(bundleId: string, passId: string) {
    this.set({ passId, bundleId, marked: null });
  }

  /** Choose what a target names: a pass, or a selection with its key or shape. */
  reveal(target: string, document: ShotDocument): void {
    const words = split(target);
    const [kind, id, part, inner] = words.slice(words[0] === "look" ? 1 : 0);
    const lane = kind === "lanes" ? id : null;
    if (lane) return this.reveal(lane, document);
    const passes = document.look.passes ?? [];
    const selection = (document.look.selections ?? []).find((s) => s.id === id);
    if (kind === "passes" && passes.some((p) => p.id === id)) this.set({ passId: id!, bundleId: null });
    const of = kind === "bundles" ? passes.findLast((p) => p.bundle === id) : null;
    if (of) this.set({ passId: of.id, bundleId: id! });
    if (kind !== "selections" || !selection) return;
    const has = (items: { id?: string }[] | undefined) => (items?.some((item) => item.id === inner) ? inner! : null);
    this.set({ selectionId: id!, keyId: part === "keys" ? has(selection.keys) : null, shapeId: part === "shapes" ? has(selection.shapes) : null, objectId: part === "objects" ? has(selection.objects) : null });
  }

  /** What is chosen stays chosen while it is there; else something near it is. */
  follow(document: ShotDocument) {
    const { passId, selectionId, shapeId, objectId, brush, keyId, asks, fitting, bundleId, marked } = this.now;
    const passes = document.look.passes ?? [];
    const selections = document.look.selections ?? [];
    const selection = selections.find((s) => s.id === selectionId) ?? selections[0] ?? null;
    const asked = asks && selections.find((s) => s.id === asks.selection);
    const fitted = fitting && selections.find((s) => s.id === fitting.selection)?.keys?.some((k) => k.id === fitting.key);
    const next = {
      passId: passes.some((p) => p.id === passId) ? passId : (passes.at(-1)?.id ?? null),
      bundleId: (document.look.bundles ?? []).some((b) => b.id === bundleId) ? bundleId : null,
      marked: passes.some((p) => p.id === marked) ? marked : null,
      selectionId: selection?.id ?? null,
      shapeId: selection?.shapes?.some((s) => s.id === shapeId) ? shapeId : null,
      objectId: selection?.objects?.some((o) => o.id === objectId) ? objectId : null,
      brush: selection?.objects?.some((o) => o.id === objectId) ? brush : null,
      keyId: selection?.keys?.some((k) => k.id === keyId) ? keyId : null,
      fitting: fitted && selection?.id === fitting.selection ? fitting : null,
      asks: asked && !asked.keys?.length && !asked.shapes?.length && !asked.objects?.length ? asks : null,
    };
    const now = this.now;
    if (Object.entries(next).some(([key, value]) => now[key as keyof ChoiceState] !== value)) this.set(next);
  }
}
