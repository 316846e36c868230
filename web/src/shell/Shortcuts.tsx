import { Dialog } from "radix-ui";
import { useApp, useSheet } from "../panels/app";


export const SHORTCUTS: [string, [string, string][]][] = [
  ["Time", [["Space", "play or pause (not on the sheet); presses a control that was reached by Tab"], ["Y", "render from in to out, then play"], ["J  K  L", "play backwards, stop, play; again is faster"], ["← →", "one frame; with Shift ten"], ["Home  End", "first and last frame of the shot"], ["I  O", "set in and out here"], [",  .", "keyframe before and after"], ["+  −  0", "time on the ruler: closer, further away, all"], ["G", "next weak frame of the selection; with Shift the one before"]]],
  ["Picture", [["1 … 6", "result, source, matte, selected colour only, edge, hatched"], ["B", "before and after: hold to see the source"], ["V", "outlines and handles on the picture, or not"], ["W", "wipe"], ["D", "side by side"], ["F", "the picture takes the window, or gives it back; with Shift the whole screen"], ["Z", "fit or 100 %"], ["U", "up to the chosen pass, or finished"], ["S", "the chosen pass alone"]]],
  ["Picking", [["P", "new pick"], ["A", "add pick"], ["N", "not this"], ["H", "hand: move the picture (or hold the middle button)"]]],
  ["Shapes", [["arrows", "on a chosen shape: nudge; Shift ×10, Alt turns, Ctrl scales"], ["Delete", "remove the shape or its point"], ["Enter  Esc", "close or give up what is being drawn"]]],
  ["Passes", [["[  ]", "choose the pass before or after; Page up and Page down too"], ["M", "the shelf: finished and saved looks"], ["X", "bypass the chosen pass"], ["Delete  Backspace", "remove the chosen pass"]]],
  ["Keyframes", [["← →", "on a chosen pin: move it; with Shift ten"], ["Ctrl C  Ctrl V", "copy the chosen pins; paste them here"], ["Delete", "remove the chosen pins"], ["Enter", "go to the pin"]]],
  ["Shots and takes", [["Shift Page up  Shift Page down", "the shot before, the next shot"], ["T", "new take of this state"], ["Shift [  Shift ]", "the take before, the next take"]]],
  ["Room", [["Q  E  R  C", "fold or unfold where, what, when and the scope"], ["arrows", "on the edge of a pane: more or less room"], ["Enter", "on a button or tick box: press it"]]],
  ["Reel", [["S", "split the item at the playhead"], ["↑  ↓", "the cut before, the next cut"], [",  .", "the chosen item begins, ends a frame later; with Shift earlier"], ["N", "the chosen item one place later; with Shift earlier"], ["X", "a dissolve at the nearest cut, or a plain cut again"], ["U", "a span over what is chosen"], ["O", "what is chosen, on the Bench"], ["Delete", "take out what is chosen"], ["1  2  3", "the reel, without spans, without looks"]]],
  ["Sheet", [["arrows", "from cell to cell; with Shift all on the way are chosen"], ["Space", "choose the cell, or not"], ["Enter", "open the shot on the Bench"], ["C", "compare two cells by wipe"], ["Esc", "choose none"]]],
  ["Edits", [["Ctrl Z", "undo"], ["Ctrl Shift Z  Ctrl Y", "redo"], ["F6", "next area of the room; with Shift the one before"], ["?", "this sheet"]]],
];

export function Shortcuts() {
  const { sheets } = useApp();
  const open = useSheet("keyboard");
  return (
    <Dialog.Root open={open} onOpenChange={(keyboard) => sheets.setState({ keyboard })}>
      <Dialog.Portal>
        <Dialog.Overlay className="fixed inset-0 z-40 bg-black/60" />
        <Dialog.Content tabIndex={0} aria-describedby={undefined} className="fixed top-[8%] left-1/2 z-50 max-h-[86%] w-[960px] max-w-[96%] -translate-x-1/2 overflow-auto border border-strong bg-panel p-5">
          <Dialog.Title className="text-[18px] font-bold">Keyboard</Dialog.Title>
          <div className="mt-3 columns-3 gap-8">
            {SHORTCUTS.map(([group, keys]) => (
              <section key={group} className="mb-4 break-inside-avoid">
                <h3 className="mb-1 text-[12px] font-semibold text-quiet">{group}</h3>
                {keys.map(([key, what]) => (
                  <div key={key} className="flex gap-3 py-0.5">
                    <kbd className="w-[84px] shrink-0 font-sans font-bold">{key}</kbd>
                    <span>{what}</span>
                  </div>
                ))}
              </section>
            ))}
          </div>
          <p className="mt-2 text-quiet">On a slider or number: arrows step, Shift ×10, Alt ÷10; Home and End go to its ends; a number is dragged sideways too; double-click resets.</p>
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  );
}
