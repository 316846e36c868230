/** Checks that are not to be told of: for a shot, or for good, which is kept in this browser; or for a look, which has that itself and takes it along. */
import { createStore, type StoreApi } from "zustand/vanilla";

import type { BenchSession } from "./bench";

export type Silences = { always: readonly string[]; shots: Readonly<Record<string, readonly string[]>> };

const NAME = "wenditas-silenced";
const NONE: Silences = { always: [], shots: {} };
const names = (value: unknown): string[] => (Array.isArray(value) ? value.filter((one): one is string => typeof one === "string") : []);

function read(text: string | null): Silences {
  try {
    const found = JSON.parse(text ?? "{}") as Partial<Record<keyof Silences, unknown>>;
    const shots = Object.entries((found.shots ?? {}) as Record<string, unknown>).map(([shot, checks]) => [shot, names(checks)] as const);
    return { always: names(found.always), shots: Object.fromEntries(shots.filter(([, checks]) => checks.length)) };
  } catch {
    return NONE;
  }
}

export class Silenced {
  readonly state: StoreApi<Silences>;

  constructor(kept: Pick<Storage, "getItem" | "setItem">) {
    this.state = createStore<Silences>(() => read(kept.getItem(NAME)));
    this.state.subscribe((now) => kept.setItem(NAME, JSON.stringify(now)));
  }

  /** Tell of a check no more: of a shot, or (null) of any. */
  put(check: string, shot: string | null) {
    const { always, shots } = this.state.getState();
    if (shot === null) this.state.setState({ always: [...new Set([...always, check])] });
    else this.state.setState({ shots: { ...shots, [shot]: [...new Set([...(shots[shot] ?? []), check])] } });
  }

  /** Tell of a check again on a shot, whichever way it was silenced. */
  lift(check: string, shot: string) {
    const { always, shots } = this.state.getState();
    this.state.setState({ always: always.filter((one) => one !== check), shots: { ...shots, [shot]: (shots[shot] ?? []).filter((one) => one !== check) } });
  }
}

export const isSilent = ({ always, shots }: Silences, check: string, shot: string): boolean => always.includes(check) || (shots[shot]?.includes(check) ?? false);

/** Tell of a check no more in the look on the Bench: an edit like any other, so that it goes along with the look. */
export const silenceInLook = (engine: BenchSession, check: string, name: string) =>
  void engine.edit([{ do: "set", target: engine.target.of("silenced"), value: [...new Set([...(engine.shown.look.silenced ?? []), check])] }], `${name} silenced in this look`);

/** Tell of it again, where the look had silenced it. */
export function hearInLook(engine: BenchSession, check: string, name: string) {
  const silenced = engine.shown.look.silenced ?? [];
  if (silenced.includes(check)) void engine.edit([{ do: "set", target: engine.target.of("silenced"), value: silenced.filter((one) => one !== check) }], `${name} told again`);
}
