/** What lies beside the picture: small pictures, mattes, measurements. The picture comes first, and what is passed over on the way to it is not asked for. */
import type { AnyView } from "./document";
import type { Session } from "./session";

/**
 * Calls `then` each time a picture has been on screen, final or given up, for `wait` ms; never while it plays, nor while an edit is on its way.
 * While a selection of the moment is hatched no picture becomes final: another frame or state counts by itself then.
 * Goes on until the function that is given back is called.
 */
export function whenAtRest<V extends AnyView>({ document, stage, timeline }: Pick<Session<V, object>, "document" | "stage" | "timeline">, wait: number, then: () => void): () => void {
  let [timer, rests] = [0, ""];
  const look = () => {
    const { settled, failure, lit } = stage.now;
    const { waiting, gesture } = document.state.getState();
    const still = (settled || failure !== null || lit !== null) && !timeline.now.playing && !waiting.length && !gesture;
    const now = still ? `${timeline.now.frame} ${document.view.revision}` : "";
    if (now === rests) return;
    rests = now;
    window.clearTimeout(timer);
    if (still) timer = window.setTimeout(then, wait);
  };
  const stops = [stage.state.subscribe(look), timeline.state.subscribe(look), document.state.subscribe(look)];
  look();
  return () => {
    for (const stop of stops) stop();
    window.clearTimeout(timer);
  };
}
