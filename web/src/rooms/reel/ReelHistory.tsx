import { useStore } from "zustand";

import { ask, client } from "../../api/client";
import { goToState, newReelTake, reelTakes } from "../../engine/reel/takes";
import { useTime } from "../../panels/engine";
import { HistoryButton, HistoryOf } from "../../panels/HistoryOf";
import { useReel } from "./context";

/** Takes and edits of the reel. */
export const ReelHistory = () => (
  <HistoryButton>
    <OfReel />
  </HistoryButton>
);

function OfReel() {
  const reel = useReel();
  const view = useStore(reel.document.state, (s) => s.view);
  const frame = useTime((s) => s.frame);
  return (
    <HistoryOf
      id={view.reel_id}
      revision={view.revision}
      frame={frame}
      path={reel.path}
      readTakes={() => reelTakes(reel)}
      readEdits={() => ask(client.GET("/api/reels/{reel_id}/history", { params: { path: { reel_id: view.reel_id } } }))}
      newTake={() => newReelTake(reel)}
      onTake={(take) => void goToState(reel, take.revision, `“${take.name}” is in work.`)}
      onEdit={(edit) => void goToState(reel, edit.id, `Back at “${edit.words}”.`)}
      none="A take is a saved version of the reel: cut it another way, and come back."
    />
  );
}
