import clsx from "clsx";
import { ChevronDown, ChevronLeft, ChevronRight, ChevronUp } from "lucide-react";
import type { KeyboardEvent } from "react";

import { useDrag } from "./drag";

type Edge = "left" | "right" | "top";
type Props = {
  name: string;
  /** The edge of the pane that it lies on. */
  edge: Edge;
  size: number;
  least: number;
  most: number;
  /** The key that folds the pane. */
  letter?: string;
  onSize: (size: number | null) => void;
  onFold?: () => void;
};

const STEP = 16; // pixels for an arrow key

const PLACES: Record<Edge, string> = {
  left: "inset-y-0 -left-[4px] w-[7px] cursor-col-resize",
  right: "inset-y-0 -right-[4px] w-[7px] cursor-col-resize",
  top: "inset-x-0 -top-[4px] h-[7px] cursor-row-resize",
};
const FOLDS = { left: ChevronRight, right: ChevronLeft, top: ChevronDown };

/** The edge of a pane: dragged or stepped it gives the pane more or less room; a double click gives it what it had at first. */
export function Gutter({ name, edge, size, least, most, letter, onSize, onFold }: Props) {
  const upright = edge !== "top";
  const sign = edge === "right" ? 1 : -1;
  const { begin, handlers } = useDrag<{ at: number; from: number }>({
    move: (held, e) => {
      onSize(held.from + sign * ((upright ? e.clientX : e.clientY) - held.at));
      return held;
    },
    end: () => undefined,
  });
  const keys = (e: KeyboardEvent) => {
    const by = upright ? { ArrowLeft: -1, ArrowRight: 1 }[e.key] : { ArrowUp: -1, ArrowDown: 1 }[e.key];
    if (!by) return;
    e.preventDefault();
    e.stopPropagation();
    onSize(size + by * sign * STEP);
  };
  const Fold = FOLDS[edge];
  return (
    <div className={clsx("group absolute z-20", PLACES[edge])}>
      <div
        role="separator"
        tabIndex={0}
        aria-label={`Edge of ${name}`}
        aria-orientation={upright ? "vertical" : "horizontal"}
        aria-valuenow={Math.round(size)}
        aria-valuemin={least}
        aria-valuemax={most}
        title={`${name}: drag, or arrow keys, for more or less room; a double click gives it back what it had`}
        className="absolute inset-0 touch-none hover:bg-strong"
        onKeyDown={keys}
        onPointerDown={(e) => {
          e.stopPropagation();
          if (e.button === 0) begin(e, { at: upright ? e.clientX : e.clientY, from: size });
        }}
        {...handlers}
        onDoubleClick={() => onSize(null)}
      />
      {onFold && (
        <button
          type="button"
          tabIndex={-1}
          aria-label={`Fold ${name}`}
          title={`Fold ${name} (${letter})`}
          className={clsx(
            "absolute flex items-center justify-center border border-line bg-panel text-quiet opacity-0 group-focus-within:opacity-100 group-hover:opacity-100 hover:text-ink",
            upright ? "bottom-3 h-[34px] w-[15px]" : "right-3 h-[15px] !min-h-0 w-[34px]",
            edge === "right" && "right-0",
            edge === "left" && "left-0",
            edge === "top" && "top-0",
          )}
          onClick={onFold}
        >
          <Fold size={13} />
        </button>
      )}
    </div>
  );
}

/** What is left of a pane that is folded: a bar that brings it back. */
export function FoldedPane({ name, letter, upright, onUnfold }: { name: string; letter: string; upright: boolean; onUnfold: () => void }) {
  const Icon = upright ? (name === "Where" ? ChevronRight : ChevronLeft) : ChevronUp;
  return (
    <button type="button" aria-label={`Unfold ${name}`} title={`Unfold ${name} (${letter})`} className={clsx("flex items-center gap-1.5 bg-panel text-quiet hover:text-ink", upright ? "h-full w-full flex-col pt-2.5" : "h-full w-full px-3")} onClick={onUnfold}>
      <Icon size={14} />
      <span className="font-bold" style={upright ? { writingMode: "vertical-rl" } : undefined}>
        {name}
      </span>
    </button>
  );
}
