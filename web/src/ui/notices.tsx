import { X } from "lucide-react";
import { createContext, useContext } from "react";
import { useStore } from "zustand";
import { createStore, type StoreApi } from "zustand/vanilla";

import { Button, IconButton } from "./basics";

type Action = { name: string; run: () => void };
type Notice = { id: number; text: string; action?: Action; bad: boolean };

const MOST = 3; // that are shown beside errors, which are never pushed out

/** What is said at the bottom of the window; errors stay until closed. */
export class Notices {
  readonly state: StoreApi<{ list: Notice[] }> = createStore(() => ({ list: [] as Notice[] }));
  private nextId = 1;

  close(id: number) {
    this.state.setState((s) => ({ list: s.list.filter((n) => n.id !== id) }));
  }

  say = (text: string, options: { action?: Action; bad?: boolean } = {}) => {
    const id = this.nextId++;
    const made: Notice = { id, text, action: options.action, bad: !!options.bad };
    this.state.setState(({ list }) => {
      const kept = list.filter((n) => n.text !== text);
      const mild = kept.filter((n) => !n.bad).slice(made.bad ? -MOST : 1 - MOST);
      return { list: [...kept.filter((n) => n.bad || mild.includes(n)), made] };
    });
    if (!options.bad) window.setTimeout(() => this.close(id), options.action ? 12_000 : 4_000);
  };
}

export const NoticesContext = createContext<Notices | null>(null);

const useNotices = () => {
  const notices = useContext(NoticesContext);
  if (!notices) throw new Error("There is nowhere to say this.");
  return notices;
};

export const useSay = () => useNotices().say;

export function NoticeList() {
  const notices = useNotices();
  const list = useStore(notices.state, (s) => s.list);
  // One live region for what is mild; errors are alerts of their own, beside it.
  return (
    <div className="pointer-events-none fixed inset-x-0 bottom-4 z-40 flex flex-col items-center gap-2">
      {list.filter((n) => n.bad).map((n) => (
        <div key={n.id} role="alert">
          <Line notice={n} notices={notices} />
        </div>
      ))}
      <div role="status" className="flex flex-col items-center gap-2">
        {list.filter((n) => !n.bad).map((n) => (
          <Line key={n.id} notice={n} notices={notices} />
        ))}
      </div>
    </div>
  );
}

function Line({ notice, notices }: { notice: Notice; notices: Notices }) {
  const { id, text, action, bad } = notice;
  const close = () => notices.close(id);
  return (
    <div data-notice className="pointer-events-auto flex max-w-[640px] items-center gap-3 border border-ground bg-inverse px-3 py-2 text-inverse-ink">
      {bad && <span className="font-bold">!</span>}
      <span>{text}</span>
      {action && (
        <Button className="border-inverse-ink text-inverse-ink" onClick={() => (close(), action.run())}>
          {action.name}
        </Button>
      )}
      <IconButton tip="Close" className="text-inverse-ink hover:text-inverse-ink" onClick={close}>
        <X size={14} />
      </IconButton>
    </div>
  );
}
