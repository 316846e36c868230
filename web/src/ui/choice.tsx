import clsx from "clsx";
import { useRef, type SelectHTMLAttributes } from "react";

/** One of several, behind a button of the browser's own. Chosen with the pointer, it gives the keyboard back. */
export function Choice({ className, onChange, ...rest }: SelectHTMLAttributes<HTMLSelectElement>) {
  const pointed = useRef(false);
  return (
    <select
      {...rest}
      className={clsx("h-[24px] min-w-0 border border-strong bg-ground px-1", className)}
      onPointerDown={() => (pointed.current = true)}
      onKeyDown={(e) => {
        pointed.current = false;
        e.stopPropagation();
      }}
      onChange={(e) => {
        onChange?.(e);
        if (pointed.current) e.currentTarget.blur();
      }}
    />
  );
}
