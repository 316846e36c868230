import clsx from "clsx";
import { ContextMenu, DropdownMenu } from "radix-ui";
import { useState, type ReactNode } from "react";

export type MenuItem = { name: string; aside?: string; image?: string; swatch?: string; bold?: boolean; checked?: boolean; disabled?: boolean; onSelect: () => void } | "line";

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

/** What a menu holds, made of the parts of its kind. */
function Rows({ items, kit }: { items: MenuItem[]; kit: Pick<typeof DropdownMenu, "Item" | "Separator"> | Pick<typeof ContextMenu, "Item" | "Separator"> }) {
  const { Item, Separator } = kit as Pick<typeof DropdownMenu, "Item" | "Separator">;
  return items.map((item, n) =>
    item === "line" ? (
      <Separator key={n} className="my-1 h-px bg-line" />
    ) : (
      <Item
        key={n}
        disabled={item.disabled}
        onSelect={item.onSelect}
        className={clsx(
          "flex cursor-pointer items-center justify-between gap-6 px-3 py-1 outline-none data-[disabled]:cursor-default data-[disabled]:opacity-40 data-[highlighted]:bg-inverse data-[highlighted]:text-inverse-ink",
          (item.checked || item.bold) && "font-bold",
        )}
      >
        <span className="flex items-center gap-2">
          {item.swatch && <span className="h-[14px] w-[64px] border border-line" style={{ background: item.swatch }} />}
          {item.image && <img src={item.image} alt="" className="h-[27px] w-[48px] bg-black object-cover" />}
          {item.name}
        </span>
        {(item.aside || item.checked) && <span className="opacity-70">{item.aside ?? "in use"}</span>}
      </Item>
    ),
  );
}
