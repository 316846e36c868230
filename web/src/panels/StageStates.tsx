/** What is said over a picture, of a shot or of the reel. */
import { useEffect, useState } from "react";

import { useStage, useTimed } from "./engine";

/** Why what is on screen is not what was asked for. */
export function Failure() {
  const { stage } = useTimed();
  const failure = useStage((s) => s.failure);
  if (!failure) return null;
  return (
    <div role="alert" className="absolute bottom-2 left-1/2 flex max-w-[90%] -translate-x-1/2 items-center gap-3 bg-inverse px-3 py-1 text-inverse-ink" onPointerDown={(e) => e.stopPropagation()}>
      <b>!</b>
      <span>{failure} The picture before is still shown.</span>
      <button type="button" className="h-[24px] shrink-0 underline" onClick={() => stage.again()}>
        Try again
      </button>
    </div>
  );
}

/** Says so when a picture takes longer than a moment. */
export function Busy() {
  const since = useStage((s) => s.busySince);
  const [late, setLate] = useState(false);
  useEffect(() => {
    setLate(false);
    if (since === null) return;
    const timer = window.setTimeout(() => setLate(true), 300);
    return () => window.clearTimeout(timer);
  }, [since]);
  return late ? (
    <span role="status" onPointerDown={(e) => e.stopPropagation()} className="absolute top-2 right-2 bg-inverse px-2 py-0.5 text-inverse-ink">
      rendering…
    </span>
  ) : null;
}
