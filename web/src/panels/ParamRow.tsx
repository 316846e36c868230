import type { ParamInfo } from "../api/types";
import { coloursWords } from "../colour/typed";
import { Choice } from "../ui/choice";
import { ColourRow, ColoursRow } from "../ui/colour";
import { numberWords, valueWords } from "../ui/lengths";
import { useLines } from "./lines";
import { NumberOf } from "./NumberOf";

type Props<T> = {
  info: ParamInfo;
  value: T;
  /** While it is dragged or stepped: show it, do not store it. */
  onLive: (v: unknown) => void;
  /** At rest: one step of history, in words. */
  onCommit: (v: unknown, words: string) => void;
};

/** One parameter, drawn by its kind. Curves, gradients and files have editors of their own. */
export function ParamRow({ info, value, onLive, onCommit }: Props<unknown>) {
  const lines = useLines();
  switch (info.kind) {
    case "number":
      return <NumberOf info={info} value={Number(value ?? info.default)} onLive={onLive} onCommit={(v, before) => onCommit(v, `${info.name} ${valueWords(info, before, lines)} → ${numberWords(info, v, lines)}`)} />;
    case "switch":
      return <SwitchRow info={info} value={!!value} onLive={onLive} onCommit={onCommit} />;
    case "choice":
      return <ChoiceRow info={info} value={String(value ?? info.default)} onLive={onLive} onCommit={onCommit} />;
    case "colour":
      return <ColourRow name={info.name} help={info.help} value={String(value ?? info.default)} fallback={String(info.default)} onLive={onLive} onCommit={(v) => onCommit(v, `${info.name} ${String(value ?? info.default)} → ${v}`)} />;
    case "colours":
      return <ColoursRow name={info.name} help={info.help} value={(value ?? info.default) as string[]} onLive={onLive} onCommit={(v) => onCommit(v, `${info.name}: ${coloursWords((value ?? info.default) as string[], v)}`)} />;
    default:
      return null;
  }
}

function SwitchRow({ info, value, onCommit }: Props<boolean>) {
  return (
    <label className="flex h-[26px] items-center justify-between" title={info.help} data-help={info.help}>
      {info.name}
      <input type="checkbox" aria-description={info.help} className="mr-[17px] h-[16px] w-[16px] accent-[var(--inverse)]" checked={value} onChange={(e) => onCommit(e.currentTarget.checked, `${info.name} ${e.currentTarget.checked ? "on" : "off"}`)} />
    </label>
  );
}

function ChoiceRow({ info, value, onCommit }: Props<string>) {
  return (
    <label className="flex h-[30px] items-center justify-between gap-2" title={info.help} data-help={info.help}>
      <span className="w-[98px] shrink-0 truncate">{info.name}</span>
      <Choice aria-label={info.name} aria-description={info.help} value={value} onChange={(e) => onCommit(e.currentTarget.value, `${info.name}: ${value} → ${e.currentTarget.value}`)} className="flex-1">
        {info.choices!.map((c) => (
          <option key={c} value={c}>
            {c}
          </option>
        ))}
      </Choice>
    </label>
  );
}
