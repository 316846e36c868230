/** How the panels of the sheet come by it. */
import { createContext, useContext } from "react";
import { useStore } from "zustand";

import type { Loader } from "../../engine/sheet/loader";
import type { Sheet, SheetState } from "../../engine/sheet/sheet";

export const SheetContext = createContext<{ sheet: Sheet; loader: Loader } | null>(null);

export function useSheetRoom() {
  const found = useContext(SheetContext);
  if (!found) throw new Error("No sheet is open.");
  return found;
}

export const useSheetState = <T>(pick: (s: SheetState) => T): T => useStore(useSheetRoom().sheet.state, pick);
