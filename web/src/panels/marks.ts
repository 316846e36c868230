/** The marks of the shot on the Bench: those that are told of, and those whose check is silenced. */
import { useMemo } from "react";
import { useStore } from "zustand";

import type { MarkView } from "../api/types";
import { isSilent, type Silences } from "../engine/silenced";
import { useApp } from "./app";
import { useChoice, useShown, useView } from "./engine";

export const useSilences = (): Silences => useStore(useApp().silenced.state);

const NONE: MarkView[] = [];

export function useMarksHere(): { heard: MarkView[]; silent: MarkView[] } {
  const marks = useChoice((s) => s.checked)?.marks ?? NONE;
  const silences = useSilences();
  const { shot } = useView();
  const inLook = useShown((d) => d.look.silenced);
  return useMemo(() => {
    const silent = marks.filter((mark) => isSilent(silences, mark.check, shot.id) || inLook?.includes(mark.check));
    return { heard: marks.filter((mark) => !silent.includes(mark)), silent };
  }, [marks, silences, shot.id, inLook]);
}
