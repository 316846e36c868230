/** The sheet, saved as a picture when that is asked for. */
import { useEffect, useRef } from "react";

import { useSay } from "../../ui/notices";
import { useSheetRoom, useSheetState } from "./context";
import { sheetPicture, type Printed } from "./save";

/** Draws what `printed` makes as it stands when it is asked for, and hands it over under a name. */
export function usePrinting(name: string, printed: () => Printed) {
  const { sheet } = useSheetRoom();
  const say = useSay();
  const saving = useSheetState((s) => s.saving);
  const latest = useRef({ name, printed });
  latest.current = { name, printed };
  useEffect(() => {
    if (saving !== "asked") return;
    sheet.put({ saving: 0 });
    sheetPicture(latest.current.printed(), (done, of) => sheet.put({ saving: done / of }))
      .then(
        (blob) => {
          const link = document.createElement("a");
          link.href = URL.createObjectURL(blob);
          link.download = `${latest.current.name}.png`;
          link.click();
          setTimeout(() => URL.revokeObjectURL(link.href), 10_000);
          say("The sheet is saved as a picture.");
        },
        (error: Error) => say(error.message, { bad: true }),
      )
      .finally(() => sheet.put({ saving: null }));
  }, [saving, sheet, say]);
}
