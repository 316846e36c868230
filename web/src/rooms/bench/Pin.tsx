import clsx from "clsx";
import type { ReactNode } from "react";

import type { ParamInfo } from "../../api/types";
import { showValues, togglePin, useValue, writeValues } from "../../editor/animate";
import { laneOf, type How } from "../../editor/lanes";
import { useBench, useDocument } from "../../editor/store";
import { ParamRow } from "../../ui/param";

const FORMS: Record<How, string> = { smooth: "rounded-full", linear: "[clip-path:polygon(50%_0,100%_100%,0_100%)]", hold: "" };

/** The form of a keyframe: round is smooth, a triangle straight, a square held. */
export const pinForm = (how: How | undefined) => FORMS[how ?? "smooth"];

/** Beside a control: still, animated, or a keyframe here. */
export function Pin({ target, info, shown }: { target: string; info: ParamInfo; shown: unknown }) {
  const document = useDocument();
  const lane = laneOf(document, target);
  const frame = useBench((s) => (lane ? s.frame : -1));
  const here = lane?.keyframes.find((k) => k.frame === frame);
  const words = !lane ? `${info.name} stands still: animate it from this frame` : here ? `${info.name}: keyframe here; take it away` : `${info.name} is animated: put a keyframe here`;
  return (
    <button type="button" aria-label={words} title={words} aria-pressed={!!here} className="group flex h-[22px] w-[14px] shrink-0 items-center justify-center" onClick={() => togglePin(target, info, shown)}>
      <span
        className={clsx(
          "block",
          here ? `h-[9px] w-[9px] bg-ink ${pinForm(here.how)}` : lane ? "h-[9px] w-[9px] rounded-full border-2 border-ink" : "h-[5px] w-[5px] rounded-full bg-strong group-hover:bg-ink",
        )}
      />
    </button>
  );
}

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

/** One parameter of anything in the look: drawn by its kind, with its pin. */
export function AnimatedRow({ target, info, plain, prefix = "" }: { target: string; info: ParamInfo; plain: unknown; prefix?: string }) {
  const value = useValue(target, info, plain);
  return (
    <Pinned target={target} info={info} shown={value}>
      <ParamRow info={info} value={value} onLive={(v) => showValues([{ target, info, value: v }])} onCommit={(v, words) => void writeValues([{ target, info, value: v }], `${prefix}${words}`)} />
    </Pinned>
  );
}
