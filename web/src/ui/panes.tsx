/** The panes of a room, side by side or one above another, with edges that are dragged or stepped. */
import clsx from "clsx";
import { ChevronDown, ChevronLeft, ChevronRight, ChevronUp } from "lucide-react";
import { createContext, useContext, useEffect, useRef, useState, type ReactNode } from "react";
import { Group, Panel, Separator, usePanelRef } from "react-resizable-panels";

/** What is done once an edge has been let go. */
const LetGoContext = createContext<Set<() => void>>(new Set());

const HIT = { coarse: 20, fine: 7 }; // pixels across an edge in which it is taken

export function Panes({ upright = false, className, children }: { upright?: boolean; className?: string; children: ReactNode }) {
  const [letGo] = useState(() => new Set<() => void>());
  const tell = () => requestAnimationFrame(() => letGo.forEach((done) => done())); // by then the panes have their sizes
  return (
    <LetGoContext value={letGo}>
      <Group orientation={upright ? "vertical" : "horizontal"} className={className} resizeTargetMinimumSize={HIT} onLayoutChanged={(_, { isUserInteraction }) => isUserInteraction && tell()}>
        {children}
      </Group>
    </LetGoContext>
  );
}

/** The pane that has what the others leave. */
export function Rest({ least, children }: { least: number; children: ReactNode }) {
  return (
    <Panel minSize={least} className="flex min-h-0 min-w-0 flex-col" style={{ overflow: "hidden" }}>
      {children}
    </Panel>
  );
}

type Side = "left" | "right" | "top";
type Props = {
  name: string;
  /** Which of its edges is dragged. */
  edge: Side;
  /** CSS pixels; `most` is also told in parts of the room ("60%"). */
  size: number;
  least: number;
  most: number | string;
  /** null: as much as it needs. */
  onSize: (size: number | null) => void;
  fold?: Fold;
  /** Told its size in pixels whenever that is another. */
  onShown?: (size: number) => void;
  /** What is in it, folded or not. */
  children: (folded: boolean) => ReactNode;
};
type Fold = {
  folded: boolean;
  /** Pixels of the folded pane. */
  to: number;
  /** Whether it stays so for now. */
  held?: boolean;
  /** The key that folds it. */
  letter?: string;
  onFold: () => void;
};

/** A pane of so many pixels, whatever the size of the window is. Made smaller than its least it folds, where it can. A double click on its edge gives it back what it had. */
export function Pane({ name, edge, size, least, most, onSize, fold, onShown, children }: Props) {
  const panel = usePanelRef();
  const [first] = useState(fold?.folded ? fold.to : size);
  const [shut, setShut] = useState(false);
  const folded = fold?.folded ?? false;
  useEffect(() => {
    // A pane that has just come is known to the others a moment later.
    const asked = requestAnimationFrame(() => (folded ? panel.current?.collapse() : panel.current?.resize(size)));
    return () => cancelAnimationFrame(asked);
  }, [panel, folded, size]);
  const letGo = useContext(LetGoContext);
  const latest = useRef(() => {});
  latest.current = () => {
    const now = panel.current;
    if (!now) return;
    const [collapsed, pixels] = [now.isCollapsed(), now.getSize().inPixels];
    if (collapsed !== folded) fold?.onFold();
    if (!collapsed && Math.abs(pixels - size) >= 1) onSize(pixels);
  };
  useEffect(() => {
    const done = () => latest.current();
    letGo.add(done);
    return () => void letGo.delete(done);
  }, [letGo]);
  const line = <Edge name={name} side={edge} held={fold?.held} onReset={() => onSize(null)} />;
  return (
    <>
      {edge !== "right" && line}
      <Panel
        panelRef={panel}
        defaultSize={first}
        minSize={least}
        maxSize={most}
        collapsible={fold !== undefined}
        collapsedSize={fold?.to}
        groupResizeBehavior="preserve-pixel-size"
        className="relative flex min-h-0 min-w-0 flex-col bg-panel"
        style={{ overflow: "hidden" }}
        onResize={({ inPixels }) => {
          setShut(fold !== undefined && inPixels < fold.to + 1);
          onShown?.(inPixels);
        }}
      >
        {children(folded || shut)}
        {fold && !folded && !shut && <FoldButton name={name} side={edge} fold={fold} />}
      </Panel>
      {edge === "right" && line}
    </>
  );
}

/** Shown while the pointer is at the edge, or on it (`.fold`); keys fold by their letters. */
function FoldButton({ name, side, fold }: { name: string; side: Side; fold: Fold }) {
  const Icon = FOLDS[side];
  return (
    <button
      type="button"
      tabIndex={-1}
      aria-label={`Fold ${name}`}
      title={`Fold ${name} (${fold.letter})`}
      className={clsx(
        "fold absolute z-20 flex items-center justify-center border border-line bg-panel text-quiet hover:text-ink",
        side === "top" ? "right-3 h-[15px] !min-h-0 w-[34px]" : "bottom-3 h-[34px] w-[15px]",
        { left: "left-[4px]", right: "right-[4px]", top: "top-[4px]" }[side],
      )}
      onClick={fold.onFold}
    >
      <Icon size={13} />
    </button>
  );
}

const FOLDS = { left: ChevronRight, right: ChevronLeft, top: ChevronDown };

function Edge({ name, side, held, onReset }: { name: string; side: Side; held?: boolean; onReset: () => void }) {
  const upright = side !== "top";
  return (
    <Separator
      aria-label={`Edge of ${name}`}
      title={`${name}: drag, or arrow keys, for more or less room; a double click gives it back what it had`}
      className={clsx("relative z-20 shrink-0 bg-line data-[separator=active]:bg-strong data-[separator=hover]:bg-strong", upright ? "w-px" : "h-px")}
      disabled={held}
      disableDoubleClick
      onDoubleClick={onReset}
    >
      <span className={clsx("absolute", upright ? "-inset-x-[3px] inset-y-0" : "inset-x-0 -inset-y-[3px]")} />
    </Separator>
  );
}

/** A length of the page's style sheet that a pane sets, as long as its room is open. */
export function useLength(name: string): (pixels: number) => void {
  const { style } = document.documentElement;
  useEffect(() => () => void style.removeProperty(name), [name, style]);
  return (pixels) => style.setProperty(name, `${pixels}px`);
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
