import { HelpButton } from "./HelpButton";
import { ListVideo, Pause, Play, SkipBack, SkipForward, StepBack, StepForward } from "lucide-react";
import { Button, IconButton } from "../ui/basics";
import { CurveWords } from "./Curve";
import { Lanes } from "./Lanes";
import { Ruler, RulerLine } from "./Ruler";
import { TimeField } from "./TimeField";
import { lanesOf } from "../engine/lanes";
import { renderThenPlay, setEnd, togglePlay } from "../engine/transport";
import { sizeWords } from "../engine/stage/pace";
import { LoopAndSound } from "./Toggled";
import { useApp, useLayout } from "./app";
import { useDoc, useEngine, useFacts, useShown, useShownParts, useTime, useView } from "./engine";

/** Time: the transport, the ruler and the lanes under it. */
export function When() {
  const lanes = useShown((d) => lanesOf(d).length);
  return (
    <div className="grid h-full grid-cols-[268px_minmax(0,1fr)] grid-rows-[150px_minmax(0,1fr)]">
      <Transport />
      <Ruler />
      <div className="col-span-2 min-h-0 overflow-hidden">
        {lanes > 0 ? <Lanes /> : <p className="border-t border-line px-3.5 py-1.5 text-quiet">Lanes stand here once something changes over time: press the post before a value, at two frames.</p>}
      </div>
    </div>
  );
}

/** Time in one line: while it is folded, or the picture has the window. */
export function WhenLine() {
  const { facts } = useView().footage;
  return (
    <div className="flex h-full items-center gap-4 px-3.5">
      <Buttons />
      <FrameField length={facts.length} />
      <Rate />
      <div className="h-full min-w-0 flex-1">
        <RulerLine />
      </div>
    </div>
  );
}

function Transport() {
  const engine = useEngine();
  const part = useDoc((s) => s.view.part);
  const facts = useFacts();
  const document = useShownParts((d) => ({ first: d.first, last: d.last }));
  return (
    <div className="flex min-h-0 flex-col gap-1 overflow-hidden border-r border-line px-3.5 py-1.5">
      <div className="flex items-baseline justify-between">
        <span className="flex items-baseline gap-0.5">
          <h2 className="text-[18px] font-bold">When</h2>
          <HelpButton of="When" page="bench" part="when" />
        </span>
        <FrameField length={facts.length} />
      </div>
      <Buttons />
      <div className="flex items-center gap-2">
        {!part && <><Button title="Set the in at this frame" does="in" onClick={() => setEnd(engine, "first", engine.timeline.frame)}>
          In {document.first}
        </Button>
        <Button title="Set the out at this frame" does="out" onClick={() => setEnd(engine, "last", engine.timeline.frame)}>
          Out {document.last}
        </Button></>}
        {part && <span>{part.kind === "span" ? `from ${part.begins} of the reel` : `begins at ${document.first}`}</span>}
        <span className="ml-auto text-quiet">{document.last - document.first + 1} frames</span>
      </div>
      <div className="flex items-center justify-between gap-2">
        <Rate />
        <StripOf />
      </div>
      <CurveWords />
    </div>
  );
}

function Buttons() {
  const engine = useEngine();
  const playing = useTime((s) => s.playing);
  const rendering = useTime((s) => s.rendering);
  const document = useShownParts((d) => ({ first: d.first, last: d.last }));
  return (
    <div className="flex items-center" role="group" aria-label="Transport">
      <IconButton tip="To the in (Home)" onClick={() => engine.go(document.first)}>
        <SkipBack size={15} />
      </IconButton>
      <IconButton tip="One frame back (←)" onClick={() => engine.go(engine.timeline.frame - 1)}>
        <StepBack size={15} />
      </IconButton>
      <IconButton tip={playing ? "Pause (Space)" : "Play (Space)"} on={playing} onClick={() => togglePlay(engine)}>
        {playing ? <Pause size={16} /> : <Play size={16} />}
      </IconButton>
      <IconButton tip="One frame on (→)" onClick={() => engine.go(engine.timeline.frame + 1)}>
        <StepForward size={15} />
      </IconButton>
      <IconButton tip="To the out (End)" onClick={() => engine.go(document.last)}>
        <SkipForward size={15} />
      </IconButton>
      <IconButton tip={rendering ? "Stop rendering" : "Render from in to out, then play"} does="fill" on={rendering !== null} onClick={() => renderThenPlay(engine)}>
        <ListVideo size={15} />
      </IconButton>
      <span className="flex-1" />
      <LoopAndSound tips={{ on: "Loops between in and out", off: "Stops at the out" }} heard={engine.heard !== null} />
    </div>
  );
}

/** The rate of the footage; while playing the rate that is seen, while rendering how far it is. */
function Rate() {
  const { rate } = useEngine().timeline;
  const playing = useTime((s) => s.playing);
  const rendering = useTime((s) => s.rendering);
  const speed = useTime((s) => s.speed);
  const reached = useTime((s) => s.reached);
  const size = useTime((s) => s.size);
  return (
    <p className="whitespace-nowrap text-quiet" aria-label="Rate" title={size < 1 ? "There is not time for every pixel at this rate; at rest the picture has them all" : undefined}>
      {rendering ? (
        <>
          rendering <b className="text-ink">{rendering.done}</b> of {rendering.total}
        </>
      ) : playing && reached > 0 ? (
        <>
          <b className="text-ink">{reached.toFixed(1)}</b> of {(rate * Math.abs(speed)).toFixed(rate % 1 ? 2 : 0)} fps{size < 1 ? `, ${sizeWords(size)}` : " seen"}
        </>
      ) : (
        `${Number(rate.toFixed(3))} fps`
      )}
      <PreviewCopy />
    </p>
  );
}

/** What the pictures along the ruler show. */
function StripOf() {
  const { layout } = useApp();
  const strip = useLayout((s) => s.strip);
  return (
    <button type="button" className="as-button text-[12px] text-quiet hover:text-ink" title="What the pictures along the ruler show: the source, or the finished picture" onClick={() => layout.state.setState({ strip: strip === "source" ? "result" : "source" })}>
      {strip === "source" ? "source strip" : "finished strip"}
    </button>
  );
}

/** The frame number, of how many. */
function FrameField({ length }: { length: number }) {
  return (
    <span className="flex shrink-0 items-baseline gap-1 text-quiet">
      frame
      <TimeField as="frame" />
      of {length}
    </span>
  );
}

/** What is to be said of large footage: that it plays from a copy, or that the copy is being made. */
function PreviewCopy() {
  const proxy = useTime((s) => s.ready?.proxy);
  const length = useDoc((s) => s.view!.footage.facts.length);
  if (!proxy || proxy.state === "none") return null;
  const words = proxy.state === "ready" ? "preview copy" : proxy.state === "waiting" ? "copy waiting" : `copy ${Math.round((proxy.done / length) * 100)} %`;
  return <span title="This footage is too large to decode in real time: it plays from a smaller copy, made in the background. Still pictures and exports are made from the original."> · {words}</span>;
}
