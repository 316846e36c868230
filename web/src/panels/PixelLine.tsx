import { useEffect, useState } from "react";

import { type Tool } from "../engine/choice";
import type { PixelReport } from "../engine/stage/state";
import { useChoice, useStage } from "./engine";
import { howToDraw } from "./Shapes";
import { howToStroke } from "./Strokes";

const HINTS: Record<Tool, string> = {
  pick: "Click a mid-tone of the colour to select, or drag a box over it.",
  add: "Click lit and shaded parts of the same object to add them. H: hand.",
  refuse: "Click a colour that should not be selected. H: hand.",
  hand: "Drag to move the picture; the wheel zooms. P picks a colour.",
};

/** What the control that was reached by the keyboard is for, in words. (Pointed at, controls tell it in a tooltip.) */
function useHelp(): string | null {
  const [help, setHelp] = useState<string | null>(null);
  useEffect(() => {
    const look = (e: FocusEvent) => {
      const at = e.target as HTMLElement;
      const told = at.matches(":focus-visible") && (at.closest<HTMLElement>("[data-help]")?.dataset.help || at.title || at.ariaDescription);
      setHelp(told || null);
    };
    const leave = () => setHelp(null);
    window.addEventListener("focusin", look);
    window.addEventListener("focusout", leave);
    window.addEventListener("pointerdown", leave);
    return () => {
      window.removeEventListener("focusin", look);
      window.removeEventListener("focusout", leave);
      window.removeEventListener("pointerdown", leave);
    };
  }, []);
  return help;
}

/** One line under the picture: what the focused control is for, else the pixel under the pointer, else what a click will do. */
export function PixelLine() {
  const pixel = useStage((s) => s.pixel);
  const pointed = useStage((s) => s.pointer !== null);
  const tool = useChoice((s) => s.tool);
  const drawing = useChoice((s) => s.drawing);
  const brush = useChoice((s) => s.brush?.kind ?? null);
  const help = useHelp();
  if (help && !pointed)
    return (
      <p data-helpline className="flex h-[30px] items-center overflow-hidden px-2 text-ink" title={help}>
        <span className="truncate">{help}</span>
      </p>
    );
  return (
    // What does not fit goes to a second line, which is not seen: nothing is cut in the middle.
    <p className="flex h-[30px] flex-wrap gap-x-2 overflow-hidden px-2 leading-[30px] whitespace-nowrap text-quiet" aria-label="Pixel report">
      {pixel ? <Pixel pixel={pixel} /> : <Hint text={drawing ? howToDraw(drawing) : brush ? howToStroke(brush) : HINTS[tool]} />}
    </p>
  );
}

function Hint({ text }: { text: string }) {
  return (
    <span className="max-w-full truncate" title={text}>
      {text}
    </span>
  );
}

function Pixel({ pixel }: { pixel: PixelReport }) {
  const number = (value: number, digits: number) => <b className="text-ink">{value.toFixed(digits)}</b>;
  return (
    <>
      <span className="flex items-center gap-1.5">
        <span className="inline-block h-3 w-3 border border-strong" style={{ background: pixel.hex }} />
        <b className="text-ink">{pixel.hex}</b>
      </span>
      <span>
        R {number(pixel.rgb[0], 1)} G {number(pixel.rgb[1], 1)} B {number(pixel.rgb[2], 1)} %
      </span>
      <span>luma {number(pixel.luma, 1)} %</span>
      {pixel.matte !== null && <span>matte {number(pixel.matte, 0)} %</span>}
      <span>hue <b className="text-ink">{pixel.chroma < 0.004 ? "–" : `${pixel.hue.toFixed(1)}°`}</b></span>
      <span>chroma {number(pixel.chroma, 3)}</span>
      <span>lightness {number(pixel.lightness, 2)}</span>
    </>
  );
}
