import { HelpButton } from "./HelpButton";
import { useQuery, useQueryClient } from "@tanstack/react-query";
import clsx from "clsx";
import { Popover } from "radix-ui";
import { useState, type ReactNode } from "react";

import type { EditRow, Take } from "../api/types";
import { Button } from "../ui/basics";
import { useSay } from "../ui/notices";
import { EditList } from "./EditList";
import { TakeName } from "./TakeName";

type Props = {
  /** What the takes and edits are of, at the revision in work, seen at a frame; path: where the server has its pictures. */
  id: string;
  revision: number;
  frame: number;
  path: string;
  readTakes: () => Promise<Take[]>;
  readEdits: () => Promise<EditRow[]>;
  newTake: () => Promise<unknown>;
  /** Make another state the one in work. */
  onTake: (take: Take) => void;
  onEdit: (edit: EditRow) => void;
  /** What is told where there is no take yet. */
  none: string;
  /** More for each take. */
  beside?: (take: Take) => ReactNode;
};

/** Takes and edits of a document, behind one button. */
export function HistoryButton({ children }: { children: ReactNode }) {
  const [open, setOpen] = useState(false);
  return (
    <Popover.Root open={open} onOpenChange={setOpen}>
      <Popover.Trigger asChild>
        <Button title="Saved takes, and every edit in words">History</Button>
      </Popover.Trigger>
      <Popover.Portal>
        <Popover.Content align="end" sideOffset={4} collisionPadding={8} aria-label="History" className="z-50 flex max-h-[calc(var(--radix-popover-content-available-height)-8px)] w-[440px] flex-col border border-strong bg-raised p-3">
          {children}
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  );
}

/** What is behind it. */
export function HistoryOf({ id, revision, frame, path, readTakes, readEdits, newTake, onTake, onEdit, none, beside }: Props) {
  const queries = useQueryClient();
  const say = useSay();
  const { data: takes } = useQuery({ queryKey: ["takes", id], queryFn: readTakes });
  const { data: edits } = useQuery({ queryKey: ["history", id, revision], queryFn: readEdits, placeholderData: (before) => before });
  const run = (work: Promise<unknown>, words?: string) =>
    void work.then(() => (void queries.invalidateQueries({ queryKey: ["takes"] }), words && say(words)), (error: Error) => say(error.message, { bad: true }));
  return (
    <>
      <div className="flex items-center justify-between">
        <span className="flex items-baseline gap-0.5">
          <h2 className="text-[15px] font-bold">Takes</h2>
          <HelpButton of="History and takes" page="bench" part="history-and-takes" />
        </span>
        <Button look="solid" title="Saves this state under the next name" does="take" onClick={() => run(newTake())}>
          New take
        </Button>
      </div>
      {!takes?.length && <p className="mt-1 text-quiet">{none}</p>}
      <ul aria-label="Takes" className="pane -mr-2 mt-2 grid max-h-[300px] min-h-0 shrink-0 grid-cols-3 gap-2">
        {takes?.map((take) => (
          <li key={take.id} className="group relative min-w-0">
            <button type="button" aria-label={take.name} className={clsx("block w-full border-2", take.revision === revision ? "border-ink" : "border-transparent hover:border-strong")} title={`Return to “${take.name}”`} onClick={() => onTake(take)}>
              <img src={`${path}/pictures/${take.revision}/${frame}.jpg?width=224`} alt="" className="aspect-video w-full bg-black object-contain" />
            </button>
            <TakeName take={take} here={take.revision === revision} run={run} />
            {beside?.(take)}
          </li>
        ))}
      </ul>
      <div className="mt-4 flex min-h-0 flex-col">
        <EditList edits={edits} revision={revision} pictureOf={(state) => `${path}/pictures/${state}/${frame}.jpg?width=256`} onGo={onEdit} />
      </div>
    </>
  );
}
