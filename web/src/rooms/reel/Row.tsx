import { join as target } from "../../engine/commands";
import type { ParamInfo } from "../../api/types";
import { ParamRow } from "../../panels/ParamRow";
import { useReel } from "./context";

type Props = { list: "items" | "transitions" | "spans" | "track"; ids: string[]; info: ParamInfo; value: unknown; about: string };

/** One declared value of what is chosen, of several at once where several are. */
export function Row({ list, ids, info, value, about }: Props) {
  const reel = useReel();
  const commands = (v: unknown) => (list === "track" ? [{ do: "set" as const, target: target("track", info.key), value: v }] : ids.map((id) => ({ do: "set" as const, target: target(list, id, info.key), value: v })));
  return <ParamRow info={info} value={value} onLive={(v) => reel.document.show(commands(v))} onCommit={(v, words) => void reel.edit(commands(v), `${about}: ${words}`)} />;
}

/** Those of some declared values that are named, in that order. */
export const named = (infos: ParamInfo[] | undefined, keys: string[]) => keys.flatMap((key) => infos?.find((i) => i.key === key) ?? []);
