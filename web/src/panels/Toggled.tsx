/** What is on or off about a picture and its time, in every room that has them. */
import { Repeat, Volume2, VolumeX } from "lucide-react";

import type { Compare } from "../engine/stage/state";
import { Button, IconButton } from "../ui/basics";
import { Toggle, Toggles } from "../ui/toggles";
import { useStage, useTime, useTimed } from "./engine";

type Kind = Exclude<Compare, "off">;

/** Wipe or side by side, or neither. tips: what is compared. */
export function Comparing({ tips }: { tips: Record<Kind, string> }) {
  const { stage } = useTimed();
  const compare = useStage((s) => s.compare);
  return (
    <Toggles label="Compare" on={compare === "off" ? [] : [compare]} onChange={(on) => stage.compareBy(on.find((kind) => kind !== compare) ?? (compare as Kind))} className="flex gap-2">
      <Toggle value="wipe">
        <Button look="plain" on={compare === "wipe"} title={tips.wipe} does="wipe">
          Wipe
        </Button>
      </Toggle>
      <Toggle value="side">
        <Button look="plain" on={compare === "side"} title={tips.side} does="side">
          Side by side
        </Button>
      </Toggle>
    </Toggles>
  );
}

/** Whether it begins again at its end, and whether it is heard. */
export function LoopAndSound({ tips, heard }: { tips: { on: string; off: string }; heard: boolean }) {
  const { timeline } = useTimed();
  const loop = useTime((s) => s.loop);
  const sound = useTime((s) => s.sound);
  const on = [...(loop ? ["loop" as const] : []), ...(sound ? ["sound" as const] : [])];
  return (
    <Toggles label="While it plays" on={on} onChange={(now) => timeline.set({ loop: now.includes("loop"), sound: now.includes("sound") })} className="flex">
      <Toggle value="loop">
        <IconButton tip={loop ? tips.on : tips.off} on={loop}>
          <Repeat size={15} />
        </IconButton>
      </Toggle>
      {heard && (
        <Toggle value="sound">
          <IconButton tip={sound ? "Sound on" : "Sound off"} on={sound}>
            {sound ? <Volume2 size={15} /> : <VolumeX size={15} />}
          </IconButton>
        </Toggle>
      )}
    </Toggles>
  );
}
