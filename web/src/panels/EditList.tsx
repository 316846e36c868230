import clsx from "clsx";

import type { EditRow } from "../api/types";

export const time = (iso: string) => new Date(iso).toLocaleTimeString([], { hour: "2-digit", minute: "2-digit" });

/** Every edit of a document in words, newest first; any state can be returned to. */
export function EditList({ edits, revision, onGo }: { edits: EditRow[] | undefined; revision: number; onGo: (edit: EditRow) => void }) {
  return (
    <>
      <h2 className="text-[15px] font-bold">Edits</h2>
      <ol aria-label="Edits" className="mt-1 min-h-[80px] overflow-auto">
        {edits?.map((edit) => (
          <li key={edit.id}>
            <button
              type="button"
              aria-current={edit.id === revision}
              className={clsx("flex w-full items-center gap-2 px-1 py-0.5 text-left hover:bg-inverse hover:text-inverse-ink", edit.id === revision && "font-bold", !edit.current && "text-quiet")}
              title={edit.current ? "Return to this state" : "On another branch: return to this state"}
              onClick={() => onGo(edit)}
            >
              <span className="w-[10px] shrink-0">{edit.id === revision ? "▸" : ""}</span>
              <span className={clsx("min-w-0 flex-1 truncate", !edit.current && "italic")}>{edit.words}</span>
              <span className="shrink-0 text-[12px] opacity-70">{time(edit.created)}</span>
            </button>
          </li>
        ))}
      </ol>
    </>
  );
}
