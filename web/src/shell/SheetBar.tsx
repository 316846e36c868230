import { useQueryClient } from "@tanstack/react-query";
import { useParams } from "react-router";
import { useStore } from "zustand";

import type { Sheet } from "../engine/sheet/sheet";
import { takeBack } from "../rooms/sheet/carry";
import { Button } from "../ui/basics";
import { useSay } from "../ui/notices";

/** What is done with the sheet as a whole. */
export function SheetActions({ sheet }: { sheet: Sheet }) {
  const { projectId } = useParams();
  const queries = useQueryClient();
  const say = useSay();
  const carried = useStore(sheet.state, (s) => s.carried);
  const saving = useStore(sheet.state, (s) => s.saving);
  const mode = useStore(sheet.state, (s) => s.mode);
  return (
    <>
      <Button disabled={!carried} title={carried ? `Take “${carried.name}” back on all shots it was put on` : "Nothing was put on from here yet"} onClick={() => void takeBack(sheet, projectId!, say, queries)}>
        Undo all
      </Button>
      <Button disabled={saving !== null} title={mode === "variants" ? "All variants, with names" : "All rows, or those that are chosen, with names"} onClick={() => sheet.put({ saving: "asked" })}>
        {typeof saving === "number" ? `Saving… ${Math.round(saving * 100)} %` : "Save the sheet as a picture"}
      </Button>
    </>
  );
}
