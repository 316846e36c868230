import { useState, type ReactNode, type SyntheticEvent } from "react";

/** What the control that has the focus, or that is pointed at, is for: in words on the screen. */
export function WithHelp({ className, children }: { className?: string; children: ReactNode }) {
  const [help, setHelp] = useState<string | null>(null);
  const look = (e: SyntheticEvent) => setHelp((e.target as HTMLElement).closest<HTMLElement>("[data-help]")?.dataset.help ?? null);
  return (
    <div className="flex min-h-0 flex-1 flex-col" onFocus={look} onPointerOver={look} onPointerLeave={() => setHelp(null)} onBlur={() => setHelp(null)}>
      <div className={className}>{children}</div>
      <p className="min-h-[34px] shrink-0 border-t border-line px-3.5 py-0.5 text-[12px] leading-[15px] text-quiet" data-helpline>
        {help}
      </p>
    </div>
  );
}
