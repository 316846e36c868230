/** A sound when an export is done, where it is asked for. No React. */
import { createStore, type StoreApi } from "zustand/vanilla";

export type Bell = { sound: boolean; setSound: (on: boolean) => void };
const KEPT = "wenditas-sound-when-done";

export const newBell = (kept: Pick<Storage, "getItem" | "setItem">): StoreApi<Bell> =>
  createStore((set) => ({
    sound: kept.getItem(KEPT) === "yes",
    setSound: (sound) => {
      kept.setItem(KEPT, sound ? "yes" : "no");
      set({ sound });
      if (sound) ring();
    },
  }));

/** Two soft tones, made here. A window that was never touched may not sound: then nothing is heard. */
export function ring() {
  const context = new AudioContext();
  for (const [at, pitch] of [[0, 660], [0.16, 880]] as const) {
    const tone = new OscillatorNode(context, { frequency: pitch });
    const gain = new GainNode(context, { gain: 0 });
    const begin = context.currentTime + at;
    gain.gain.setValueAtTime(0, begin);
    gain.gain.linearRampToValueAtTime(0.12, begin + 0.02);
    gain.gain.exponentialRampToValueAtTime(0.001, begin + 0.4);
    tone.connect(gain).connect(context.destination);
    tone.start(begin);
    tone.stop(begin + 0.45);
  }
  setTimeout(() => void context.close(), 1000);
}

/** Which of the exports have come to an end since they were looked at last. */
export function ended(before: Map<string, string>, now: { id: string; state: string }[]): { id: string; state: string }[] {
  return now.filter((e) => (e.state === "done" || e.state === "failed") && ["waiting", "running"].includes(before.get(e.id) ?? ""));
}
