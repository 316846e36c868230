import { takeBack } from "./carry";
import { useDoing } from "../../panels/doing";
import { InBar } from "../../ui/bar";
import { Button } from "../../ui/basics";
import { useSheetRoom, useSheetState } from "./context";

/** What the sheet has in the top bar: what is done with it as a whole. */
export function SheetBar() {
  const { sheet } = useSheetRoom();
  const doing = useDoing();
  const carried = useSheetState((s) => s.carried);
  const saving = useSheetState((s) => s.saving);
  const mode = useSheetState((s) => s.mode);
  return (
    <InBar slot="actions">
      <Button disabled={!carried} title={carried ? `Take “${carried.name}” back on all shots it was put on` : "Nothing was put on from here yet"} onClick={() => void takeBack(sheet, doing)}>
        Undo all
      </Button>
      <Button disabled={saving !== null} title={mode === "variants" ? "All variants, with names" : "All rows, or those that are chosen, with names"} onClick={() => sheet.put({ saving: "asked" })}>
        {typeof saving === "number" ? `Saving… ${Math.round(saving * 100)} %` : "Save the sheet as a picture"}
      </Button>
    </InBar>
  );
}
