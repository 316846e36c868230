import { useEffect, useState } from "react";
import { Link, useNavigate, useSearchParams } from "react-router";

import { useProject } from "../../api/queries";
import { useStage } from "../../panels/engine";
import { Button } from "../../ui/basics";
import { useReel } from "./context";

/** A film that is opened to be looked at first plays by itself, with one line that says what to try. */
export function FirstSteps() {
  const reel = useReel();
  const navigate = useNavigate();
  const [params] = useSearchParams();
  const settled = useStage((s) => s.settled);
  const [begun, setBegun] = useState(false);
  const { data } = useProject(reel.view.project_id);
  const first = params.has("first");
  useEffect(() => {
    if (!first || begun || !settled) return;
    setBegun(true);
    reel.stage.play(1);
  }, [first, begun, settled, reel]);
  if (!first) return null;
  const shot = data?.shots[1] ?? data?.shots[0];
  return (
    <p role="note" aria-label="What to try first" className="flex h-[30px] shrink-0 items-center gap-3 border-b border-line px-2">
      <span className="min-w-0 flex-1 truncate">
        The finished film; Space stops it. Try first:{" "}
        {shot && (
          <Link className="font-semibold underline" to={`/projects/${reel.view.project_id}/shots/${shot.id}`}>
            open “{shot.name}” on the Bench
          </Link>
        )}
        , press P, click another colour.
      </span>
      <Button look="plain" className="h-[22px]" aria-label="Close this line" onClick={() => void navigate({ search: "" }, { replace: true })}>
        ×
      </Button>
    </p>
  );
}
