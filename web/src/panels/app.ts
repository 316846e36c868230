/** How rooms and panels come by what there is once in a window. */
import { createContext, useContext } from "react";
import { useStore } from "zustand";

import type { App, Sheets } from "../app";
import type { LayoutState } from "../engine/layout";
import type { Pocket } from "../engine/pocket";

export const AppContext = createContext<App | null>(null);

export function useApp(): App {
  const app = useContext(AppContext);
  if (!app) throw new Error("There is no application around this.");
  return app;
}

export const useSheet = (name: keyof Sheets): boolean => useStore(useApp().sheets, (s) => s[name]);
export const usePocket = (): Pocket | null => useStore(useApp().pocket, (s) => s.held);
export const useOnline = (): boolean => useStore(useApp().connection.state, (s) => s.online);
export const useLayout = <T>(pick: (s: LayoutState) => T): T => useStore(useApp().layout.state, pick);
