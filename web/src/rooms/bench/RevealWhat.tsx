import { HelpButton } from "../../panels/HelpButton";
import { Link, useParams } from "react-router";

import type { ShotView } from "../../api/types";
import { Heading } from "../../ui/basics";
import { useShownParts } from "../../panels/engine";

/** What a selection does that opens onto the next shot. */
export function RevealWhat({ part }: { part: NonNullable<ShotView["part"]> }) {
  const { projectId } = useParams();
  const { first, last } = useShownParts((d) => ({ first: d.first, last: d.last }));
  return (
    <div className="pane h-full overflow-y-auto px-3.5 pb-3">
      <span className="flex items-baseline gap-0.5">
          <h2 className="pt-2 text-[18px] font-bold">Reveal</h2>
          <HelpButton of="Reveal" page="reel" part="transitions" />
        </span>
      <p className="mt-1">Where the selection is, the other shot appears: first the hole opens, then it takes all.</p>
      <p className="mt-2 text-quiet">
        The transition takes frames {first} to {last} of this shot. Before it the hole is closed, after it everything is taken.
      </p>
      <Heading>How it goes</Heading>
      <p>
        Its length, its pins and its edge are set <Link className="underline" to={`/projects/${projectId}/reel?at=transitions/${part.id}`}>at the cut in the reel</Link>.
      </p>
    </div>
  );
}
