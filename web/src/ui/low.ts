import { useSyncExternalStore } from "react";

const QUERY = "(max-height: 760px)";

/** Whether the window is low: what can do with less takes less. */
export const useLow = (): boolean =>
  useSyncExternalStore(
    (told) => {
      const query = matchMedia(QUERY);
      query.addEventListener("change", told);
      return () => query.removeEventListener("change", told);
    },
    () => matchMedia(QUERY).matches,
  );
