import { frameAt, xOf, type Span } from "../../engine/timespan";
import { useDrag } from "../../ui/drag";
import { useReel, useReelChoice, useReelLayout } from "./context";

/** The in and the out over the whole height: what lies beside them is dark; their grips are on the ruler. */
export function InOut({ span }: { span: Span }) {
  const reel = useReel();
  const marks = useReelChoice((s) => s.marks);
  useReelLayout(); // the reel may be shorter now
  if (!marks) return null;
  const { first, last } = reel.ends;
  const [left, right] = [xOf(span, first - 0.5), xOf(span, last + 0.5)];
  return (
    <>
      <span className="pointer-events-none absolute inset-y-0 left-0 z-30 bg-black/50" style={{ width: Math.max(0, Math.min(left, span.width)) }} />
      <span className="pointer-events-none absolute inset-y-0 right-0 z-30 bg-black/50" style={{ width: Math.max(0, span.width - Math.max(right, 0)) }} />
      <Grip which="first" span={span} x={left} frame={first} />
      <Grip which="last" span={span} x={right} frame={last} />
    </>
  );
}

function Grip({ which, span, x, frame }: { which: "first" | "last"; span: Span; x: number; frame: number }) {
  const reel = useReel();
  const { begin, handlers } = useDrag<{ left: number }>({
    move: (held, e) => {
      const at = Math.round(frameAt(span, e.clientX - held.left) + (which === "first" ? 0.5 : -0.5));
      const { first, last } = reel.ends;
      reel.markEnd(which, which === "first" ? Math.min(at, last) : Math.max(at, first));
      return held;
    },
    end: () => undefined,
  });
  return (
    <span
      role="slider"
      tabIndex={0}
      aria-label={which === "first" ? "In of the reel" : "Out of the reel"}
      aria-valuenow={frame}
      aria-valuemin={0}
      aria-valuemax={reel.layout.length - 1}
      title={which === "first" ? "In (I); Shift I takes in and out away" : "Out (O); Shift I takes in and out away"}
      className="absolute top-0 z-40 flex h-[22px] w-[13px] cursor-ew-resize touch-none items-center justify-center bg-inverse text-[11px] font-bold text-inverse-ink"
      style={{ left: which === "first" ? x : x - 13 }}
      onKeyDown={(e) => {
        const by = { ArrowLeft: -1, ArrowRight: 1 }[e.key];
        if (!by) return;
        e.preventDefault();
        e.stopPropagation();
        reel.markEnd(which, frame + by * (e.shiftKey ? 10 : 1));
      }}
      onPointerDown={(e) => {
        if (e.button !== 0) return;
        e.stopPropagation();
        begin(e, { left: e.currentTarget.parentElement!.getBoundingClientRect().left });
      }}
      {...handlers}
    >
      {which === "first" ? "[" : "]"}
    </span>
  );
}
