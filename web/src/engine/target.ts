/** Where in a document the panels write: the same panels edit whatever look the root names. Animated values get a keyframe at the frame on screen. */
import type { Command, Lane, ParamInfo, ShotDocument } from "../api/types";
import { applyCommands, join, valueIn } from "./commands";
import { equal } from "./equal";
import { laneCommands, laneOf, valueAt, withKeyframe } from "./lanes";
import type { Scene } from "./scene";

export type Written = { target: string; info: ParamInfo; value: unknown };

/** What becomes of a value, from what it is by then. */
export type Change<T> = (now: T) => T;

/** What is to be stored; keyed: whether some of it are keyframes. */
export type Changed = { commands: Command[]; keyed: boolean };

type Named = { id: string };

/** What makes a list of things with ids another: those that are gone, each value that differs, and those that are new, at its end. */
function itemCommands(target: string, before: Named[], after: Named[]): Command[] {
  const old = new Map(before.map((i) => [i.id, i as Record<string, unknown>]));
  const left = new Set(after.map((i) => i.id));
  const at = (id: string, ...words: string[]) => `${target}/${join(id, ...words)}`;
  return [
    ...before.filter((i) => !left.has(i.id)).map((i): Command => ({ do: "remove", target: at(i.id) })),
    ...after.flatMap((item): Command[] => {
      const was = old.get(item.id);
      if (!was) return [{ do: "add", target, value: item }];
      return Object.entries(item).flatMap(([key, value]) => (equal(was[key], value) ? [] : [{ do: "set", target: at(item.id, key), value }]));
    }),
  ];
}

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

  /** A value as it is stored, edits on their way included, at the frame on screen. */
  stored<T>(target: string, info: ParamInfo): T {
    return this.read(this.scene.document.stored, target, info) as T;
  }

  /** A value as it is shown, the gesture under way included, at the frame on screen. */
  shown<T>(target: string, info: ParamInfo): T {
    return this.read(this.scene.document.shown, target, info) as T;
  }

  private read(document: ShotDocument, target: string, info: ParamInfo): unknown {
    const lane = laneOf(document, target);
    return lane ? valueAt(lane, info, this.scene.timeline.frame, this.scene.timeline.rate) : (valueIn(document.look, target) ?? info.default);
  }

  /**
   * What changes a list of things with ids: no more than each value that differs, so that what another changes meanwhile stays;
   * the whole list where it is animated, or stands in another order than the items left to themselves.
   */
  items<T extends Named>(target: string, info: ParamInfo, named: (list: T[]) => T[], change: Change<T[]>): Changed {
    const before = named(this.stored<T[]>(target, info));
    const after = change(before);
    if (laneOf(this.scene.document.stored, target)) return this.commands([{ target, info, value: after }]);
    const commands = itemCommands(this.at(target), before, after);
    const list = target.slice(target.lastIndexOf("/") + 1);
    const alone = applyCommands({ [list]: before }, itemCommands(list, before, after))[list]!;
    const kept = alone.every((item, n) => item.id === after[n]?.id);
    return { commands: kept ? commands : [this.set(target, after)], keyed: false };
  }

  /** What gives values to parameters. */
  commands(values: Written[]): Changed {
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

  /** What gives a value another, from what it is by then. */
  change<T>(target: string, info: ParamInfo, change: Change<T>): Changed {
    return this.commands([{ target, info, value: change(this.stored<T>(target, info)) }]);
  }

  /** Show values without storing them. */
  show(values: Written[]) {
    this.display(this.commands(values));
  }

  /** Show what is changed without storing it. */
  display({ commands }: Changed) {
    this.scene.document.show(commands);
  }

  /** Store values as one step of history. */
  write(values: Written[], words: string): Promise<void> {
    return this.store(this.commands(values), words);
  }

  /** Store what is changed as one step of history; where it is animated the words say at which frame. */
  async store({ commands, keyed }: Changed, words: string): Promise<void> {
    await this.scene.document.edit(commands, keyed ? `${words} at frame ${this.scene.timeline.frame}` : words);
  }

  /** A value as it is at the frame on screen. */
  value(target: string, info: ParamInfo, plain: unknown): unknown {
    const lane = laneOf(this.scene.shown, target);
    return lane ? valueAt(lane, info, this.scene.timeline.frame, this.scene.timeline.rate) : plain;
  }
}
