import { closestCenter, DndContext, PointerSensor, useSensor, useSensors, type DragEndEvent } from "@dnd-kit/core";
import { horizontalListSortingStrategy, SortableContext, useSortable, verticalListSortingStrategy } from "@dnd-kit/sortable";
import clsx from "clsx";
import type { ReactNode } from "react";

const CLICK = 6; // pixels within which a press is still a click

type Props = {
  /** What can be dragged, in its order, with how it is called. */
  items: readonly { id: string; name: string }[];
  across?: boolean;
  /** It is to stand before another; at the end for null. */
  onMove: (id: string, before: string | null) => void;
  children: ReactNode;
};

/** A list that is dragged into another order: what is dropped on another takes its place. Escape gives it up. Keys for the same are the list's own. */
export function Sortable({ items, across, onMove, children }: Props) {
  const sensors = useSensors(useSensor(PointerSensor, { activationConstraint: { distance: CLICK } }));
  const name = (id: string | number) => items.find((item) => item.id === id)?.name ?? "";
  const place = (id: string | number | undefined) => items.findIndex((item) => item.id === id);
  const end = ({ active, over }: DragEndEvent) => {
    const [from, to] = [place(active.id), place(over?.id)];
    if (from < 0 || to < 0 || from === to) return;
    onMove(items[from]!.id, items[to > from ? to + 1 : to]?.id ?? null);
  };
  const announcements = {
    onDragStart: ({ active }: Pick<DragEndEvent, "active">) => `${name(active.id)} is dragged.`,
    onDragOver: ({ over }: Pick<DragEndEvent, "over">) => (over ? `It would be number ${place(over.id) + 1} of ${items.length}.` : undefined),
    onDragEnd: ({ active, over }: DragEndEvent) => (over ? `${name(active.id)} is number ${place(over.id) + 1} of ${items.length}.` : undefined),
    onDragCancel: ({ active }: Pick<DragEndEvent, "active">) => `${name(active.id)} stays where it was.`,
  };
  return (
    <DndContext sensors={sensors} collisionDetection={closestCenter} onDragEnd={end} accessibility={{ announcements, screenReaderInstructions: { draggable: "" } }}>
      <SortableContext items={items.map((item) => item.id)} strategy={across ? horizontalListSortingStrategy : verticalListSortingStrategy}>
        {children}
      </SortableContext>
    </DndContext>
  );
}

/** One row of such a list. */
export function SortableItem({ id, label, className, children }: { id: string; label?: string; className?: string; children: ReactNode }) {
  const { setNodeRef, listeners, transform, transition, isDragging } = useSortable({ id });
  const style = { transform: transform ? `translate(${transform.x}px, ${transform.y}px)` : undefined, transition };
  return (
    <li ref={setNodeRef} data-sortable={id} aria-label={label} style={style} className={clsx(className, isDragging && "z-10 opacity-60")} {...listeners}>
      {children}
    </li>
  );
}
