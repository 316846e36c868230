import { useState, type ReactNode, type SyntheticEvent } from "react";

/** What the control that has the focus is for: in words on the screen, over the foot of the panel. (Pointed at, controls tell it in a tooltip.) */
export function WithHelp({ className, children }: { className?: string; children: ReactNode }) {
  const [help, setHelp] = useState<string | null>(null);
  const look = (e: SyntheticEvent) => setHelp((e.target as HTMLElement).closest<HTMLElement>("[data-help]")?.dataset.help ?? null);
  return (
    <div className="relative flex min-h-0 flex-1 flex-col" onFocus={look} onBlur={() => setHelp(null)}>
      <div className={className} style={{ scrollPaddingBottom: 40 }}>
        {children}
      </div>
      {help && (
        <p data-helpline className="pointer-events-none absolute inset-x-0 bottom-0 border-t border-line bg-raised px-3.5 py-1 text-[12px] leading-[15px] text-ink">
          {help}
        </p>
      )}
    </div>
  );
}
