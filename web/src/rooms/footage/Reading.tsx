import { useQuery } from "@tanstack/react-query";
import { useRef } from "react";

import { ask, client } from "../../api/client";
import { bringFile } from "../../api/files";
import { footage } from "../../api/footage";
import type { Footage as Piece } from "../../api/types";
import { useDoing } from "../../panels/doing";
import { Button } from "../../ui/basics";
import { FileInput } from "../../ui/fileinput";
import { Menu } from "../../ui/menu";

type Way = NonNullable<Piece["reading"]["way"]>;
const WAYS: { way: Way; name: string }[] = [
  { way: "by itself", name: "As it is tagged" },
  { way: "as it is", name: "As it is, unmapped" },
  { way: "hlg", name: "As HLG, tone-mapped" },
  { way: "pq", name: "As PQ, tone-mapped" },
];

/** How the signal of the chosen footage is read: chosen once for all of them, and taken back in one step. */
export function Reading({ pieces }: { pieces: Piece[] }) {
  const { project, say, carryOut } = useDoing();
  const input = useRef<HTMLInputElement>(null);
  const { data: files } = useQuery({ queryKey: ["files"], queryFn: () => ask(client.GET("/api/files")) });
  const set = (readings: Record<string, Piece["reading"]>) => carryOut(footage.read(project, readings), "everything");
  const choose = async (way: Way, lut: string | null, name: string) => {
    const before = Object.fromEntries(pieces.map((p) => [p.id, p.reading]));
    const read = await set(Object.fromEntries(pieces.map((p) => [p.id, { way, lut }])));
    if (read) say(`${pieces.length === 1 ? `“${pieces[0]!.name}” is` : `${pieces.length} files are`} read: ${name}.`, { action: { name: "Undo", run: () => void set(before) } });
  };
  const bring = async (file: File) => {
    const brought = await carryOut(bringFile(file), "files");
    if (brought) await choose("lut", brought.digest, `through “${file.name}”`);
  };
  return (
    <>
      <Menu
        trigger={<Button>{pieces.length === 1 ? "Read it ▾" : `Read ${pieces.length} files ▾`}</Button>}
        items={[
          ...WAYS.map((w) => ({ name: w.name, checked: pieces.every((p) => p.reading.way === w.way), onSelect: () => void choose(w.way, null, w.name.toLowerCase()) })),
          "line",
          ...(files ?? []).filter((f) => f.kind === "lut").map((f) => ({ name: `Through the LUT “${f.name}”`, checked: pieces.every((p) => p.reading.way === "lut" && p.reading.lut === f.digest), onSelect: () => void choose("lut", f.digest, `through “${f.name}”`) })),
          { name: "Through a LUT of yours…", onSelect: () => input.current?.click() },
        ]}
      />
      <FileInput ref={input} label="LUT for reading" accept=".cube" onFile={(file) => void bring(file)} />
    </>
  );
}
