import clsx from "clsx";

import { ask, client } from "../api/client";
import type { Take } from "../api/types";
import { Menu } from "../ui/menu";
import { useAskName } from "../ui/prompt";
import { time } from "./EditList";

/** What a take is called, and what is done with that. here: it is in work; run: does something and says what came of it. */
export function TakeName({ take, here, run }: { take: Take; here: boolean; run: (work: Promise<unknown>, words?: string) => void }) {
  const askName = useAskName();
  const path = { params: { path: { take: take.id } } };
  return (
    <p className="flex items-center gap-1 text-[12px]">
      <span className={clsx("min-w-0 flex-1 truncate", here && "font-bold")} title={`${take.name}, ${time(take.created)}`}>
        {take.name}
      </span>
      <Menu
        trigger={
          <button type="button" aria-label={`Do something with ${take.name}`} className="px-1 text-quiet hover:text-ink">
            ⋯
          </button>
        }
        items={[
          { name: "Rename…", onSelect: () => askName("Rename the take", take.name, (name) => run(ask(client.PATCH("/api/takes/{take}", { ...path, body: { name } })))) },
          "line",
          { name: "Remove the name", onSelect: () => run(ask(client.DELETE("/api/takes/{take}", path)), `“${take.name}” was removed; its state stays in the history.`) },
        ]}
      />
    </p>
  );
}
