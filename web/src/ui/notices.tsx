import { X } from "lucide-react";
import { Toast } from "radix-ui";
import { createContext, useContext } from "react";
import { useStore } from "zustand";
import { createStore, type StoreApi } from "zustand/vanilla";

import { Button, IconButton } from "./basics";

type Action = { name: string; run: () => void };
type Options = { action?: Action; bad?: boolean; seen?: boolean; about?: string };
type Notice = { id: number; text: string; action?: Action; bad: boolean; lasts: boolean; about?: string };

/** What is said below the picture, over the line that is told of it: the newest thing, in place of the one before. Errors stay until closed, the newest first. */
export class Notices {
  readonly state: StoreApi<{ list: Notice[] }> = createStore(() => ({ list: [] as Notice[] }));
  private nextId = 1;

  close(id: number) {
    this.state.setState((s) => ({ list: s.list.filter((n) => n.id !== id) }));
  }

  /** What it is about has been left: what was said of it in passing, or of its picture, goes with it. */
  leave(about: string) {
    this.state.setState((s) => ({ list: s.list.filter((n) => n.lasts || n.about !== about) }));
  }

  /** What is said of one thing. From elsewhere (`here` says no) it is said with its name, without what can be done about it only there. */
  of(about: string, name: () => string, here: () => boolean) {
    return (text: string, options: Options = {}) => (here() ? this.say(text, { ...options, about }) : this.say(`${name()}: ${text}`, { ...options, action: undefined }));
  }

  say = (text: string, options: Options = {}) => {
    const id = this.nextId++;
    const made: Notice = { id, text, action: options.action, bad: !!options.bad, lasts: !!options.bad && !options.seen, about: options.about };
    // Errors with something to be done about them are each their own, whatever their words: two refused edits are two.
    const stays = (n: Notice) => (n.text !== text || (n.bad && !!n.action)) && (n.bad || made.bad);
    this.state.setState(({ list }) => ({ list: [...list.filter(stays), made] }));
  };
}

export const NoticesContext = createContext<Notices | null>(null);

const useNotices = () => {
  const notices = useContext(NoticesContext);
  if (!notices) throw new Error("There is nowhere to say this.");
  return notices;
};

export const useSay = () => useNotices().say;

/** Where notices are shown: one that is mild goes by itself, but not while it is pointed at or has the focus. */
export function NoticeList() {
  const notices = useNotices();
  const list = useStore(notices.state, (s) => s.list);
  const bad = list.filter((n) => n.bad);
  const shown = [...bad.slice(-1), ...list.filter((n) => !n.bad)];
  return (
    <Toast.Provider label="Message" swipeDirection="down">
      {shown.map((n) => (
        <Line key={n.id} notice={n} notices={notices} more={n.bad ? bad.length - 1 : 0} />
      ))}
      <Toast.Viewport label="Messages ({hotkey})" className="pointer-events-none fixed inset-x-0 z-40 flex flex-col items-center gap-2" style={{ bottom: "max(10px, calc(var(--foot, 0px) - 29px))" }} />
    </Toast.Provider>
  );
}

const SHORT = 4_000; // ms
const LONG = 12_000; // where there is something to be done about it

function Line({ notice, notices, more }: { notice: Notice; notices: Notices; more: number }) {
  const { id, text, action, bad } = notice;
  return (
    <Toast.Root
      data-notice={bad ? "bad" : "mild"}
      type={bad ? "foreground" : "background"}
      duration={bad ? Infinity : action ? LONG : SHORT}
      onOpenChange={(open) => open || notices.close(id)}
      className="pointer-events-auto flex max-w-[640px] items-center gap-3 border border-ground bg-inverse px-3 py-2 text-inverse-ink"
    >
      {bad && <span className="font-bold">!</span>}
      <Toast.Description asChild>
        <span>{text}</span>
      </Toast.Description>
      {more > 0 && <span className="shrink-0 opacity-70">and {more} more</span>}
      {action && (
        <Toast.Action asChild altText={action.name}>
          <Button className="border-inverse-ink text-inverse-ink" onClick={action.run}>
            {action.name}
          </Button>
        </Toast.Action>
      )}
      <Toast.Close asChild>
        <IconButton tip="Close" className="text-inverse-ink hover:text-inverse-ink">
          <X size={14} />
        </IconButton>
      </Toast.Close>
    </Toast.Root>
  );
}
