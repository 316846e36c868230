import { shots } from "../../api/footage";
import { join as target } from "../../engine/commands";
import type { Placed } from "../../engine/reel/layout";
import { useDo } from "../../panels/doing";
import { Button } from "../../ui/basics";
import { useReel } from "./context";

/** A copy of the shot for this item alone, so that its look can be another. */
export function OwnLook({ placed }: { placed: Placed }) {
  const reel = useReel();
  const { item, shot } = placed;
  const carryOut = useDo();
  const give = async () => {
    const made = await carryOut(shots.copy(item.shot, `${shot!.name}, again`));
    if (!made) return;
    await reel.edit([{ do: "set", target: target("items", item.id, "shot"), value: made.id }], `${shot!.name} has a look of its own here`);
    await carryOut(reel.document.newest());
  };
  return <Button onClick={() => void give()}>Give it a look of its own</Button>;
}
