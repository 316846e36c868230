import { useQuery, useQueryClient } from "@tanstack/react-query";
import clsx from "clsx";
import { Popover } from "radix-ui";
import { useState } from "react";
import { useStore } from "zustand";

import { ask, client } from "../../api/client";
import { goToState, newReelTake, reelTakes } from "../../engine/reel/takes";
import { EditList } from "../../panels/EditList";
import { TakeName } from "../../panels/TakeName";
import { useTime } from "../../panels/engine";
import { Button } from "../../ui/basics";
import { useSay } from "../../ui/notices";
import { useReel } from "./context";

/** Takes and edits of the reel, behind one button. */
export function ReelHistory() {
  const [open, setOpen] = useState(false);
  return (
    <Popover.Root open={open} onOpenChange={setOpen}>
      <Popover.Trigger asChild>
        <Button title="Saved takes, and every edit in words">History</Button>
      </Popover.Trigger>
      <Popover.Portal>
        <Popover.Content align="end" sideOffset={4} collisionPadding={8} aria-label="History" className="z-50 flex max-h-[calc(var(--radix-popover-content-available-height)-8px)] w-[440px] flex-col border border-strong bg-raised p-3">
          <Content />
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  );
}

function Content() {
  const reel = useReel();
  const queryClient = useQueryClient();
  const say = useSay();
  const view = useStore(reel.document.state, (s) => s.view);
  const frame = useTime((s) => s.frame);
  const path = { params: { path: { reel_id: view.reel_id } } };
  const { data: takes } = useQuery({ queryKey: ["takes", view.reel_id], queryFn: () => reelTakes(reel) });
  const { data: edits } = useQuery({ queryKey: ["history", view.reel_id, view.revision], queryFn: () => ask(client.GET("/api/reels/{reel_id}/history", path)), placeholderData: (before) => before });
  const run = (work: Promise<unknown>, words?: string) =>
    void work.then(() => (void queryClient.invalidateQueries({ queryKey: ["takes"] }), words && say(words)), (error: Error) => say(error.message, { bad: true }));
  return (
    <>
      <div className="flex items-center justify-between">
        <h2 className="text-[15px] font-bold">Takes</h2>
        <Button look="solid" title="Saves this state under the next name (T)" onClick={() => run(newReelTake(reel))}>
          New take
        </Button>
      </div>
      {!takes?.length && <p className="mt-1 text-quiet">A take is a saved version of the reel: cut it another way, and come back.</p>}
      <ul aria-label="Takes" className="pane -mr-2 mt-2 grid max-h-[220px] min-h-0 shrink-0 grid-cols-3 gap-2">
        {takes?.map((take) => (
          <li key={take.id} className="min-w-0">
            <button type="button" aria-label={take.name} className={clsx("block w-full border-2", take.revision === view.revision ? "border-ink" : "border-transparent hover:border-strong")} title={`Return to “${take.name}”`} onClick={() => void goToState(reel, take.revision, `“${take.name}” is in work.`)}>
              <img src={`/api/reels/${view.reel_id}/pictures/${take.revision}/${frame}.jpg?width=224`} alt="" className="aspect-video w-full bg-black object-contain" />
            </button>
            <TakeName take={take} here={take.revision === view.revision} run={run} />
          </li>
        ))}
      </ul>
      <div className="mt-4 flex min-h-0 flex-col">
        <EditList edits={edits} revision={view.revision} onGo={(edit) => void goToState(reel, edit.id, `Back at “${edit.words}”.`)} />
      </div>
    </>
  );
}
