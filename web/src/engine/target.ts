/** Where in a document the panels write: the same panels edit whatever look the root names. Animated values get a keyframe at the frame on screen. */
import type { Command, Lane, ParamInfo } from "../api/types";
import { join } from "./commands";
import { laneCommands, laneOf, valueAt, withKeyframe } from "./lanes";
import type { Scene } from "./scene";

export type Written = { target: string; info: ParamInfo; value: unknown };

export class Target {
  constructor(
    private scene: Scene,
    private root: string,
  ) {}

  /** The target of something in the look; words are ids and keys. */
  of(...words: (string | number)[]) {
    return `${this.root}/${join(...words)}`;
  }

  /** The target of a look's own target, as lanes have it. */
  at(target: string) {
    return `${this.root}/${target}`;
  }

  /** Set plain values of the look. */
  set(target: string, value: unknown): Command {
    return { do: "set", target: this.at(target), value };
  }

  /** Put lanes in place of those that are stored: each keyframe that differs, and what else does. */
  lanes(lanes: Lane[]): Command[] {
    return lanes.flatMap((lane) => laneCommands(this.root, laneOf(this.scene.document.stored, lane.target), lane));
  }

  /** What gives values to parameters; keyed: whether some of it are keyframes. */
  commands(values: Written[]): { commands: Command[]; keyed: boolean } {
    const { document, timeline } = this.scene;
    let keyed = false;
    const commands = values.flatMap(({ target, info, value }): Command[] => {
      const lane = laneOf(document.stored, target);
      if (!lane) return [this.set(target, value)];
      keyed = true;
      return laneCommands(this.root, lane, withKeyframe(lane, info, timeline.frame, value, timeline.rate));
    });
    return { commands, keyed };
  }

  /** Show values without storing them. */
  show(values: Written[]) {
    this.scene.document.show(this.commands(values).commands);
  }

  /** Store values as one step of history; where they are animated the words say at which frame. */
  async write(values: Written[], words: string): Promise<void> {
    const { commands, keyed } = this.commands(values);
    await this.scene.document.edit(commands, keyed ? `${words} at frame ${this.scene.timeline.frame}` : words);
  }

  /** A value as it is at the frame on screen. */
  value(target: string, info: ParamInfo, plain: unknown): unknown {
    const lane = laneOf(this.scene.shown, target);
    return lane ? valueAt(lane, info, this.scene.timeline.frame, this.scene.timeline.rate) : plain;
  }
}
