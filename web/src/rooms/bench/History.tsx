import { useQuery, useQueryClient } from "@tanstack/react-query";
import clsx from "clsx";
import { Popover } from "radix-ui";
import { useState } from "react";

import { ask, client } from "../../api/client";
import type { Take } from "../../api/types";
import { Button } from "../../ui/basics";
import { Menu } from "../../ui/menu";
import { goTo } from "../../engine/pocket";
import { useEngine, useStage, useView } from "../../panels/engine";
import { useSay } from "../../ui/notices";
import { useAskName } from "../../ui/prompt";

const time = (iso: string) => new Date(iso).toLocaleTimeString([], { hour: "2-digit", minute: "2-digit" });

/** Takes and edits of the shot, behind one button. */
export function History() {
  const [open, setOpen] = useState(false);
  return (
    <Popover.Root open={open} onOpenChange={setOpen}>
      <Popover.Trigger asChild>
        <Button title="Saved takes, and every edit in words">History</Button>
      </Popover.Trigger>
      <Popover.Portal>
        <Popover.Content align="end" sideOffset={4} collisionPadding={8} aria-label="History" className="z-50 flex max-h-[calc(var(--radix-popover-content-available-height)-8px)] w-[380px] flex-col border border-strong bg-raised p-3">
          <Content />
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  );
}

function Content() {
  const queryClient = useQueryClient();
  const askName = useAskName();
  const say = useSay();
  const engine = useEngine();
  const view = useView();
  const against = useStage((s) => s.against);
  const path = { params: { path: { shot_id: view.shot.id } } };
  const { data: takes } = useQuery({ queryKey: ["takes", view.shot.id], queryFn: () => ask(client.GET("/api/shots/{shot_id}/takes", path)) });
  const { data: edits } = useQuery({ queryKey: ["history", view.shot.id, view.revision], queryFn: () => ask(client.GET("/api/shots/{shot_id}/history", path)), placeholderData: (before) => before });
  const refresh = () => void queryClient.invalidateQueries({ queryKey: ["takes"] });
  const run = (work: Promise<unknown>, words?: string) => void work.then(() => (refresh(), words && say(words)), (error: Error) => say(error.message, { bad: true }));
  const save = () =>
    askName("Save this state as a take", `Take ${(takes?.length ?? 0) + 1}`, (name) => run(engine.document.idle().then(() => ask(client.POST("/api/shots/{shot_id}/takes", { ...path, body: { revision: engine.view.revision, name } }))), `“${name}” is saved.`));
  const compare = (take: Take) => engine.put(against?.revision === take.revision ? { against: null, compare: "off" } : { against: { revision: take.revision, name: take.name }, compare: "wipe", show: "result" });
  return (
    <>
      <div className="flex items-center justify-between">
        <h2 className="text-[15px] font-bold">Takes</h2>
        <Button look="solid" onClick={save}>
          Save this state…
        </Button>
      </div>
      {!takes?.length && <p className="mt-1 text-quiet">A take is a saved version of this shot's look: try something else, and come back.</p>}
      <ul aria-label="Takes" className="mt-2">
        {takes?.map((take) => (
          <li key={take.id} className="flex h-[28px] items-center gap-2 border-b border-line">
            <button type="button" className={clsx("min-w-0 flex-1 truncate text-left hover:underline", take.revision === view.revision && "font-bold")} title="Return to this take" onClick={() => void goTo(engine, take.revision, `“${take.name}” is in work.`)}>
              {take.name}
            </button>
            <span className="text-quiet">{take.revision === view.revision ? "in work" : time(take.created)}</span>
            <Button look="plain" className="!px-1" on={against?.revision === take.revision} onClick={() => compare(take)}>
              Compare
            </Button>
            <Menu
              trigger={
                <button type="button" aria-label={`Do something with ${take.name}`} className="px-1 text-quiet hover:text-ink">
                  ⋯
                </button>
              }
              items={[
                { name: "Rename…", onSelect: () => askName("Rename the take", take.name, (name) => run(ask(client.PATCH("/api/takes/{take}", { params: { path: { take: take.id } }, body: { name } })))) },
                "line",
                { name: "Remove the name", onSelect: () => run(ask(client.DELETE("/api/takes/{take}", { params: { path: { take: take.id } } })), `“${take.name}” was removed; its state stays in the history.`) },
              ]}
            />
          </li>
        ))}
      </ul>
      <h2 className="mt-4 text-[15px] font-bold">Edits</h2>
      <ol aria-label="Edits" className="mt-1 min-h-[80px] overflow-auto">
        {edits?.map((edit) => (
          <li key={edit.id}>
            <button
              type="button"
              aria-current={edit.id === view.revision}
              className={clsx("flex w-full items-center gap-2 px-1 py-0.5 text-left hover:bg-inverse hover:text-inverse-ink", edit.id === view.revision && "font-bold", !edit.current && "text-quiet")}
              title={edit.current ? "Return to this state" : "On another branch: return to this state"}
              onClick={() => void goTo(engine, edit.id, `Back at “${edit.words}”.`, edit.touched)}
            >
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
