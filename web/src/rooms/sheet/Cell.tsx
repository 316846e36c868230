import clsx from "clsx";
import { useEffect, useRef, useState, type MouseEvent } from "react";

import type { CellRef, Rows, Which } from "../../engine/sheet/sheet";
import { pictureOf, useCell, useMarks } from "./cells";
import { keep, release } from "./release";
import { useSheetRoom, useSheetState } from "./context";

export const WIDTH = 320; // pixels of a cell's picture
const THREE: Which[] = ["first", "middle", "last"];

type Props = { cell: CellRef; standIn: string; name: string; rows: Rows; stamp: string; onOpen: (cell: CellRef) => void; onPick: (cell: CellRef) => void };

/** A shot under a look: its picture, and what was done to its keys. */
export function Cell({ cell, standIn, name, rows, stamp, onOpen, onPick }: Props) {
  const { sheet } = useSheetRoom();
  const chosen = useSheetState((s) => s.chosen.some((c) => c.shot === cell.shot && c.column === cell.column));
  const here = useSheetState((s) => s.cursor?.shot === cell.shot && s.cursor.column === cell.column);
  const frames = useSheetState((s) => s.frames);
  const shapes = useSheetState((s) => s.shapes);
  const sure = useSheetState((s) => s.sure);
  const [seen, setSeen] = useState(false);
  const { told, wrong } = useCell(cell, stamp, seen);
  const marks = useMarks(cell, stamp, seen);
  const box = useRef<HTMLButtonElement>(null);
  useEffect(() => {
    const held = document.activeElement; // where the row of the focus has left the view, the page itself
    if (here && (held === document.body || held?.closest("[data-cells]"))) box.current?.focus({ preventScroll: true });
    if (here) box.current?.scrollIntoView({ block: "nearest", inline: "nearest" });
  }, [here]);
  const badge = marks.length > 1 ? `${marks.length} marks` : marks[0]?.name;
  const [tries, setTries] = useState(0);
  const choose = (e: MouseEvent) => {
    setTries(tries + 1); // Enter on the cell tries a picture again that failed
    sheet.choose(cell, rows, e.shiftKey ? "upto" : e.ctrlKey || e.metaKey ? "more" : "alone");
  };
  const whiches = frames === "one" ? (["stands"] as Which[]) : THREE;
  const needs = told?.asks ?? false;
  return (
    <div className="min-w-0">
      <button
        ref={box}
        type="button"
        data-cell={`${cell.shot} ${cell.column}`}
        tabIndex={here ? 0 : -1}
        aria-pressed={chosen}
        aria-label={`${name}${told?.words ? `: ${told.words}` : ""}${badge ? `; ${badge}` : ""}`}
        className={clsx("relative flex aspect-video w-full scroll-ml-[176px] overflow-hidden border-2 bg-black", chosen ? "border-ink" : "border-line hover:border-strong", here && "outline outline-2 outline-offset-1 outline-ink")}
        onClick={choose}
        onDoubleClick={() => onOpen(cell)}
      >
        {whiches.map((which) => (
          <Picture key={which} url={pictureOf(cell, which, frames === "one" ? WIDTH : WIDTH / 2, { shapes, sure }, stamp)} standIn={standIn} tries={tries} onSeen={() => setSeen(true)} />
        ))}
        {marks.length > 0 && (
          <span className="absolute top-1.5 right-1.5 bg-black px-1 text-[11px] font-semibold text-white outline outline-1 outline-strong" title={marks.map((m) => `${m.name}: ${m.words}${m.fix ? ` Fixed by: ${m.fix.toLowerCase()}.` : ""}`).join("\n")}>
            {badge}
          </span>
        )}
        {chosen && <span className="absolute top-1.5 left-1.5 flex h-[18px] w-[18px] items-center justify-center bg-inverse text-[12px] font-bold text-inverse-ink">✓</span>}
      </button>
      <p className="flex min-h-[20px] items-center gap-1 truncate pt-0.5 text-[12px] leading-[16px] text-quiet">
        {(needs || told?.warning || wrong) && <b className="bg-inverse px-1 text-inverse-ink">!</b>}
        {needs ? (
          <button type="button" className="truncate underline hover:text-ink" title={`${told!.words}. Put it on and pick on the Bench; the sheet stays where it is.`} onClick={() => onPick(cell)}>
            {told!.how === "asks" ? told!.words : `needs a pick${told!.words ? `: ${told!.words}` : ""}`}
          </button>
        ) : (
          <span className="truncate" title={[wrong, told?.warning, told?.words, told?.shapes_left_out ? "its shapes are left out" : ""].filter(Boolean).join("; ")}>
            {wrong || (told?.warning ?? (told?.words || (told?.shapes_left_out ? "shapes left out" : "")))}
          </span>
        )}
      </p>
    </div>
  );
}

/** A picture that is loaded when its turn comes, and given up when it leaves the view; until it is there another stands in, darkened. One that failed is tried again with each of `tries`. */
export function Picture({ url, standIn, tries = 0, onSeen }: { url: string; standIn?: string; tries?: number; onSeen?: () => void }) {
  const { loader } = useSheetRoom();
  const box = useRef<HTMLSpanElement>(null);
  const shown = useRef<HTMLImageElement>(null);
  const [source, setSource] = useState<string | null>(null);
  const [wrong, setWrong] = useState("");
  const [again, setAgain] = useState(0);
  const failed = useRef(false);
  failed.current = wrong !== "";
  const seen = useRef(onSeen);
  seen.current = onSeen;
  useEffect(() => {
    let made: string | null = null;
    const far = () => {
      const at = box.current?.getBoundingClientRect();
      return at ? Math.abs(at.top + at.height / 2 - innerHeight / 2) : Infinity;
    };
    const stop = loader.want(url, far, (got) => {
      setWrong(got instanceof Blob ? "" : got.wrong);
      if (!(got instanceof Blob)) return setSource(null); // the picture before is of something else
      made = URL.createObjectURL(got);
      setSource(made);
      seen.current?.();
    });
    return () => {
      stop();
      if (made) release(made, shown.current);
    };
  }, [loader, url, again]);
  const retry = () => {
    setWrong("");
    setAgain((n) => n + 1);
  };
  useEffect(() => {
    if (failed.current) retry();
  }, [tries]);
  return (
    <span ref={box} className="relative flex min-w-0 flex-1 items-center justify-center">
      {source ? (
        <img ref={keep(shown)} src={source} alt="" draggable={false} className="h-full w-full object-contain" />
      ) : (
        standIn && <img src={standIn} alt="" loading="lazy" draggable={false} className="h-full w-full object-contain opacity-30" />
      )}
      {!source && !wrong && <span className="absolute text-[12px] text-white">…</span>}
      {wrong && (
        <span role="alert" className="absolute inset-x-0 bottom-0 line-clamp-3 bg-inverse px-1.5 py-0.5 text-left text-[11px] leading-[14px] text-inverse-ink" title={`${wrong} A click, or Enter, tries again.`} onClick={(e) => (e.stopPropagation(), retry())}>
          <b>!</b> {wrong} <u>Try again</u>
        </span>
      )}
    </span>
  );
}
