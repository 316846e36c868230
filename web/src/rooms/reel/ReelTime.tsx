import { HelpButton } from "../../panels/HelpButton";
import { ListVideo, Pause, Play, SkipBack, SkipForward, StepBack, StepForward } from "lucide-react";
import { useRef } from "react";
import { useNavigate } from "react-router";

import { rowsOf } from "../../engine/reel/layout";
import { toCut } from "../../engine/reel/edits";
import { frameAt } from "../../engine/timespan";
import { renderThenPlay, togglePlay } from "../../engine/transport";
import { sizeWords } from "../../engine/stage/pace";
import { useTime } from "../../panels/engine";
import { Overview } from "../../panels/Overview";
import { Marks, Playhead, useScrub, useSpan, useWheel } from "../../panels/Ruler";
import { TimeField } from "../../panels/TimeField";
import { LoopAndSound } from "../../panels/Toggled";
import { Button, IconButton } from "../../ui/basics";
import { PointerMenu } from "../../ui/menu";
import { useAskName } from "../../ui/prompt";
import { timecode } from "../../ui/words";
import { useReel, useReelChoice, useReelLayout } from "./context";
import { InOut } from "./InOut";
import { Items } from "./Items";
import { menuAt } from "./menus";
import { Transitions } from "./Transitions";
import { SoundRow } from "./SoundRow";
import { SPAN_ROW, Spans } from "./Spans";

const FEWEST_ROWS = 1;

/** Time: the transport, and under one ruler the spans, the items with their transitions, and the sound. */
export function ReelTime() {
  const reel = useReel();
  const navigate = useNavigate();
  const askName = useAskName();
  const layout = useReelLayout();
  const box = useRef<HTMLDivElement>(null);
  const span = useSpan(box);
  useWheel(box, span, 0);
  const { handlers } = useScrub(box, span);
  const rows = rowsOf(layout.spans);
  const high = Math.max(rows.length, FEWEST_ROWS) * SPAN_ROW;
  return (
    <div className="grid h-full grid-cols-[var(--reel-left)_minmax(0,1fr)]">
      <div className="flex min-h-0 flex-col border-r border-line px-3.5 py-1.5">
        <Transport />
      </div>
      <div className="flex min-h-0 flex-col px-3">
        <PointerMenu itemsAt={(element, { clientX }) => menuAt(reel, element, { go: (to) => void navigate(to), askName, frame: reel.timeline.within(frameAt(span, clientX - box.current!.getBoundingClientRect().left)) })}>
          <div ref={box} className="pane relative flex min-h-0 flex-1 touch-none flex-col overflow-x-clip overflow-y-auto select-none" {...handlers}>
            <Marks span={span} rate={layout.rate} />
            <Spans span={span} rows={rows} height={high} />
            <div className="relative mt-1 h-[86px] shrink-0">
              <Items span={span} />
              <Transitions span={span} />
            </div>
            <SoundRow span={span} />
            <Playhead span={span} rate={layout.rate} />
            <InOut span={span} />
          </div>
        </PointerMenu>
        <Overview />
      </div>
    </div>
  );
}

function Transport() {
  const reel = useReel();
  const layout = useReelLayout();
  const frame = useTime((s) => s.frame);
  const playing = useTime((s) => s.playing);
  const rendering = useTime((s) => s.rendering !== null);
  const marks = useReelChoice((s) => s.marks);
  return (
    <>
      <div className="flex items-baseline justify-between gap-2">
        <span className="flex items-baseline gap-0.5">
          <h2 className="text-[18px] font-bold">When</h2>
          <HelpButton of="When" page="reel" part="cut" />
        </span>
        <span className="text-[12px] whitespace-nowrap text-quiet">
          <TimeField as="timecode" /> of {timecode(layout.length, layout.rate)}
        </span>
      </div>
      <div className="flex items-center" role="group" aria-label="Transport">
        <IconButton tip="To the cut before (↑)" onClick={() => toCut(reel, -1)}>
          <SkipBack size={15} />
        </IconButton>
        <IconButton tip="One frame back (←)" onClick={() => reel.go(frame - 1)}>
          <StepBack size={15} />
        </IconButton>
        <IconButton tip={playing ? "Pause (Space)" : "Play (Space)"} on={playing} onClick={() => togglePlay(reel)}>
          {playing ? <Pause size={16} /> : <Play size={16} />}
        </IconButton>
        <IconButton tip="One frame on (→)" onClick={() => reel.go(frame + 1)}>
          <StepForward size={15} />
        </IconButton>
        <IconButton tip="To the next cut (↓)" onClick={() => toCut(reel, 1)}>
          <SkipForward size={15} />
        </IconButton>
        <span className="flex-1" />
        <LoopAndSound tips={{ on: "Begins again at the end", off: "Stops at the end" }} heard />
      </div>
      <div className="-mr-1.5 flex items-center gap-1">
        <Button title="Set the in at this frame" does="in" onClick={() => reel.markEnd("first", frame)}>
          In{marks && ` ${reel.ends.first}`}
        </Button>
        <Button title="Set the out at this frame" does="out" onClick={() => reel.markEnd("last", frame)}>
          Out{marks && ` ${reel.ends.last}`}
        </Button>
        {marks && (
          <Button look="plain" aria-label="No in and out" title="No in and out (Shift I)" onClick={() => reel.mark(null)}>
            ✕
          </Button>
        )}
        <span className="flex-1" />
        <IconButton tip={rendering ? "Stop rendering" : "Render from in to out, then play"} does="fill" on={rendering} onClick={() => renderThenPlay(reel)}>
          <ListVideo size={15} />
        </IconButton>
      </div>
      <Rate />
      <p className="mt-1 text-[12px] leading-[16px] text-quiet">Drag items to reorder, their edges to trim, a cut by its grip. S splits, X dissolves, U lays a span over what is chosen; a right click has more, ? all keys.</p>
    </>
  );
}

function Rate() {
  const layout = useReelLayout();
  const playing = useTime((s) => s.playing);
  const reached = useTime((s) => s.reached);
  const size = useTime((s) => s.size);
  const rendering = useTime((s) => s.rendering);
  const told = Math.round(layout.rate * 1000) / 1000;
  return (
    <p aria-label="Rate" className="text-[12px] text-quiet">
      {rendering ? `rendering ${rendering.done} of ${rendering.total}` : playing && reached ? `${reached.toFixed(1)} of ${told} fps${size < 1 ? `, ${sizeWords(size)}` : " seen"}` : `${layout.width} × ${layout.height}, ${told} fps`}
    </p>
  );
}
