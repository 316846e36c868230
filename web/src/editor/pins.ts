/** The pins that are chosen in the lanes, and those that were copied. */
import { create } from "zustand";

import { say } from "../ui/notices";
import { edit } from "./edits";
import { copyPins, lanesOf, pastePins, putLane, type Copied, type Pin } from "./lanes";
import { bench } from "./store";

/** A box being drawn over lanes: from one frame to another. */
export type Box = { from: number; to: number; targets: string[] };

type Pins = {
  chosen: Pin[];
  copied: Copied;
  box: Box | null;
  /** The lane whose values are drawn as a graph. */
  open: string | null;
};

export const usePins = create<Pins>(() => ({ chosen: [], copied: [], box: null, open: null }));

export const choosePins = (chosen: Pin[]) => usePins.setState({ chosen });

const counted = (n: number) => (n === 1 ? "Keyframe" : `${n} keyframes`);

/** Copy the chosen pins; whether there were any. */
export function copyChosen(): boolean {
  const copied = copyPins(lanesOf(bench().view!.document), usePins.getState().chosen);
  if (!copied.length) return false;
  usePins.setState({ copied });
  say(`${counted(copied.length)} copied.`);
  return true;
}

/** Paste what was copied from the playhead on: into the lanes it came from, or into one lane. Whether there was anything. */
export function pasteHere(into?: string): boolean {
  const { view, frame } = bench();
  const { copied } = usePins.getState();
  if (!copied.length) return false;
  const document = view!.document;
  const to = pastePins(lanesOf(document), copied, frame, into);
  if (!to.pins.length) {
    say("The lanes of the copied keyframes are gone; paste them into a lane from its menu.", { bad: true });
    return true;
  }
  choosePins(to.pins);
  void edit(to.lanes.map((l) => putLane(document, l)), `${counted(to.pins.length)} pasted at frame ${frame}`);
  return true;
}
