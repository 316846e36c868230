import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useRef } from "react";
import { useParams } from "react-router";

import { ask, client } from "../../api/client";
import type { Footage as Piece } from "../../api/types";
import { Button } from "../../ui/basics";
import { FileInput } from "../../ui/fileinput";
import { Menu } from "../../ui/menu";
import { useSay } from "../../ui/notices";

type Way = NonNullable<Piece["reading"]["way"]>;
const WAYS: { way: Way; name: string }[] = [
  { way: "by itself", name: "As it is tagged" },
  { way: "as it is", name: "As it is, unmapped" },
  { way: "hlg", name: "As HLG, tone-mapped" },
  { way: "pq", name: "As PQ, tone-mapped" },
];

/** How the signal of the chosen footage is read: chosen once for all of them, and taken back in one step. */
export function Reading({ pieces }: { pieces: Piece[] }) {
  const { projectId } = useParams();
  const queries = useQueryClient();
  const say = useSay();
  const input = useRef<HTMLInputElement>(null);
  const { data: files } = useQuery({ queryKey: ["files"], queryFn: () => ask(client.GET("/api/files")) });
  const set = async (readings: Record<string, Piece["reading"]>) => {
    await ask(client.PUT("/api/projects/{project_id}/readings", { params: { path: { project_id: projectId! } }, body: { readings } }));
    await queries.invalidateQueries();
  };
  const choose = (way: Way, lut: string | null, name: string) => {
    const before = Object.fromEntries(pieces.map((p) => [p.id, p.reading]));
    const fail = (error: Error) => say(error.message, { bad: true });
    set(Object.fromEntries(pieces.map((p) => [p.id, { way, lut }]))).then(() => say(`${pieces.length === 1 ? `“${pieces[0]!.name}” is` : `${pieces.length} files are`} read: ${name}.`, { action: { name: "Undo", run: () => void set(before).catch(fail) } }), fail);
  };
  const bring = async (file: File) => {
    const answer = await fetch(`/api/files?name=${encodeURIComponent(file.name)}`, { method: "POST", body: file });
    const told = (await answer.json()) as { digest?: string; message?: string };
    if (!answer.ok || !told.digest) return say(told.message ?? "The LUT was not taken in.", { bad: true });
    await queries.invalidateQueries({ queryKey: ["files"] });
    choose("lut", told.digest, `through “${file.name}”`);
  };
  return (
    <>
      <Menu
        trigger={<Button>{pieces.length === 1 ? "Read it ▾" : `Read ${pieces.length} files ▾`}</Button>}
        items={[
          ...WAYS.map((w) => ({ name: w.name, checked: pieces.every((p) => p.reading.way === w.way), onSelect: () => choose(w.way, null, w.name.toLowerCase()) })),
          "line",
          ...(files ?? []).filter((f) => f.kind === "lut").map((f) => ({ name: `Through the LUT “${f.name}”`, checked: pieces.every((p) => p.reading.way === "lut" && p.reading.lut === f.digest), onSelect: () => choose("lut", f.digest, `through “${f.name}”`) })),
          { name: "Through a LUT of yours…", onSelect: () => input.current?.click() },
        ]}
      />
      <FileInput ref={input} label="LUT for reading" accept=".cube" onFile={(file) => void bring(file)} />
    </>
  );
}
