/** The keys that every room has. */
import { useEffect } from "react";

import { useApp } from "../panels/app";
import { busy, nextArea, typing } from "../ui/typing";

export function useFrameKeys() {
  const { dialogs } = useApp();
  useEffect(() => {
    const down = (e: KeyboardEvent) => {
      if (e.defaultPrevented || busy()) return;
      if (e.key === "F6") nextArea(e.shiftKey ? -1 : 1);
      else if (e.key === "?" && !typing(e.target) && !e.ctrlKey && !e.metaKey) dialogs.setState({ keyboard: true });
      else return;
      e.preventDefault();
    };
    window.addEventListener("keydown", down);
    return () => window.removeEventListener("keydown", down);
  }, [dialogs]);
}
