/** The keys that every room has. */
import { useEffect } from "react";

import { presses } from "../engine/actions";
import { useApp } from "../panels/app";
import { listen } from "../ui/listen";
import { busy, nextArea, typing } from "../ui/typing";

export function useFrameKeys() {
  const { dialogs } = useApp();
  useEffect(() => {
    const go = (direction: 1 | -1) => (e: KeyboardEvent) => {
      e.preventDefault();
      nextArea(direction);
    };
    const keyboard = (e: KeyboardEvent) => {
      if (typing(e.target)) return;
      e.preventDefault();
      dialogs.setState({ keyboard: true });
    };
    const asked = Object.fromEntries(presses("?").map((press) => [press, keyboard]));
    const another = (e: KeyboardEvent) => e.defaultPrevented || busy();
    const stopGoing = listen({ F6: go(1), "Shift+F6": go(-1) }, another, true); // before an edge that has the focus takes it to go to the next edge
    const stopAsking = listen(asked, another);
    return () => {
      stopGoing();
      stopAsking();
    };
  }, [dialogs]);
}
