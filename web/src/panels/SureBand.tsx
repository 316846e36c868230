import { asking, sureness } from "../engine/objects";
import { perFrame, xOf, type Span } from "../engine/timespan";
import { useChoice, useEngine } from "./engine";

const HIGH = 12; // pixels
const FILLS = { sure: "var(--quiet)", unsure: "url(#unsure)", lost: "var(--line)" };

/** How sure the chosen object is, frame by frame: solid, hatched where it is not, grey where it is out of sight; with where a stroke is asked for. */
export function SureBand({ span }: { span: Span }) {
  const engine = useEngine();
  const sure = useChoice((s) => s.sure);
  const objectId = useChoice((s) => s.objectId);
  if (!sure || sure.object !== objectId) return null;
  const wide = Math.max(1, perFrame(span));
  return (
    <div className="relative mt-[2px] shrink-0" style={{ height: HIGH }}>
      <svg width={span.width} height={HIGH} className="pointer-events-none absolute" role="img" aria-label="How sure the object is" data-over={sure.over}>
        <defs>
          <pattern id="unsure" width="5" height="5" patternUnits="userSpaceOnUse" patternTransform="rotate(45)">
            <line x1="0" y1="0" x2="0" y2="5" stroke="var(--ink)" strokeWidth="1.6" />
          </pattern>
        </defs>
        {sureness(sure.values).map(({ first, last, how }) => (
          <rect key={first} x={xOf(span, first)} y={1} width={(last - first) * perFrame(span) + wide} height={HIGH - 2} fill={FILLS[how]} />
        ))}
      </svg>
      {asking(sure.values)
        .filter(([first]) => first >= span.from && first <= span.to)
        .map(([first, last]) => (
          <button
            key={first}
            type="button"
            className="absolute top-[-1px] bg-black px-1 text-[11px] leading-[14px] whitespace-nowrap text-white outline outline-1 outline-strong"
            style={{ left: Math.min(Math.max(xOf(span, first), 0), span.width - 62) }}
            title={first === last ? `Frame ${first}` : `Frames ${first} to ${last}`}
            onPointerDown={(e) => e.stopPropagation()}
            onClick={() => engine.go(first)}
          >
            stroke here
          </button>
        ))}
    </div>
  );
}
