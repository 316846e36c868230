import type { ParamInfo } from "../api/types";
import { NumberRow } from "./number";

type Props = { info: ParamInfo; value: number | boolean; onLive: (v: number | boolean) => void; onCommit: (v: number | boolean) => void };

/** One parameter, drawn by its kind. */
export function ParamRow({ info, value, onLive, onCommit }: Props) {
  if (info.kind === "number") return <NumberRow info={info} value={Number(value)} onLive={onLive} onCommit={onCommit} />;
  return (
    <label className="flex h-[26px] items-center justify-between" title={info.help}>
      {info.name}
      <input type="checkbox" className="mr-[17px] accent-[var(--inverse)]" checked={!!value} onChange={(e) => onCommit(e.currentTarget.checked)} />
    </label>
  );
}
