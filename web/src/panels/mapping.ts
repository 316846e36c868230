/** Between the picture and the screen. */
import { useEffect, useReducer } from "react";

import type { XY } from "../engine/paths";
import { useTimed } from "./engine";

export type Mapping = { toScreen: (p: XY) => XY; toPicture: (p: XY) => XY };

/** From coordinates of a picture of 1080 lines to the screen and back, as the viewport is now; null while two pictures lie side by side. */
export function useMapping(): Mapping | null {
  const [, update] = useReducer((n: number) => n + 1, 0);
  const { stage } = useTimed();
  useEffect(() => stage.onGeometry(update), [stage]);
  const { viewport } = stage;
  if (!viewport || viewport.layout === "side") return null;
  const { scale, x, y } = viewport.geometry;
  const per = (scale * viewport.size.height) / 1080 / viewport.density;
  const [left, top] = [x / viewport.density, y / viewport.density];
  return {
    toScreen: (p) => ({ x: left + p.x * per, y: top + p.y * per }),
    toPicture: (p) => ({ x: (p.x - left) / per, y: (p.y - top) / per }),
  };
}
