import { ToggleGroup } from "radix-ui";
import type { ReactElement, ReactNode } from "react";

type Props<T extends string> = { label: string; on: readonly T[]; onChange: (on: T[]) => void; children: ReactNode; className?: string };

/** A few buttons that are on or off: one stop of the Tab key, arrows go from one to the next. */
export function Toggles<T extends string>({ label, on, onChange, ...rest }: Props<T>) {
  return <ToggleGroup.Root type="multiple" orientation="horizontal" aria-label={label} value={[...on]} onValueChange={(now) => onChange(now as T[])} {...rest} />;
}

/** One of them, as the button that is given. Clicked, not reached by the keyboard, it leaves arrows to the room. */
export function Toggle({ value, children }: { value: string; children: ReactElement }) {
  return (
    <ToggleGroup.Item value={value} asChild onClick={(e) => e.detail > 0 && e.currentTarget.blur()}>
      {children}
    </ToggleGroup.Item>
  );
}
