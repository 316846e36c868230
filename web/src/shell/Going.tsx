import { Popover } from "radix-ui";
import { Link, useParams } from "react-router";
import { useStore } from "zustand";

import { exporting } from "../api/exports";
import { useExports } from "../api/queries";
import { useApp } from "../panels/app";
import { useDo } from "../panels/doing";
import { Button, ProgressBar } from "../ui/basics";
import { duration } from "../ui/words";

type Row = { key: string; name: string; told: string; share: number | null; cancel: (() => void) | null };

/** All that goes on in the background, in one place: files coming in, tracks, objects, checks, exports; each can be given up. */
export function Going() {
  const rows = useGoing();
  const { projectId } = useParams();
  if (!rows.length) return null;
  return (
    <Popover.Root>
      <Popover.Trigger asChild>
        <Button look="plain" className="shrink-0 tabular-nums" title="What goes on in the background">
          {rows.length} at work ▾
        </Button>
      </Popover.Trigger>
      <Popover.Portal>
        <Popover.Content align="end" sideOffset={4} collisionPadding={8} aria-label="At work" className="z-50 w-[360px] border border-strong bg-raised p-3">
          <h2 className="text-[15px] font-bold">At work</h2>
          <ul aria-label="What goes on" className="mt-1">
            {rows.map((row) => (
              <li key={row.key} className="border-t border-line py-1.5">
                <div className="flex items-center gap-2">
                  <span className="min-w-0 flex-1 truncate font-semibold" title={row.name}>
                    {row.name}
                  </span>
                  <span className="shrink-0 text-[12px] text-quiet tabular-nums">{row.told}</span>
                  {row.cancel && (
                    <Button className="h-[22px]" aria-label={`Cancel ${row.name}`} onClick={row.cancel}>
                      Cancel
                    </Button>
                  )}
                </div>
                {row.share !== null && <ProgressBar value={row.share} label={row.name} />}
              </li>
            ))}
          </ul>
          <p className="mt-1 text-[12px] text-quiet">
            All of it gives way to what you do.{" "}
            <Popover.Close asChild>
              <Link className="underline" to={`/projects/${projectId}/exports`}>
                See exports
              </Link>
            </Popover.Close>
          </p>
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  );
}

function useGoing(): Row[] {
  const { projectId } = useParams();
  const carryOut = useDo();
  const { uploads, background } = useApp();
  const { data } = useExports(projectId);
  const jobs = useStore(uploads.state, (s) => s.jobs);
  const tasks = useStore(background.state, (s) => s.tasks);
  const cancel = (id: string) => void carryOut(exporting.act(id, "cancel"), "exports");
  return [
    ...jobs.filter((job) => job.state !== "refused").map((job): Row => ({ key: `upload ${job.id}`, name: job.name, told: job.state === "sending" ? `${Math.round((job.sent / Math.max(job.total, 1)) * 100)} %` : job.state, share: job.sent / Math.max(job.total, 1), cancel: () => uploads.dismiss(job.id) })),
    ...tasks.map((task): Row => ({ key: `task ${task.id}`, name: task.name, told: task.total ? `${task.done} of ${task.total}` : "", share: task.total ? task.done / task.total : null, cancel: task.stop })),
    ...(data ?? [])
      .filter((e) => e.state === "running" || e.state === "waiting")
      .map((e): Row => ({ key: `export ${e.id}`, name: `Export ${e.name}`, told: e.state === "waiting" ? "waiting" : `${e.done} of ${e.total}${e.seconds_left ? `, ${duration(e.seconds_left)} left` : ""}`, share: e.total ? e.done / e.total : null, cancel: () => cancel(e.id) })),
  ];
}
