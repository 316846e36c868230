import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useRef, useState } from "react";
import { useParams } from "react-router";

import { ask, client } from "../../api/client";
import { bringFile, bringStill, type Brought } from "../../api/files";
import { useStills } from "../../api/queries";
import type { ParamInfo } from "../../api/types";
import { Button } from "../../ui/basics";
import { FileInput } from "../../ui/fileinput";
import { useSay } from "../../ui/notices";
import { StillOptions, stillOf } from "../StillOptions";

const ENDINGS: Record<string, string> = { lut: ".cube", picture: ".png,.jpg,.jpeg,.tif,.tiff,.webp" };

/** A file of a pass: one that is here already, or a new one. */
export function FileRow({ info, value, onCommit }: { info: ParamInfo; value: string; onCommit: (digest: string, name: string) => void }) {
  const queryClient = useQueryClient();
  const say = useSay();
  const { data } = useQuery({ queryKey: ["files"], queryFn: () => ask(client.GET("/api/files")) });
  const input = useRef<HTMLInputElement>(null);
  const [busy, setBusy] = useState(false);
  const mine = (data ?? []).filter((f) => f.kind === info.accepts);
  const { projectId } = useParams();
  const every = useStills(projectId);
  const stills = info.accepts === "picture" ? every : [];
  const take = async (brought: Promise<Brought>) => {
    setBusy(true);
    try {
      const answer = await brought;
      await queryClient.invalidateQueries({ queryKey: ["files"] });
      onCommit(answer.digest, answer.name);
    } catch (error) {
      say(error instanceof Error ? error.message : "The file was not taken.", { bad: true });
    } finally {
      setBusy(false);
    }
  };
  return (
    <div className="py-1" title={info.help}>
      <div className="flex items-center gap-2">
        <label className="flex min-w-0 flex-1 items-center gap-2">
          {info.name}
          <select
            aria-label={info.name}
            value={value}
            onChange={({ currentTarget: { value: to } }) => {
              const still = stillOf(stills, to);
              if (still) void take(bringStill(still.id));
              else onCommit(to, mine.find((f) => f.digest === to)?.name ?? "none");
            }}
            className="h-[26px] min-w-0 flex-1 border border-strong bg-ground px-1"
          >
            <option value="">none yet</option>
            {mine.map((f) => (
              <option key={f.digest} value={f.digest}>
                {f.name}
              </option>
            ))}
            <StillOptions stills={stills} />
            {value && !mine.some((f) => f.digest === value) && <option value={value}>missing on this machine</option>}
          </select>
        </label>
        <Button disabled={busy} onClick={() => input.current?.click()}>
          {busy ? "Taking in…" : "Bring in…"}
        </Button>
      </div>
      {!value && <p className="mt-1 text-[12px] text-quiet">{info.accepts === "lut" ? "Choose a .cube file; until then the picture stays as it is." : "Choose a picture; until then nothing is laid over."}</p>}
      <FileInput ref={input} label={`${info.name} file`} accept={ENDINGS[info.accepts ?? ""] ?? ""} onFile={(found) => void take(bringFile(found))} />
    </div>
  );
}
