import { HelpButton } from "../../panels/HelpButton";
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { Dialog } from "radix-ui";
import { useRef, useState } from "react";

import { ask, client } from "../../api/client";
import { useCatalogue } from "../../api/queries";
import { Button, Segments } from "../../ui/basics";
import { FileInput } from "../../ui/fileinput";
import { Menu } from "../../ui/menu";
import type { Schemas } from "../../api/types";
import { walk } from "../../panels/AddPass";
import { type Palette, takePalette } from "../../engine/palettes";
import { putOn, saveOnShelf, type Where } from "../../engine/pocket";
import { useApp, useDialog } from "../../panels/app";
import { useChoice, useDocument, useEngine, useSettledFrame, useView } from "../../panels/engine";
import { useSay } from "../../ui/notices";
import { useAskName } from "../../ui/prompt";
import { passesOf, selectionsOf } from "../../engine/scene";

type Item = { id: string; name: string; words: string; tags?: string[]; asks?: string | null; mine?: boolean };

const WHERE: { value: Where; name: string; tip: string }[] = [
  { value: "instead", name: "Instead", tip: "The look takes the place of the passes that are there" },
  { value: "after", name: "After", tip: "The look's passes come after those that are there" },
  { value: "before", name: "Before", tip: "The look's passes come before those that are there" },
];

/** Finished looks to begin with, and saved ones, each as it would look on this frame. */
export function Shelf() {
  const { dialogs } = useApp();
  const open = useDialog("shelf");
  const close = () => dialogs.setState({ shelf: false });
  return (
    <Dialog.Root open={open} onOpenChange={(shelf) => dialogs.setState({ shelf })}>
      <Dialog.Portal>
        <Dialog.Overlay className="fixed inset-0 z-40 bg-black/60" />
        <Dialog.Content aria-describedby={undefined} className="fixed top-[36px] left-1/2 z-50 flex max-h-[calc(100vh-72px)] w-[1000px] max-w-[calc(100vw-40px)] -translate-x-1/2 flex-col border border-strong bg-panel">
          <Content close={close} />
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  );
}

function Content({ close }: { close: () => void }) {
  const askName = useAskName();
  const engine = useEngine();
  const [search, setSearch] = useState("");
  const [where, setWhere] = useState<Where>("instead");
  const { data } = useCatalogue();
  const { data: saved } = useQuery({ queryKey: ["shelf"], queryFn: () => ask(client.GET("/api/shelf")) });
  const document = useDocument();
  const selections = selectionsOf(document);
  const selectionId = useChoice((s) => s.selectionId);
  const chosen = selections.find((s) => s.id === selectionId);
  const { data: kept } = useQuery({ queryKey: ["palettes"], queryFn: () => ask(client.GET("/api/palettes")) });
  const palettes = (kept ?? []).filter((p) => p.name.toLowerCase().includes(search.toLowerCase()));
  const put = (palette: Palette) => {
    close();
    void takePalette(engine, data?.treatments ?? [], palette);
  };
  const matches = (i: Item) => `${i.name} ${i.words} ${(i.tags ?? []).join(" ")} ${i.asks ?? ""}`.toLowerCase().includes(search.toLowerCase());
  const mine = (saved ?? []).map((s): Item => ({ ...s, words: s.words || (s.kind === "pass" ? "A saved pass; it is added to the look." : "A saved look."), mine: true })).filter(matches);
  const starters = (data?.starters ?? []).filter(matches);
  const take = (item: Item) => {
    close();
    void putOn(engine, item.id, item.name, where);
  };
  const first = search.trim() ? (mine[0] ?? starters[0]) : undefined; // what Enter takes, once something is looked for
  const save = () => askName("Save this look on the shelf", "My look", (name) => void saveOnShelf(engine, name, "", null));
  return (
    <div className="flex min-h-0 flex-1 flex-col" onKeyDown={(e) => walk(e, 5)}>
      <div className="flex items-center gap-3 border-b border-line px-4 py-3">
        <span className="flex items-baseline gap-0.5">
        <Dialog.Title className="text-[18px] font-bold">Shelf</Dialog.Title>
        <HelpButton of="Shelf" page="bench" part="shelf" />
      </span>
        <span className="min-w-0 flex-1 truncate text-quiet">{chosen ? `Looks that need a pick use “${chosen.name}”.` : "Looks that need a pick will ask for it."}</span>
        {passesOf(document).length > 0 && <Segments boxed label="Where the look goes" value={where} onChange={setWhere} options={WHERE} />}
        <input autoFocus aria-label="Search the shelf" placeholder="Search" value={search} onChange={(e) => setSearch(e.currentTarget.value)} onKeyDown={(e) => e.key === "Enter" && first && (e.preventDefault(), take(first))} className="h-[28px] w-[180px] border border-strong bg-ground px-2" />
        <Button disabled={!passesOf(document).length} onClick={save}>
          Save this look…
        </Button>
        <ShelfFile />
        <Button onClick={close}>Close</Button>
      </div>
      <div className="min-h-0 overflow-auto px-4 pb-4">
        {mine.length > 0 && <Group title="Saved" items={mine} take={take} where={where} />}
        {palettes.length > 0 && (
          <section aria-label="Palettes">
            <h3 className="pt-3 pb-1.5 text-[12px] font-semibold text-quiet">Palettes</h3>
            <div className="grid grid-cols-5 gap-3">
              {palettes.map((p) => (
                <button key={p.id} type="button" data-cell title="Into the chosen pass where it takes a palette, else into a new gradient map" className="min-w-0 border border-transparent text-left hover:border-ink focus-visible:border-ink" onClick={() => put({ name: p.name, colours: p.colours })}>
                  <span className="flex h-[24px]">
                    {p.colours.map((c, n) => (
                      <span key={n} className="flex-1" style={{ background: c }} />
                    ))}
                  </span>
                  <b className="block truncate">{p.name}</b>
                </button>
              ))}
            </div>
          </section>
        )}
        {starters.length > 0 && <Group title="To begin with" items={starters} take={take} where={where} />}
        {!mine.length && !starters.length && !palettes.length && <p className="py-6 text-quiet">Nothing on the shelf is called that.</p>}
      </div>
    </div>
  );
}

function Group({ title, items, take, where }: { title: string; items: Item[]; take: (item: Item) => void; where: Where }) {
  const view = useView();
  const selectionId = useChoice((s) => s.selectionId);
  const frame = useSettledFrame();
  const query = `?where=${where}${selectionId ? `&selection=${selectionId}` : ""}`;
  return (
    <section aria-label={title}>
      <h3 className="pt-3 pb-1.5 text-[12px] font-semibold text-quiet">{title}</h3>
      <div className="grid grid-cols-5 gap-3">
        {items.map((item) => (
          <div key={item.id} className="relative">
            <button type="button" data-cell onClick={() => take(item)} className="block w-full border border-transparent text-left hover:border-ink focus-visible:border-ink">
              <span className="block aspect-video w-full overflow-hidden bg-black">
                <img loading="lazy" alt="" draggable={false} className="h-full w-full object-cover" src={`/api/shots/${view.shot.id}/shelf/${item.id}/${view.revision}/${frame}.jpg${query}`} />
              </span>
              <b className="mt-1 block truncate">{item.name}</b>
              <span className="block text-[12px] leading-[1.3] text-quiet">{item.words}</span>
              {item.asks && <span className="block text-[12px] leading-[1.3]">Asks: {item.asks.charAt(0).toLowerCase() + item.asks.slice(1)}</span>}
              {(item.tags?.length ?? 0) > 0 && <span className="block truncate text-[12px] leading-[1.3]">{item.tags!.map((t) => `#${t}`).join(" ")}</span>}
            </button>
            {item.mine && <ItemMenu item={item} />}
          </div>
        ))}
      </div>
    </section>
  );
}

/** The shelf as a file, and others brought in. */
function ShelfFile() {
  const queryClient = useQueryClient();
  const say = useSay();
  const file = useRef<HTMLInputElement>(null);
  const bring = (text: string) =>
    ask(client.POST("/api/shelf/import", { body: { text } })).then(
      ({ added, twins }) => {
        void queryClient.invalidateQueries({ queryKey: ["shelf"] });
        say(`${added === 1 ? "One item is" : `${added} items are`} new on the shelf${twins ? `; ${twins} ${twins === 1 ? "was" : "were"} here already` : ""}.`);
      },
      (error: Error) => say(error.message, { bad: true }),
    );
  return (
    <>
      <Menu trigger={<Button>File ▾</Button>} items={[{ name: "Save the shelf to a file", onSelect: () => window.open("/api/shelf.json", "_self") }, { name: "Bring a shelf in…", onSelect: () => file.current?.click() }]} />
      <FileInput ref={file} label="Shelf file" accept=".json,application/json" onFile={(chosen) => void chosen.text().then(bring)} />
    </>
  );
}

function ItemMenu({ item }: { item: Item }) {
  const queryClient = useQueryClient();
  const askName = useAskName();
  const say = useSay();
  const path = { params: { path: { item: item.id } } };
  const refresh = () => void queryClient.invalidateQueries({ queryKey: ["shelf"] });
  const run = (work: Promise<unknown>, done?: () => void) => work.then(() => (refresh(), done?.()), (error: Error) => say(error.message, { bad: true }));
  const remove = () => void run(ask(client.DELETE("/api/shelf/{item}", path)), () => say(`“${item.name}” was taken from the shelf.`, { action: { name: "Put back", run: () => void run(ask(client.POST("/api/shelf/{item}/restore", path))) } }));
  const rename = () => askName("Rename on the shelf", item.name, (name) => change({ name }));
  const change = (body: Schemas["ShelfChange"]) => void run(ask(client.PATCH("/api/shelf/{item}", { ...path, body })));
  const words = () => askName("What it is for, in a sentence", item.words, (text) => change({ words: text }));
  const tags = () => askName("Tags, with commas between them", (item.tags ?? []).join(", "), (text) => change({ tags: text.split(",").map((t) => t.trim()).filter(Boolean) }));
  return (
    <Menu
      trigger={
        <button type="button" aria-label={`Do something with ${item.name}`} className="absolute top-1 right-1 h-[18px] w-[22px] bg-black leading-none font-bold text-white">
          ⋯
        </button>
      }
      items={[{ name: "Rename…", onSelect: rename }, { name: "Words…", onSelect: words }, { name: "Tags…", onSelect: tags }, "line", { name: "Take from the shelf", onSelect: remove }]}
    />
  );
}
