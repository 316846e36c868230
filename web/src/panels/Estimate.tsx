import { bytes, duration } from "../ui/words";

/** About how large a file will be and how long it will take, as the server has measured it. */
export function Estimate({ data, error }: { data: { bytes: number; seconds: number; notes?: string[] } | undefined; error: Error | null }) {
  return (
    <p role="status" aria-label="About" className="mt-4 border-t border-line pt-2">
      {data ? (
        <>
          About <b>{bytes(data.bytes)}</b>, in about <b>{duration(data.seconds)}</b> while nothing else is at work. {data.notes?.join(" ")}
        </>
      ) : (
        <span className="text-quiet">{error ? error.message : "Measuring some frames…"}</span>
      )}
    </p>
  );
}
