import { useQuery } from "@tanstack/react-query";
import clsx from "clsx";
import { Popover } from "radix-ui";
import { useState } from "react";
import { useStore } from "zustand";

import { ask, client } from "../../api/client";
import { Button } from "../../ui/basics";
import { useReel } from "./context";

const time = (iso: string) => new Date(iso).toLocaleTimeString([], { hour: "2-digit", minute: "2-digit" });

/** Every edit of the reel in words; any state can be returned to. */
export function ReelHistory() {
  const [open, setOpen] = useState(false);
  return (
    <Popover.Root open={open} onOpenChange={setOpen}>
      <Popover.Trigger asChild>
        <Button title="Every edit in words">History</Button>
      </Popover.Trigger>
      <Popover.Portal>
        <Popover.Content align="end" sideOffset={4} collisionPadding={8} aria-label="History" className="z-50 flex max-h-[420px] w-[400px] flex-col border border-strong bg-raised p-3">
          <Edits />
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  );
}

function Edits() {
  const reel = useReel();
  const view = useStore(reel.document.state, (s) => s.view);
  const path = { params: { path: { reel_id: view.reel_id } } };
  const { data } = useQuery({ queryKey: ["history", view.reel_id, view.revision], queryFn: () => ask(client.GET("/api/reels/{reel_id}/history", path)), placeholderData: (before) => before });
  const go = (revision: number, words: string) =>
    reel.document.ask("head", { revision }).then(
      () => reel.around.say(`Back at “${words}”.`),
      (error: Error) => reel.around.say(error.message, { bad: true }),
    );
  return (
    <>
      <h2 className="text-[15px] font-bold">Edits</h2>
      <ol aria-label="Edits" className="mt-1 min-h-0 overflow-auto">
        {data?.map((edit) => (
          <li key={edit.id}>
            <button type="button" aria-current={edit.id === view.revision} className={clsx("flex w-full items-center gap-2 px-1 py-0.5 text-left hover:bg-inverse hover:text-inverse-ink", edit.id === view.revision && "font-bold", !edit.current && "text-quiet")} onClick={() => void go(edit.id, edit.words)}>
              <span className="w-[10px] shrink-0">{edit.id === view.revision ? "▸" : ""}</span>
              <span className={clsx("min-w-0 flex-1 truncate", !edit.current && "italic")}>{edit.words}</span>
              <span className="shrink-0 text-[12px] opacity-70">{time(edit.created)}</span>
            </button>
          </li>
        ))}
      </ol>
    </>
  );
}
