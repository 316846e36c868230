/** How rooms and panels come by what there is once in a window. */
import { createContext, useContext, useEffect } from "react";
import { useStore } from "zustand";

import type { App } from "../app";
import { rowOf, type Action, type Told } from "../engine/actions";
import type { LayoutState } from "../engine/layout";
import type { Pocket } from "../engine/pocket";

export const AppContext = createContext<App | null>(null);

export function useApp(): App {
  const app = useContext(AppContext);
  if (!app) throw new Error("There is no application around this.");
  return app;
}

export const useDialog = (name: "keyboard" | "shelf"): boolean => useStore(useApp().dialogs, (s) => s[name]);
export const useKeysHere = (): readonly Told[] => useStore(useApp().keysHere, (s) => s.rows);

/** Tell which keys there are in the room that is open. */
export function useTellActions<S, A>(actions: readonly Action<S, A>[], more: readonly Told[]) {
  const { keysHere } = useApp();
  useEffect(() => {
    keysHere.setState({ rows: [...actions.map(rowOf), ...more] });
    return () => keysHere.setState({ rows: [] });
  }, [keysHere, actions, more]);
}
export const usePocket = (): Pocket | null => useStore(useApp().pocket, (s) => s.held);
export const useOnline = (): boolean => useStore(useApp().connection.state, (s) => s.online);
export const useLayout = <T>(pick: (s: LayoutState) => T): T => useStore(useApp().layout.state, pick);
