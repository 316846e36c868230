import clsx from "clsx";
import { memo, useCallback, useRef, type ReactNode } from "react";

import type { ParamInfo } from "../api/types";
import { ParamRow } from "./ParamRow";
import { togglePin } from "../engine/keyframes";
import { type How, laneOf } from "../engine/lanes";
import { useEngine, usePlain, useShown, useTime, useValue } from "./engine";

/** How the value travels on from a keyframe: held flat, straight aslant, eased in an arch. */
const CAPS: Record<How, string> = { hold: "M1 3.5H11", linear: "M1 7L11 1", smooth: "M1 7C3 0.5 9 0.5 11 7" };

/** A keyframe's mark: a post, whose cap shows how the value travels on. Without a cap the value only passes by; hollow, it stands still and can be animated. */
export function Post({ how, strong, faint }: { how: How | null; strong?: boolean; faint?: boolean }) {
  return (
    <svg aria-hidden width={12} height={14} viewBox="0 0 12 14" className={clsx("block overflow-visible", faint ? "text-quiet group-hover:text-ink" : "text-ink")}>
      <g fill="none" stroke="currentColor" strokeWidth={strong ? 3 : 2}>
        {faint ? <path d="M4 13.5V4.5H2.5V1.5H9.5V4.5H8V13.5Z" strokeWidth={1} /> : <path d="M6 4V14" />}
        {how && <path d={CAPS[how]} />}
        {!how && !faint && <path d="M3.5 13.5H8.5" strokeWidth={1} />}
      </g>
    </svg>
  );
}

/** Beside a control: still, animated, or a keyframe here. */
export function Pin({ target, info, shown }: { target: string; info: ParamInfo; shown: unknown }) {
  const newest = useRef(shown);
  newest.current = shown;
  const now = useCallback(() => newest.current, []);
  return <PinButton target={target} info={info} now={now} />;
}

/** It looks the same whatever the value is: a drag of that does not render it. now: the value when it is pressed. */
const PinButton = memo(function PinButton({ target, info, now }: { target: string; info: ParamInfo; now: () => unknown }) {
  const engine = useEngine();
  const lane = useShown((d) => laneOf(d, target));
  const frame = useTime((s) => (lane ? s.frame : -1));
  const here = lane?.keyframes.find((k) => k.frame === frame);
  const words = !lane ? `${info.name} stands still: animate it from this frame` : here ? `${info.name}: keyframe here; take it away` : `${info.name} is animated: put a keyframe here`;
  return (
    <button type="button" aria-label={words} title={words} aria-pressed={!!here} className="group flex h-[24px] w-[14px] shrink-0 items-center justify-center" onClick={() => togglePin(engine, target, info, now())}>
      <Post how={here ? (here.how ?? "smooth") : null} faint={!lane} />
    </button>
  );
});

/** A control with its pin. */
export function Pinned({ target, info, shown, children }: { target: string; info: ParamInfo; shown: unknown; children: ReactNode }) {
  if (!info.animatable) return children;
  return (
    <div className="-ml-[12px] flex items-center gap-[1px]">
      <Pin target={target} info={info} shown={shown} />
      <div className="min-w-0 flex-1">{children}</div>
    </div>
  );
}

/** One parameter of anything in the look, which takes its own value: a drag of it renders no more than this. */
export function OwnRow({ target, info, prefix }: { target: string; info: ParamInfo; prefix?: string }) {
  return <AnimatedRow target={target} info={info} plain={usePlain(target, info)} prefix={prefix} />;
}

/** One parameter of anything in the look: drawn by its kind, with its pin. */
export const AnimatedRow = memo(function AnimatedRow({ target, info, plain, prefix = "" }: { target: string; info: ParamInfo; plain: unknown; prefix?: string }) {
  const engine = useEngine();
  const value = useValue(target, info, plain);
  const written = (v: unknown) => [{ target, info, value: v }];
  return (
    <Pinned target={target} info={info} shown={value}>
      <ParamRow
        info={info}
        value={value}
        onLive={(v) => engine.target.show(written(v))}
        onCommit={(v, words) => void engine.target.write(written(v), `${prefix}${words}`)}
      />
    </Pinned>
  );
});
