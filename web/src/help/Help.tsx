import { useQuery } from "@tanstack/react-query";
import { Dialog } from "radix-ui";
import { useEffect, useRef, type ReactNode } from "react";
import Markdown from "react-markdown";
import remarkGfm from "remark-gfm";
import { useStore } from "zustand";

import { useApp } from "../panels/app";
import { Button } from "../ui/basics";
import { pictureOf, slug, textOf, within } from "./pages";

/** The pages on which one begins, by how they are called. */
const CONTENTS: [page: string, name: string][] = [["tour", "Tour"], ["how-do-i", "How do I…"], ["footage", "Footage"], ["bench", "Bench"], ["reel", "Reel"], ["sheet", "Sheet"], ["exports", "Exports"], ["treatments", "Treatments"], ["good-to-know", "Good to know"]];

/** The pages of the documentation, over whichever room is open. */
export default function Help() {
  const { dialogs } = useApp();
  const help = useStore(dialogs, (s) => s.help);
  return (
    <Dialog.Root open={help !== null} onOpenChange={() => dialogs.setState({ help: null })}>
      <Dialog.Portal>
        <Dialog.Overlay className="fixed inset-0 z-40 bg-black/60" />
        <Dialog.Content aria-describedby={undefined} className="fixed inset-x-[8%] top-[5%] z-50 flex h-[90%] flex-col border border-strong bg-panel">
          {help && <Page page={help.page} part={help.part} />}
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  );
}

function Page({ page, part }: { page: string; part: string | null }) {
  const { dialogs } = useApp();
  const { data, error } = useQuery({ queryKey: ["help", page], staleTime: Infinity, queryFn: () => textOf(page) });
  const box = useRef<HTMLDivElement>(null);
  const go = (to: { page: string; part: string | null }) => dialogs.setState({ help: to });
  useEffect(() => {
    if (!data || !box.current) return;
    const heading = part && box.current.querySelector(`#help-${CSS.escape(part)}`);
    if (heading) heading.scrollIntoView();
    else box.current.scrollTop = 0;
  }, [data, page, part]);
  return (
    <>
      <div className="flex shrink-0 items-center gap-1 border-b border-line px-4 py-2">
        <Dialog.Title className="mr-3 text-[18px] font-bold">Help</Dialog.Title>
        <nav aria-label="Pages of the help" className="flex min-w-0 flex-1 flex-wrap gap-1">
          {CONTENTS.map(([id, name]) => (
            <Button key={id} look="plain" on={id === page} onClick={() => go({ page: id, part: null })}>
              {name}
            </Button>
          ))}
        </nav>
        <Dialog.Close asChild>
          <Button>Close</Button>
        </Dialog.Close>
      </div>
      <div ref={box} tabIndex={0} role="document" aria-label="Page" className="help min-h-0 flex-1 overflow-auto px-8 py-5">
        {error && <p>{error.message}</p>}
        {data && (
          <Markdown
            remarkPlugins={[remarkGfm]}
            components={{
              h1: ({ children }) => <Heading of="h1" words={children} />,
              h2: ({ children }) => <Heading of="h2" words={children} />,
              h3: ({ children }) => <Heading of="h3" words={children} />,
              img: ({ src, alt }) => <Picture src={String(src)} alt={alt ?? ""} />,
              a: ({ href, children }) => <Way href={href ?? ""} go={go} words={children} />,
            }}
          >
            {data}
          </Markdown>
        )}
      </div>
    </>
  );
}

function Heading({ of: Tag, words }: { of: "h1" | "h2" | "h3"; words: ReactNode }) {
  return <Tag id={`help-${slug([words].flat().map(String).join(""))}`}>{words}</Tag>;
}

function Picture({ src, alt }: { src: string; alt: string }) {
  const { data } = useQuery({ queryKey: ["help-picture", src], staleTime: Infinity, queryFn: async () => (await pictureOf(src)) ?? null });
  return data ? <img src={data} alt={alt} /> : null;
}

/** A link to another page opens it here; what is not in the help is named alone, since nothing is loaded from outside. */
function Way({ href, go, words }: { href: string; go: (to: { page: string; part: string | null }) => void; words: ReactNode }) {
  const to = within(href);
  if (!to) return <span>{words}</span>;
  return (
    <button type="button" className="font-semibold underline" onClick={() => go(to)}>
      {words}
    </button>
  );
}
