import { useQuery, useQueryClient } from "@tanstack/react-query";
import clsx from "clsx";
import { Popover } from "radix-ui";
import { useState } from "react";

import { ask, client } from "../../api/client";
import type { Take } from "../../api/types";
import { Button } from "../../ui/basics";
import { goTo } from "../../engine/pocket";
import { newTake } from "../../engine/takes";
import { EditList } from "../../panels/EditList";
import { TakeName } from "../../panels/TakeName";
import { useEngine, useSettledFrame, useStage, useView } from "../../panels/engine";
import { useSay } from "../../ui/notices";

/** Takes and edits of the shot, behind one button. */
export function History() {
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
  const queryClient = useQueryClient();
  const say = useSay();
  const engine = useEngine();
  const view = useView();
  const against = useStage((s) => s.against);
  const instead = useStage((s) => s.instead);
  const path = { params: { path: { shot_id: view.shot.id } } };
  const { data: takes } = useQuery({ queryKey: ["takes", view.shot.id], queryFn: () => ask(client.GET("/api/shots/{shot_id}/takes", path)) });
  const { data: edits } = useQuery({ queryKey: ["history", view.shot.id, view.revision], queryFn: () => ask(client.GET("/api/shots/{shot_id}/history", path)), placeholderData: (before) => before });
  const refresh = () => void queryClient.invalidateQueries({ queryKey: ["takes"] });
  const run = (work: Promise<unknown>, words?: string) => void work.then(() => (refresh(), words && say(words)), (error: Error) => say(error.message, { bad: true }));
  const saved = (take: Take) => ({ revision: take.revision, name: take.name });
  /** A take on one side of the picture; again it is taken away. */
  const put = (side: "against" | "instead", take: Take) => {
    const { against, instead, compare } = engine.now;
    const sides = { against, instead, [side]: engine.now[side]?.revision === take.revision ? null : saved(take) };
    engine.put({ ...sides, show: "result", compare: sides.against || sides.instead ? (compare === "off" ? "side" : compare) : "off" });
  };
  const frame = useSettledFrame();
  return (
    <>
      <div className="flex items-center justify-between">
        <h2 className="text-[15px] font-bold">Takes</h2>
        <Button look="solid" title="Saves this state under the next name (T)" onClick={() => void newTake(engine).then(refresh)}>
          New take
        </Button>
      </div>
      {!takes?.length && <p className="mt-1 text-quiet">A take is a saved version of this shot's look: try something else, and come back. T makes one; Shift and the bracket keys step through them.</p>}
      <ul aria-label="Takes" className="pane -mr-2 mt-2 grid max-h-[300px] min-h-0 shrink-0 grid-cols-3 gap-2">
        {takes?.map((take) => (
          <li key={take.id} className="group relative min-w-0">
            <button type="button" aria-label={take.name} className={clsx("block w-full border-2", take.revision === view.revision ? "border-ink" : "border-transparent hover:border-strong")} title={`Return to “${take.name}”`} onClick={() => void goTo(engine, take.revision, `“${take.name}” is in work.`)}>
              <img src={`/api/shots/${view.shot.id}/pictures/${take.revision}/${frame}.jpg?width=224`} alt="" className="aspect-video w-full bg-black object-contain" />
            </button>
            <TakeName take={take} here={take.revision === view.revision} run={run} />
            <div className="flex gap-1" role="group" aria-label={`Compare ${take.name}`}>
              <Button look="plain" className="flex-1 justify-center !px-0" on={against?.revision === take.revision} title="On the left of the picture" onClick={() => put("against", take)}>
                Left
              </Button>
              <Button look="plain" className="flex-1 justify-center !px-0" on={instead?.revision === take.revision} title="On the right of the picture, in place of what is in work" onClick={() => put("instead", take)}>
                Right
              </Button>
            </div>
          </li>
        ))}
      </ul>
      <div className="mt-4 flex min-h-0 flex-col">
        <EditList edits={edits} revision={view.revision} onGo={(edit) => void goTo(engine, edit.id, `Back at “${edit.words}”.`, edit.touched)} />
      </div>
    </>
  );
}
