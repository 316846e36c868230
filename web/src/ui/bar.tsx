import { createContext, useContext, useState, type ReactNode } from "react";
import { createPortal } from "react-dom";

/** The places of the top bar that a room fills: what is open, and what is done with it as a whole. */
type Slot = "title" | "actions";
type Slots = Record<Slot, HTMLElement | null> & { put: (slot: Slot) => (element: HTMLElement | null) => void };

const SlotsContext = createContext<Slots | null>(null);

/** Around the bar and the rooms below it. */
export function BarSlots({ children }: { children: ReactNode }) {
  const [title, setTitle] = useState<HTMLElement | null>(null);
  const [actions, setActions] = useState<HTMLElement | null>(null);
  const put = (slot: Slot) => (slot === "title" ? setTitle : setActions);
  return <SlotsContext value={{ title, actions, put }}>{children}</SlotsContext>;
}

function useSlots(): Slots {
  const slots = useContext(SlotsContext);
  if (!slots) throw new Error("There is no bar around this.");
  return slots;
}

/** Where in the bar a slot is. */
export function BarSlot({ of, className }: { of: Slot; className?: string }) {
  return <div ref={useSlots().put(of)} className={className} />;
}

/** Shown in the bar, in place of where it stands. */
export function InBar({ slot, children }: { slot: Slot; children: ReactNode }) {
  const element = useSlots()[slot];
  return element && createPortal(children, element);
}
