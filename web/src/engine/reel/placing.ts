/** Where an item lies in the reel's frame: reckoned as the server does (`core/film/placing.py`), in pixels of a frame of 1080 lines. */
import type { ReelItem, StandingShot } from "../../api/types";
import type { XY } from "../paths";

type Frame = { width: number; height: number };
export type Lying = { middle: XY; half: XY; turn: number };

const shownSize = (item: ReelItem, shot: StandingShot, frame: Frame): XY => {
  const [across, down] = [frame.width / shot.width, frame.height / shot.height];
  const fitted = { all: Math.min(across, down), fill: Math.max(across, down), own: 1 }[item.fit ?? "all"];
  const zoom = (fitted * (item.scale ?? 100)) / 100;
  return { x: shot.width * zoom, y: shot.height * zoom };
};

export function lyingOf(item: ReelItem, shot: StandingShot, frame: Frame): Lying {
  const per = 1080 / frame.height;
  const size = shownSize(item, shot, frame);
  const middle = (room: number, share: number, shown: number) => ((room - shown) * share) / 100 + shown / 2;
  return {
    middle: { x: middle(frame.width, item.across ?? 50, size.x) * per, y: middle(frame.height, item.down ?? 50, size.y) * per },
    half: { x: (size.x / 2) * per, y: (size.y / 2) * per },
    turn: item.turn ?? 0,
  };
}

/** What puts the middle of an item somewhere. Where it just fills the frame there is no room to move it in. */
export function movedTo(item: ReelItem, shot: StandingShot, frame: Frame, to: XY): Pick<ReelItem, "across" | "down"> {
  const per = 1080 / frame.height;
  const size = shownSize(item, shot, frame);
  const share = (room: number, at: number, shown: number, before: number) => (Math.abs(room - shown) < 0.5 ? before : Math.min(Math.max(((at - shown / 2) / (room - shown)) * 100, -500), 600));
  const round = (n: number) => Number(n.toFixed(2));
  return {
    across: round(share(frame.width, to.x / per, size.x, item.across ?? 50)),
    down: round(share(frame.height, to.y / per, size.y, item.down ?? 50)),
  };
}
