import { create } from "zustand";

import { Button, IconButton } from "./basics";
import { X } from "lucide-react";

type Notice = { id: number; text: string; action?: { name: string; run: () => void }; bad: boolean };

export const useNotices = create<{ list: Notice[] }>(() => ({ list: [] }));
let nextId = 1;

function close(id: number) {
  useNotices.setState((s) => ({ list: s.list.filter((n) => n.id !== id) }));
}

/** Say something at the bottom of the window; errors stay until closed. */
export function say(text: string, options: { action?: Notice["action"]; bad?: boolean } = {}) {
  const id = nextId++;
  useNotices.setState((s) => ({ list: [...s.list.filter((n) => n.text !== text).slice(-2), { id, text, action: options.action, bad: !!options.bad }] }));
  if (!options.bad) window.setTimeout(() => close(id), options.action ? 12_000 : 4_000);
}

export function Notices() {
  const list = useNotices((s) => s.list);
  return (
    <div className="pointer-events-none fixed inset-x-0 bottom-4 z-40 flex flex-col items-center gap-2" aria-live="polite">
      {list.map((n) => (
        <div key={n.id} role={n.bad ? "alert" : "status"} className="pointer-events-auto flex max-w-[640px] items-center gap-3 border border-ground bg-inverse px-3 py-2 text-inverse-ink">
          {n.bad && <span className="font-bold">!</span>}
          <span>{n.text}</span>
          {n.action && (
            <Button className="border-inverse-ink text-inverse-ink" onClick={() => (n.action!.run(), close(n.id))}>
              {n.action.name}
            </Button>
          )}
          <IconButton tip="Close" className="text-inverse-ink hover:text-inverse-ink" onClick={() => close(n.id)}>
            <X size={14} />
          </IconButton>
        </div>
      ))}
    </div>
  );
}
