import { useApp } from "./app";

/** Opens the page of the help that tells of a panel. part: its heading there, as an address has it. */
export function HelpButton({ of, page, part = null }: { of: string; page: string; part?: string | null }) {
  const { dialogs } = useApp();
  return (
    <button type="button" aria-label={`Help: ${of}`} title="What this is, and how it is used" className="h-[20px] min-w-[14px] text-[12px] font-bold text-quiet hover:text-ink" onClick={() => dialogs.setState({ help: { page, part } })}>
      ?
    </button>
  );
}
