import { HelpButton } from "./HelpButton";
import clsx from "clsx";
import { Popover } from "radix-ui";
import { useEffect, useState } from "react";

import type { MarkView } from "../api/types";
import { hearInLook, silenceInLook } from "../engine/silenced";
import { followChecks, goToMark, markKey, fix } from "../engine/checks";
import { perFrame, xOf, type Span } from "../engine/timespan";
import { Button } from "../ui/basics";
import { useSay } from "../ui/notices";
import { useChoice, useEngine, useStage, useTime, useView } from "./engine";
import { Menu } from "../ui/menu";
import { useApp } from "./app";
import { useMapping } from "./mapping";
import { useMarksHere } from "./marks";

/** How many checks have found something: a quiet count, which opens to what, where, how bad, and the step that fixes it. */
export function ChecksCount() {
  const engine = useEngine();
  const checked = useChoice((s) => s.checked);
  const lit = useChoice((s) => s.litMark);
  const view = useView();
  const { revision } = view;
  const say = useSay();
  const [open, setOpen] = useState(false);
  useEffect(() => followChecks(engine), [engine]);
  const fresh = checked?.revision === revision;
  const broken = fresh ? checked.broken : undefined;
  const running = !broken && (!checked || !fresh || checked.done < checked.total);
  const { heard: marks, silent } = useMarksHere();
  const { silenced } = useApp();
  const words = marks.length ? `${marks.length} ${marks.length === 1 ? "mark" : "marks"}` : broken ? "Checks broke off" : running ? "Checking…" : "No marks";
  const go = (mark: MarkView) => {
    goToMark(engine, mark);
    engine.choice.set({ litMark: mark });
    setOpen(false); // it lies over the picture
  };
  const fixIt = (mark: MarkView) => {
    engine.choice.set({ litMark: null });
    fix(engine, mark).then((answer) => engine.done(`${mark.fix}.`, answer?.made ?? null), (error: Error) => say(error.message, { bad: true }));
  };
  return (
    <Popover.Root open={open} onOpenChange={setOpen}>
      <Popover.Trigger asChild>
        <Button look="plain" aria-label={`Checks: ${words}`} title="What was measured of this look: banding, clipping, flicker and more" className={clsx(fresh && marks.length > 0 && "text-ink")}>
          {words} ▾
        </Button>
      </Popover.Trigger>
      <Popover.Portal>
        <Popover.Content align="end" side="top" sideOffset={3} collisionPadding={8} className="z-30 max-h-[420px] w-[400px] overflow-auto border border-strong bg-raised p-3">
          <p className="flex items-baseline justify-between">
            <span className="flex items-baseline gap-0.5">
              <b>Checks</b>
              <HelpButton of="Checks" page="bench" part="checks" />
            </span>
            <span className="text-[12px] text-quiet">{running && checked ? `${checked.done} of ${checked.total} frames${fresh ? "" : ", of the state before"}` : running ? "begin when nothing else is at work" : `${broken ? checked!.done : checked!.total} frames looked at`}</span>
          </p>
          {broken && <p className="mt-2">The checks broke off after {checked?.done} frames. {broken}</p>}
          {!marks.length && !running && !broken && <p className="mt-2 text-quiet">Nothing was found: no banding, clipping, flicker, flashes, or colour that is hard to tell.</p>}
          <ul aria-label="Marks">
            {marks.map((mark) => (
              <li key={markKey(mark)} aria-label={mark.name} className={clsx("mt-2 border-t border-line pt-2", lit && markKey(lit) === markKey(mark) && "border-t-ink")}>
                <p>
                  <b>{mark.name}</b> <span className="text-quiet">{mark.first === mark.last ? `frame ${mark.frame}` : `frames ${mark.first}–${mark.last}, worst ${mark.frame}`}</span>
                </p>
                <p className="mt-0.5">{mark.words}</p>
                <p className="mt-1.5 flex gap-2">
                  <Button onClick={() => go(mark)}>Show</Button>
                  {mark.fix && <Button onClick={() => fixIt(mark)} className="min-w-0 truncate">{mark.fix}</Button>}
                  <span className="flex-1" />
                  <Menu
                    trigger={<Button look="plain" aria-label={`Silence: ${mark.name}`} title="Tell of this check no more">Silence ▾</Button>}
                    items={[
                      { name: "In this look", onSelect: () => silenceInLook(engine, mark.check, mark.name) },
                      { name: "For this shot", onSelect: () => silenced.put(mark.check, view.shot.id) },
                      { name: "For good", onSelect: () => silenced.put(mark.check, null) },
                    ]}
                  />
                </p>
              </li>
            ))}
          </ul>
          {silent.length > 0 && (
            <p className="mt-2 border-t border-line pt-2 text-[12px] text-quiet">
              Silenced:{" "}
              {[...new Map(silent.map((mark) => [mark.check, mark.name]))].map(([check, name]) => (
                <button key={check} type="button" className="as-button mr-2 hover:text-ink" title="Tell of it again" onClick={() => (silenced.lift(check, view.shot.id), hearInLook(engine, check, name))}>
                  {name}
                </button>
              ))}
            </p>
          )}
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  );
}

/** Where on the picture the mark is that lights up: hatched. */
export function MarkOverlay() {
  const mapping = useMapping();
  const mark = useChoice((s) => s.litMark);
  const frame = useTime((s) => s.frame);
  const { shot, revision, footage } = useView();
  const hidden = useStage((s) => s.compare !== "off");
  const [gone, setGone] = useState("");
  if (!mark || !mapping || hidden || frame !== mark.frame) return null;
  const url = `/api/shots/${shot.id}/checks/${revision}/${frame}/${mark.check}.png${mark.selection ? `?selection=${mark.selection}` : ""}`;
  if (gone === url) return null;
  const [from, to] = [mapping.toScreen({ x: 0, y: 0 }), mapping.toScreen({ x: (1080 * footage.facts.width) / footage.facts.height, y: 1080 })];
  return <img src={url} alt={`Where: ${mark.name}`} onError={() => setGone(url)} className="pointer-events-none absolute max-w-none" style={{ left: from.x, top: from.y, width: to.x - from.x, height: to.y - from.y }} />;
}

/** Marks along the ruler: a bar for each stretch, its worst frame a notch. */
export function MarksOnRuler({ span }: { span: Span }) {
  const engine = useEngine();
  const { heard: marks } = useMarksHere();
  return (
    <div role="img" aria-label={`Marks of checks: ${marks.map((m) => `${m.name} at frame ${m.frame}`).join(", ") || "none"}`} className="pointer-events-none absolute inset-x-0 top-0 h-[5px]">
      {marks.map((mark) => {
        const [left, right] = [xOf(span, mark.first - 0.5), xOf(span, mark.last + 0.5)];
        return (
          <span key={markKey(mark)} title={`${mark.name}: ${mark.words}`} className="pointer-events-auto absolute h-[5px] bg-ink opacity-70" style={{ left, width: Math.max(3, Math.min(right - left, perFrame(span) * (mark.last - mark.first + 1))) }} onPointerDown={(e) => e.stopPropagation()} onClick={() => goToMark(engine, mark)} />
        );
      })}
    </div>
  );
}
