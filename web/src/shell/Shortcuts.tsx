import { Dialog } from "radix-ui";
import { useState } from "react";

import { foundIn, grouped, type Told } from "../engine/actions";
import { useApp, useDialog, useKeysHere } from "../panels/app";

/** The keys that every room has. */
const EVERYWHERE: readonly Told[] = [
  { group: "Everywhere", told: "Ctrl Z", words: "undo" },
  { group: "Everywhere", told: "Ctrl Shift Z  Ctrl Y", words: "redo" },
  { group: "Everywhere", told: "F6", words: "next area of the room; with Shift the one before" },
  { group: "Everywhere", told: "F8", words: "to the messages" },
  { group: "Everywhere", told: "Enter", words: "on a button or tick box: press it" },
  { group: "Everywhere", told: "Esc", words: "close the newest message, and give up what is under way" },
  { group: "Everywhere", told: "?", words: "this list" },
  { group: "Sliders and numbers", told: "arrows", words: "step; Shift ×10, Alt ÷10; a number is dragged sideways too" },
  { group: "Sliders and numbers", told: "Home  End", words: "to its ends; double-click resets" },
];

/** The keys of the room that is open, and of all rooms. */
export function Shortcuts() {
  const { dialogs } = useApp();
  const open = useDialog("keyboard");
  return (
    <Dialog.Root open={open} onOpenChange={(keyboard) => dialogs.setState({ keyboard })}>
      <Dialog.Portal>
        <Dialog.Overlay className="fixed inset-0 z-40 bg-black/60" />
        <Dialog.Content tabIndex={0} aria-describedby={undefined} className="fixed top-[8%] left-1/2 z-50 max-h-[86%] w-[960px] max-w-[96%] -translate-x-1/2 overflow-auto border border-strong bg-panel p-5">
          <Keys />
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  );
}

function Keys() {
  const here = useKeysHere();
  const [search, setSearch] = useState("");
  const found = grouped(foundIn([...here, ...EVERYWHERE], search));
  return (
    <>
      <div className="flex items-center justify-between gap-4">
        <Dialog.Title className="text-[18px] font-bold">Keyboard</Dialog.Title>
        <input type="search" aria-label="Search the keys" placeholder="Search" value={search} onChange={(e) => setSearch(e.currentTarget.value)} className="h-[26px] w-[220px] border border-strong bg-ground px-2" />
      </div>
      <div className="mt-3 columns-3 gap-8">
        {found.map(([group, keys]) => (
          <section key={group} className="mb-4 break-inside-avoid">
            <h3 className="mb-1 text-[12px] font-semibold text-quiet">{group}</h3>
            {keys.map(({ told, words }) => (
              <div key={told + words} className="flex gap-3 py-0.5">
                <kbd className="w-[84px] shrink-0 font-sans font-bold">{told}</kbd>
                <span>{words}</span>
              </div>
            ))}
          </section>
        ))}
      </div>
      {!found.length && <p className="text-quiet">No key does that.</p>}
    </>
  );
}
