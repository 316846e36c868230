import type { ParamInfo } from "../api/types";
import { shareWords, toldIn } from "../ui/lengths";
import { NumberRow } from "../ui/number";
import { useLines } from "./lines";

type Props = {
  info: ParamInfo;
  value: number;
  onLive: (value: number) => void;
  /** before: the value that it had. */
  onCommit: (value: number, before: number) => void;
  disabled?: boolean;
};

/** A number of a look; lengths in the picture's own pixels. */
export function NumberOf({ info, value, onLive, onCommit, disabled }: Props) {
  const lines = useLines();
  const told = toldIn(info, lines);
  const shown = told.shown(value);
  const help = told.info.help + shareWords(told.info, shown, lines);
  return <NumberRow info={{ ...told.info, help }} value={shown} disabled={disabled} onLive={(v) => onLive(told.stored(v))} onCommit={(v, before) => onCommit(told.stored(v), told.stored(before))} />;
}
