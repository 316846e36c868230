import { Dialog } from "radix-ui";
import { create } from "zustand";
import { useState } from "react";

import { Button } from "./basics";

type Question = { title: string; label: string; value: string; save?: string; done: (value: string) => void };

export const usePrompt = create<{ question: Question | null }>(() => ({ question: null }));

/** Ask for a name. */
export function askName(title: string, value: string, done: (value: string) => void) {
  askFor({ title, label: "Name", value, done });
}

/** Ask for a short text. */
export function askFor(question: Question) {
  usePrompt.setState({ question });
}

export function Prompt() {
  const question = usePrompt((s) => s.question);
  const close = () => usePrompt.setState({ question: null });
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
  return (
    <form
      onSubmit={(e) => {
        e.preventDefault();
        if (!name) return;
        question.done(name);
        close();
      }}
    >
      <Dialog.Title className="text-[15px] font-bold">{question.title}</Dialog.Title>
      <input
        autoFocus
        aria-label={question.label}
        maxLength={80}
        value={value}
        onFocus={(e) => e.currentTarget.select()}
        onChange={(e) => setValue(e.currentTarget.value)}
        className="mt-3 h-[30px] w-full border border-strong bg-ground px-2"
      />
      <div className="mt-4 flex justify-end gap-2">
        <Button onClick={close}>Cancel</Button>
        <Button look="solid" type="submit" disabled={!name}>
          {question.save ?? "Save"}
        </Button>
      </div>
    </form>
  );
}
