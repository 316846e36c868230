/** How large the picture is shown, in words. */
import { useEffect, useState } from "react";

import { useTimed } from "./engine";

export function useZoomWords(): string {
  const { stage } = useTimed();
  const [words, setWords] = useState("Fit");
  useEffect(() => {
    const tell = () => setWords(stage.viewport?.zoom ? `${Math.round(stage.viewport.zoom.scale * 100)} %` : "Fit");
    tell();
    return stage.onGeometry(tell);
  }, [stage]);
  return words;
}
