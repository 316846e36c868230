import { useQuery } from "@tanstack/react-query";
import { Popover } from "radix-ui";
import { useState } from "react";
import { useStore } from "zustand";

import { ask, client } from "../../api/client";
import { EditList } from "../../panels/EditList";
import { Button } from "../../ui/basics";
import { useReel } from "./context";

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
  return <EditList edits={data} revision={view.revision} onGo={(edit) => void go(edit.id, edit.words)} />;
}
