import clsx from "clsx";
import { useState } from "react";

import type { EditRow } from "../api/types";
import { editsFor, runsOf, type Run } from "../engine/edits";

export const time = (iso: string) => new Date(iso).toLocaleTimeString([], { hour: "2-digit", minute: "2-digit" });

type Props = {
  edits: EditRow[] | undefined;
  revision: number;
  /** Where the picture of a state is. */
  pictureOf: (revision: number) => string;
  onGo: (edit: EditRow) => void;
};

/** Every edit of a document in words, newest first; any state can be seen under the pointer, and returned to. */
export function EditList({ edits, revision, pictureOf, onGo }: Props) {
  const [words, setWords] = useState("");
  const [seen, setSeen] = useState<number | null>(null);
  const found = editsFor(edits ?? [], words);
  return (
    <>
      <div className="flex items-center justify-between gap-3">
        <h2 className="text-[15px] font-bold">Edits</h2>
        {(edits?.length ?? 0) > 6 && <input type="search" aria-label="Search the edits" placeholder="Search" value={words} onChange={(e) => setWords(e.currentTarget.value)} className="h-[24px] w-[180px] border border-strong bg-transparent px-2" />}
      </div>
      {seen !== null && (
        <div aria-hidden className="pointer-events-none absolute top-3 right-[calc(100%+8px)] w-[260px] border border-strong bg-raised p-1">
          <img src={pictureOf(seen)} alt="" className="aspect-video w-full bg-black object-contain" />
        </div>
      )}
      <ol aria-label="Edits" className="mt-1 min-h-[80px] overflow-auto" onPointerLeave={() => setSeen(null)}>
        {runsOf(found).map((run) => (
          <RunRow key={run.edits[0]!.id} run={run} revision={revision} onGo={onGo} onSee={setSeen} />
        ))}
        {edits && !found.length && <li className="py-1 text-quiet">No edit is told like that.</li>}
      </ol>
    </>
  );
}

type RowProps = { revision: number; onGo: (edit: EditRow) => void; onSee: (revision: number | null) => void };

/** Changes of one value, as one line that can be opened. */
function RunRow({ run, ...rest }: RowProps & { run: Run }) {
  const [newest] = run.edits;
  const within = run.edits.slice(1).some((edit) => edit.id === rest.revision);
  const [open, setOpen] = useState(false);
  const shown = open || within;
  return (
    <>
      <li className="flex items-center">
        <Line edit={newest!} words={shown ? newest!.words : run.words} {...rest} />
        {run.edits.length > 1 && (
          <button type="button" aria-expanded={shown} className="shrink-0 px-1 text-[12px] text-quiet hover:text-ink" title="The steps on the way" onClick={() => setOpen(!shown)}>
            {run.edits.length} {shown ? "▴" : "▾"}
          </button>
        )}
      </li>
      {shown &&
        run.edits.slice(1).map((edit) => (
          <li key={edit.id} className="pl-4">
            <Line edit={edit} words={edit.words} {...rest} />
          </li>
        ))}
    </>
  );
}

function Line({ edit, words, revision, onGo, onSee }: RowProps & { edit: EditRow; words: string }) {
  return (
    <button
      type="button"
      aria-current={edit.id === revision}
      className={clsx("flex w-full min-w-0 items-center gap-2 px-1 py-0.5 text-left hover:bg-inverse hover:text-inverse-ink", edit.id === revision && "font-bold", !edit.current && "text-quiet")}
      title={edit.current ? "Return to this state" : "On another branch: return to this state"}
      onClick={() => onGo(edit)}
      onPointerEnter={() => onSee(edit.id)}
      onFocus={() => onSee(edit.id)}
      onBlur={() => onSee(null)}
    >
      <span className="w-[10px] shrink-0">{edit.id === revision ? "▸" : ""}</span>
      <span className={clsx("min-w-0 flex-1 truncate", !edit.current && "italic")}>{words}</span>
      <span className="shrink-0 text-[12px] opacity-70">{time(edit.created)}</span>
    </button>
  );
}
