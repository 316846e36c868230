import { ask, client } from "../../api/client";
import type { Take } from "../../api/types";
import { Button } from "../../ui/basics";
import { goTo } from "../../engine/pocket";
import { newTake, takesOf } from "../../engine/takes";
import { HistoryButton, HistoryOf } from "../../panels/HistoryOf";
import { useEngine, useSettledFrame, useStage, useView } from "../../panels/engine";

const NONE = "A take is a saved version of this shot's look: try something else, and come back. T makes one; Shift and the bracket keys step through them.";

/** Takes and edits of the shot. */
export const History = () => (
  <HistoryButton>
    <OfShot />
  </HistoryButton>
);

function OfShot() {
  const engine = useEngine();
  const view = useView();
  const frame = useSettledFrame();
  return (
    <HistoryOf
      id={view.shot.id}
      revision={view.revision}
      frame={frame}
      path={engine.path}
      readTakes={() => takesOf(engine)}
      readEdits={() => ask(client.GET("/api/shots/{shot_id}/history", { params: { path: { shot_id: view.shot.id } } }))}
      newTake={() => newTake(engine)}
      onTake={(take) => void goTo(engine, take.revision, `“${take.name}” is in work.`)}
      onEdit={(edit) => void goTo(engine, edit.id, `Back at “${edit.words}”.`, edit.touched)}
      none={NONE}
      beside={(take) => <Compare take={take} />}
    />
  );
}

/** A take on one side of the picture; again it is taken away. */
function Compare({ take }: { take: Take }) {
  const engine = useEngine();
  const against = useStage((s) => s.against);
  const instead = useStage((s) => s.instead);
  const put = (side: "against" | "instead") => {
    const { against, instead, compare } = engine.now;
    const sides = { against, instead, [side]: engine.now[side]?.revision === take.revision ? null : { revision: take.revision, name: take.name } };
    engine.stage.set({ ...sides, show: "result", compare: sides.against || sides.instead ? (compare === "off" ? "side" : compare) : "off" });
  };
  return (
    <div className="flex gap-1" role="group" aria-label={`Compare ${take.name}`}>
      <Button look="plain" className="flex-1 justify-center !px-0" on={against?.revision === take.revision} title="On the left of the picture" onClick={() => put("against")}>
        Left
      </Button>
      <Button look="plain" className="flex-1 justify-center !px-0" on={instead?.revision === take.revision} title="On the right of the picture, in place of what is in work" onClick={() => put("instead")}>
        Right
      </Button>
    </div>
  );
}
