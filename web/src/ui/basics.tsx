import clsx from "clsx";
import { Tooltip } from "radix-ui";
import type { ButtonHTMLAttributes, KeyboardEvent, ReactNode } from "react";

type ButtonProps = ButtonHTMLAttributes<HTMLButtonElement> & { look?: "plain" | "line" | "solid"; on?: boolean };

/** A text button: plain, outlined or inverted. `on` inverts it. */
export function Button({ look = "line", on, className, ...rest }: ButtonProps) {
  return (
    <button
      type="button"
      aria-pressed={on}
      className={clsx(
        "inline-flex h-[26px] shrink-0 items-center gap-1.5 px-2.5 font-medium whitespace-nowrap",
        on || look === "solid" ? "bg-inverse text-inverse-ink" : "text-ink",
        look === "line" && !on && "border border-strong hover:border-ink",
        look === "plain" && !on && "as-button text-quiet hover:text-ink",
        className,
      )}
      {...rest}
    />
  );
}

/** A button with an icon in place of a word: always with a tooltip, which is also its name. */
export function IconButton({ tip, on, className, children, ...rest }: ButtonHTMLAttributes<HTMLButtonElement> & { tip: string; on?: boolean; children: ReactNode }) {
  return (
    <Tip text={tip}>
      <button
        type="button"
        aria-label={tip}
        aria-pressed={on}
        className={clsx("inline-flex h-[26px] w-[26px] shrink-0 items-center justify-center", on ? "bg-inverse text-inverse-ink" : "text-quiet hover:text-ink", className)}
        {...rest}
      >
        {children}
      </button>
    </Tip>
  );
}

export function Tip({ text, children }: { text: ReactNode; children: ReactNode }) {
  return (
    <Tooltip.Root>
      <Tooltip.Trigger asChild>{children}</Tooltip.Trigger>
      <Tooltip.Portal>
        <Tooltip.Content sideOffset={5} collisionPadding={8} className="z-50 max-w-64 bg-inverse px-2 py-1 text-[12px] text-inverse-ink">
          {text}
        </Tooltip.Content>
      </Tooltip.Portal>
    </Tooltip.Root>
  );
}

type SegmentsProps<T extends string> = { label: string; value: T; options: { value: T; name: string; tip?: string; disabled?: boolean }[]; onChange: (value: T) => void; boxed?: boolean; wide?: boolean };

/** One of a few, side by side: one stop of the Tab key, arrows go from one to the next. */
export function Segments<T extends string>({ label, value, options, onChange, boxed, wide }: SegmentsProps<T>) {
  const there = options.filter((o) => !o.disabled);
  const stop = there.some((o) => o.value === value) ? value : there[0]?.value;
  const keys = (e: KeyboardEvent<HTMLDivElement>) => {
    const by = { ArrowLeft: -1, ArrowUp: -1, ArrowRight: 1, ArrowDown: 1 }[e.key];
    if (!by || !there.length) return;
    e.preventDefault();
    e.stopPropagation();
    const at = there.findIndex((o) => o.value === stop);
    const next = there[(at + by + there.length) % there.length]!;
    e.currentTarget.querySelector<HTMLElement>(`[data-value="${next.value}"]`)?.focus();
    onChange(next.value);
  };
  return (
    <div role="radiogroup" aria-label={label} className={clsx(wide ? "flex" : "inline-flex", boxed && "border border-strong")} onKeyDown={keys}>
      {options.map((o) => (
        <button
          key={o.value}
          type="button"
          role="radio"
          data-value={o.value}
          aria-checked={o.value === value}
          aria-description={o.tip}
          tabIndex={o.value === stop ? 0 : -1}
          disabled={o.disabled}
          title={o.tip}
          onClick={(e) => {
            onChange(o.value);
            if (e.detail > 0) e.currentTarget.blur(); // clicked, not reached by the keyboard: arrows belong to the room again
          }}
          className={clsx(
            "h-[24px] font-medium whitespace-nowrap",
            wide ? "min-w-0 flex-auto px-1" : boxed ? "px-2" : "px-2.5",
            boxed && "border-r border-strong last:border-r-0",
            o.value === value ? "bg-inverse text-inverse-ink" : boxed ? "text-ink" : "text-quiet hover:text-ink",
          )}
        >
          {o.name}
        </button>
      ))}
    </div>
  );
}

/** A small heading inside a panel. */
export function Heading({ children, aside }: { children: ReactNode; aside?: ReactNode }) {
  return (
    <div className="mt-2 mb-0.5 flex min-h-[24px] items-center justify-between gap-2 text-[12px] font-semibold text-quiet">
      <h3>{children}</h3>
      {aside}
    </div>
  );
}

/** A bar that fills; its value is said to assistive software. */
export function ProgressBar({ value, label }: { value: number; label: string }) {
  const percent = Math.round(value * 100);
  return (
    <div role="progressbar" aria-label={label} aria-valuenow={percent} aria-valuemin={0} aria-valuemax={100} className="h-[6px] w-full border border-strong">
      <div className="h-full bg-ink" style={{ width: `${percent}%` }} />
    </div>
  );
}
