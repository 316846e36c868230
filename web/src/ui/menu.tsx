import clsx from "clsx";
import { ContextMenu, DropdownMenu } from "radix-ui";
import { useContext, useState, type ReactNode } from "react";

import { KeyOfContext } from "./does";

/** checked: whether it is what is in use, for one of several rows; several: more than one of them may be; does: the name of what it does, whose key stands beside it. */
type Row = { name: string; aside?: string; image?: string; swatch?: string; checked?: boolean; several?: boolean; disabled?: boolean; does?: string; onSelect: () => void };
export type MenuItem = Row | "line";

const ROW = "flex cursor-pointer items-center justify-between gap-6 px-3 py-1 outline-none data-[disabled]:cursor-default data-[disabled]:opacity-40 data-[highlighted]:bg-inverse data-[highlighted]:text-inverse-ink";
const LIST = "z-50 max-h-[420px] min-w-[160px] overflow-auto border border-strong bg-raised py-1";

/** A menu below its trigger. */
export function Menu({ trigger, items, align = "end" }: { trigger: ReactNode; items: MenuItem[]; align?: "start" | "end" }) {
  return (
    <DropdownMenu.Root modal={false}>
      <DropdownMenu.Trigger asChild>{trigger}</DropdownMenu.Trigger>
      <DropdownMenu.Portal>
        <DropdownMenu.Content align={align} sideOffset={3} collisionPadding={8} className={LIST}>
          <Rows items={items} kit={DropdownMenu} />
        </DropdownMenu.Content>
      </DropdownMenu.Portal>
    </DropdownMenu.Root>
  );
}

/** A menu of what can be done with what is under the pointer, by the right button or the menu key. itemsAt: for an element; none: no menu. */
export function PointerMenu({ children, itemsAt }: { children: ReactNode; itemsAt: (element: Element, e: { clientX: number; clientY: number }) => MenuItem[] }) {
  const [items, setItems] = useState<MenuItem[]>([]);
  return (
    <ContextMenu.Root modal={false}>
      <ContextMenu.Trigger
        asChild
        onContextMenu={(e) => {
          const found = itemsAt(e.target as Element, e);
          setItems(found);
          if (!found.length) e.preventDefault();
        }}
      >
        {children}
      </ContextMenu.Trigger>
      <ContextMenu.Portal>
        <ContextMenu.Content collisionPadding={8} className={LIST}>
          <Rows items={items} kit={ContextMenu} />
        </ContextMenu.Content>
      </ContextMenu.Portal>
    </ContextMenu.Root>
  );
}

type Parts = Pick<typeof DropdownMenu, "Item" | "Separator" | "CheckboxItem" | "RadioGroup" | "RadioItem">;

/** Rows that follow one another and of which one is in use are one group; others stand by themselves. */
function groups(items: MenuItem[]): MenuItem[][] {
  const found: MenuItem[][] = [];
  const oneOf = (item: MenuItem | undefined) => item !== undefined && item !== "line" && item.checked !== undefined && !item.several;
  for (const item of items) {
    const last = found.at(-1);
    if (last && oneOf(last[0]) && oneOf(item)) last.push(item);
    else found.push([item]);
  }
  return found;
}

/** What a menu holds, made of the parts of its kind. */
function Rows({ items, kit }: { items: MenuItem[]; kit: Parts | typeof ContextMenu }) {
  const { Item, Separator, CheckboxItem, RadioGroup, RadioItem } = kit as Parts;
  return groups(items).map((group, n) => {
    const [first] = group;
    if (first === undefined || first === "line") return <Separator key={n} className="my-1 h-px bg-line" />;
    if (group.length === 1 && first.checked === undefined)
      return (
        <Item key={n} disabled={first.disabled} onSelect={first.onSelect} className={ROW}>
          <Words item={first} />
        </Item>
      );
    if (group.length === 1)
      return (
        <CheckboxItem key={n} checked={first.checked} disabled={first.disabled} onSelect={first.onSelect} className={ROW}>
          <Words item={first} />
        </CheckboxItem>
      );
    const rows = group as Row[];
    return (
      <RadioGroup key={n} value={String(rows.findIndex((row) => row.checked))}>
        {rows.map((row, k) => (
          <RadioItem key={k} value={String(k)} disabled={row.disabled} onSelect={row.onSelect} className={ROW}>
            <Words item={row} />
          </RadioItem>
        ))}
      </RadioGroup>
    );
  });
}

function Words({ item }: { item: Row }) {
  const key = useContext(KeyOfContext)(item.does);
  const aside = item.aside ?? key;
  return (
    <>
      <span className={clsx("flex items-center gap-2", item.checked && "font-bold")}>
        {item.swatch && <span className="h-[14px] w-[64px] border border-line" style={{ background: item.swatch }} />}
        {item.image && <img src={item.image} alt="" className="h-[27px] w-[48px] bg-black object-cover" />}
        {item.name}
      </span>
      {(aside || item.checked) && <span className={clsx("opacity-70", item.checked && "font-bold")}>{aside ?? "in use"}</span>}
    </>
  );
}
