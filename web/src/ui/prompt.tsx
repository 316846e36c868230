import { Dialog } from "radix-ui";
import { createContext, useContext, useState } from "react";
import { useStore } from "zustand";
import { createStore, type StoreApi } from "zustand/vanilla";

import { Button } from "./basics";

type Question = {
  title: string;
  label: string;
  value: string;
  save?: string;
  /** Several lines. */
  lines?: boolean;
  help?: string;
  /** What is wrong with what was typed, if anything. */
  check?: (value: string) => string | null;
  done: (value: string) => void;
};

export class Prompts {
  readonly state: StoreApi<{ question: Question | null }> = createStore(() => ({ question: null as Question | null }));

  /** Ask for a short text. */
  ask = (question: Question) => this.state.setState({ question });

  /** Ask for a name. */
  askName = (title: string, value: string, done: (value: string) => void) => this.ask({ title, label: "Name", value, done });
}

export const PromptsContext = createContext<Prompts | null>(null);

const usePrompts = () => {
  const prompts = useContext(PromptsContext);
  if (!prompts) throw new Error("There is nowhere to ask this.");
  return prompts;
};

export const useAskFor = () => usePrompts().ask;
export const useAskName = () => usePrompts().askName;

export function Prompt() {
  const prompts = usePrompts();
  const question = useStore(prompts.state, (s) => s.question);
  const close = () => prompts.state.setState({ question: null });
  return (
    <Dialog.Root open={question !== null} onOpenChange={(open) => !open && close()}>
      <Dialog.Portal>
        <Dialog.Overlay className="fixed inset-0 z-40 bg-black/60" />
        <Dialog.Content aria-describedby={undefined} className="fixed top-1/3 left-1/2 z-50 w-[340px] -translate-x-1/2 border border-strong bg-panel p-4">
          {question && <Form question={question} close={close} />}
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  );
}

function Form({ question, close }: { question: Question; close: () => void }) {
  const [value, setValue] = useState(question.value);
  const name = value.trim();
  const wrong = name ? (question.check?.(name) ?? null) : null;
  return (
    <form
      onSubmit={(e) => {
        e.preventDefault();
        if (!name || wrong) return;
        question.done(name);
        close();
      }}
    >
      <Dialog.Title className="text-[15px] font-bold">{question.title}</Dialog.Title>
      {question.help && <p className="mt-1 text-quiet">{question.help}</p>}
      {question.lines ? (
        <textarea
          autoFocus
          aria-label={question.label}
          spellCheck={false}
          rows={Math.min(Math.max(value.split("\n").length + 1, 5), 14)}
          value={value}
          onFocus={(e) => e.currentTarget.select()}
          onChange={(e) => setValue(e.currentTarget.value)}
          onKeyDown={(e) => e.key === "Enter" && (e.ctrlKey || e.metaKey) && e.currentTarget.form?.requestSubmit()}
          className="mt-3 w-full resize-y border border-strong bg-ground px-2 py-1 tabular-nums"
        />
      ) : (
        <input
          autoFocus
          aria-label={question.label}
          maxLength={80}
          value={value}
          onFocus={(e) => e.currentTarget.select()}
          onChange={(e) => setValue(e.currentTarget.value)}
          className="mt-3 h-[30px] w-full border border-strong bg-ground px-2"
        />
      )}
      {wrong && (
        <p role="alert" className="mt-1">
          <b>!</b> {wrong}
        </p>
      )}
      <div className="mt-4 flex justify-end gap-2">
        <Button onClick={close}>Cancel</Button>
        <Button look="solid" type="submit" disabled={!name || wrong !== null}>
          {question.save ?? "Save"}
        </Button>
      </div>
    </form>
  );
}
