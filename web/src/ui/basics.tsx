import clsx from "clsx";
import { RadioGroup, Tooltip } from "radix-ui";
import { useContext, type ButtonHTMLAttributes, type ReactNode } from "react";

import { hinted, KeyOfContext, useHint } from "./does";

/** does: the name of what it does, whose key its hint tells. */
type ButtonProps = ButtonHTMLAttributes<HTMLButtonElement> & { look?: "plain" | "line" | "solid"; on?: boolean; does?: string };

/** A text button: plain, outlined or inverted. `on` inverts it. */
export function Button({ look = "line", on, does, title, className, ...rest }: ButtonProps) {
  const hint = useHint(does);
  return (
    <button
      type="button"
      title={title && hint(title)}
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
export function IconButton({ tip, on, does, className, children, ...rest }: ButtonHTMLAttributes<HTMLButtonElement> & { tip: string; on?: boolean; does?: string; children: ReactNode }) {
  const hint = useHint(does);
  return (
    <Tip text={hint(tip)}>
      <button
        type="button"
        aria-label={hint(tip)}
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

type SegmentsProps<T extends string> = { label: string; value: T; options: readonly { value: T; name: string; tip?: string; does?: string; disabled?: boolean }[]; onChange: (value: T) => void; boxed?: boolean; wide?: boolean };

/** One of a few, side by side: one stop of the Tab key, arrows go from one to the next. */
export function Segments<T extends string>({ label, value, options, onChange, boxed, wide }: SegmentsProps<T>) {
  const keyOf = useContext(KeyOfContext);
  const tipOf = ({ tip, does }: SegmentsProps<T>["options"][number]) => tip && hinted(tip, keyOf(does));
  return (
    <RadioGroup.Root aria-label={label} orientation="horizontal" value={value} onValueChange={(next) => onChange(next as T)} className={clsx(wide ? "flex" : "inline-flex", boxed && "border border-strong")}>
      {options.map((o) => (
        <RadioGroup.Item
          key={o.value}
          value={o.value}
          aria-description={tipOf(o)}
          disabled={o.disabled}
          title={tipOf(o)}
          onFocus={(e) => e.currentTarget.parentElement?.contains(e.relatedTarget) && onChange(o.value)} // by an arrow, however short it is pressed
          onClick={(e) => {
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
        </RadioGroup.Item>
      ))}
    </RadioGroup.Root>
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

/** Said over a black area until what is measured has come, or where it does not. */
export function Measuring({ failed }: { failed?: boolean }) {
  return <span className="pointer-events-none absolute inset-0 flex items-center justify-center text-[11px] text-[#a8a8a8]">{failed ? "It could not be measured." : "Measuring…"}</span>;
}
