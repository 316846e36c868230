/** Letting go of pictures that were made for an element: never while that still loads them, which would fail. */
import type { RefObject } from "react";

type Loading = Pick<HTMLImageElement, "src" | "complete" | "addEventListener">;

/** A ref that still has its element when that has left the page. */
export const keep =
  <T>(ref: RefObject<T | null>) =>
  (element: T | null) => {
    if (element) ref.current = element;
  };

/** Revoke the URL of a picture; where the element is loading it, once that has ended. */
export function release(url: string, element: Loading | null) {
  const revoke = () => URL.revokeObjectURL(url);
  if (!element || element.src !== url || element.complete) return revoke();
  for (const end of ["load", "error"] as const) element.addEventListener(end, revoke, { once: true });
}
