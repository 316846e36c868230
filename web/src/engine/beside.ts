/** What lies beside the picture: small pictures, mattes, measurements. The picture comes first, and what is passed over on the way to it is not asked for. */
import type { Session } from "./session";

/** How much of a session is needed. */
type Looked = Pick<Session<never, object>, "stage" | "timeline">;

/**
 * Calls `then` each time the picture has been on screen, final or given up, for `wait` ms; never while it plays.
 * Goes on until the function that is given back is called.
 */
export function whenAtRest({ stage, timeline }: Looked, wait: number, then: () => void): () => void {
  let [timer, rests] = [0, false];
  const look = () => {
    const now = (stage.now.settled || stage.now.failure !== null) && !timeline.now.playing;
    if (now === rests) return;
    rests = now;
    window.clearTimeout(timer);
    if (rests) timer = window.setTimeout(then, wait);
  };
  const stops = [stage.state.subscribe(look), timeline.state.subscribe(look)];
  look();
  return () => {
    for (const stop of stops) stop();
    window.clearTimeout(timer);
  };
}
