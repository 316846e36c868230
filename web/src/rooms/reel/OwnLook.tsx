import { ask, client } from "../../api/client";
import { join as target } from "../../engine/commands";
import type { Placed } from "../../engine/reel/layout";
import { Button } from "../../ui/basics";
import { useReel } from "./context";

/** A copy of the shot for this item alone, so that its look can be another. */
export function OwnLook({ placed }: { placed: Placed }) {
  const reel = useReel();
  const { item, shot } = placed;
  const give = async () => {
    try {
      const name = `${shot!.name}, again`;
      const made = await ask(client.POST("/api/shots/{shot_id}/copy", { params: { path: { shot_id: item.shot } }, body: { name } }));
      await reel.edit([{ do: "set", target: target("items", item.id, "shot"), value: made.id }], `${shot!.name} has a look of its own here`);
      await reel.document.newest();
    } catch (error) {
      reel.around.say((error as Error).message, { bad: true });
    }
  };
  return <Button onClick={() => void give()}>Give it a look of its own</Button>;
}
