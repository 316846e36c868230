/** Which key does what a control does: handed down by whoever knows the keys of the room. */
import { createContext, useContext } from "react";

export const KeyOfContext = createContext<(id: string | undefined) => string | null>(() => null);

export const hinted = (hint: string, key: string | null) => (key ? `${hint} (${key})` : hint);

/** A hint with the key that does the same, where there is one. does: the name of what is done. */
export function useHint(does: string | undefined): (hint: string) => string {
  const key = useContext(KeyOfContext)(does);
  return (hint) => hinted(hint, key);
}
