import clsx from "clsx";
import { useStore } from "zustand";

import { useApp } from "../../panels/app";
import { Button, ProgressBar } from "../../ui/basics";
import { bytes, duration } from "../../ui/words";

/** Files on their way in, and those that were refused. */
export function Uploads() {
  const { uploads } = useApp();
  const jobs = useStore(uploads.state, (s) => s.jobs);
  if (!jobs.length) return null;
  return (
    <ul className="mb-5 space-y-2" aria-label="Uploads">
      {jobs.map((job) => {
        const share = job.total ? job.sent / job.total : 0;
        const elapsed = (Date.now() - job.startedAt) / 1000;
        const left = share > 0.02 && elapsed > 2 ? `, ${duration((elapsed / share) * (1 - share))} left` : "";
        const words = { waiting: "waiting", sending: `${bytes(job.sent)} of ${bytes(job.total)}${left}`, reading: "reading the file…", refused: "not taken in" }[job.state];
        return (
          <li key={job.id} role={job.state === "refused" ? "alert" : undefined} className={clsx("flex items-center gap-4 border px-3 py-2", job.state === "refused" ? "border-inverse bg-inverse text-inverse-ink" : "border-line bg-panel")}>
            <span className="w-[220px] shrink-0 truncate font-semibold" title={job.name}>
              {job.state === "refused" && "! "}
              {job.name}
            </span>
            <span className="min-w-0 flex-1">{job.state === "refused" ? job.message : <ProgressBar value={job.state === "reading" ? 1 : share} label={`Upload of ${job.name}`} />}</span>
            <span className="shrink-0">{job.held && job.state === "refused" ? "damaged" : words}</span>
            {job.held && job.state === "refused" && (
              <Button className="border-inverse-ink text-inverse-ink" onClick={() => void uploads.takeWhatIsThere(job.id)}>
                Take what is there
              </Button>
            )}
            <Button className={job.state === "refused" ? "border-inverse-ink text-inverse-ink" : ""} onClick={() => uploads.dismiss(job.id)}>
              {job.state !== "refused" ? "Cancel" : job.held ? "Leave it" : "Close"}
            </Button>
          </li>
        );
      })}
    </ul>
  );
}
