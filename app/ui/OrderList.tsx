import {
  closestCenter,
  DndContext,
  type DragEndEvent,
  KeyboardSensor,
  PointerSensor,
  useSensor,
  useSensors,
} from "@dnd-kit/core";
import {
  arrayMove,
  SortableContext,
  sortableKeyboardCoordinates,
  useSortable,
  verticalListSortingStrategy,
} from "@dnd-kit/sortable";
import { CSS } from "@dnd-kit/utilities";
import { GripVertical } from "lucide-react";
import { useId, useState } from "react";
import { carryWords } from "./carryWords";

/** One thing that has a place among others. */
export interface Ordered {
  readonly key: string;
  readonly says: string;
  readonly why?: string;
}

interface Props {
  /** In the order in which they stand. */
  readonly items: readonly Ordered[];
  /** Begins the name of each place's field: `<name>.<key>`. */
  readonly name: string;
  /** Keys that count; where it is given, each can be ticked off (`counts.<key>`). */
  readonly counts?: readonly string[];
}

/** Things in an order: moved with the mouse or, on the handle, with space and the arrow keys; without scripts by their numbers. */
export function OrderList({ items, name, counts }: Props) {
  const [order, setOrder] = useState<readonly string[]>(items.map(({ key }) => key));
  const sensors = useSensors(
    useSensor(PointerSensor, { activationConstraint: { distance: 4 } }),
    useSensor(KeyboardSensor, { coordinateGetter: sortableKeyboardCoordinates }),
  );
  const moved = ({ active, over }: DragEndEvent) => {
    if (!over || active.id === over.id) return;
    setOrder((was) => arrayMove([...was], was.indexOf(String(active.id)), was.indexOf(String(over.id))));
  };
  const place = (key: string, to: number) =>
    setOrder((was) => {
      const target = Math.min(Math.max(to, 1), was.length) - 1;
      return Number.isInteger(target) ? arrayMove([...was], was.indexOf(key), target) : was;
    });
  const titleOf = (key: string) => items.find((item) => item.key === key)?.says ?? key;
  const words = carryWords({
    thing: titleOf,
    place: (key) => `place ${order.indexOf(key) + 1} of ${order.length}`,
    how: "Space takes it up, the arrow keys carry it up and down, space puts it there, Escape leaves it.",
  });
  const rows = order.flatMap((key) => items.find((item) => item.key === key) ?? []);
  return (
    <DndContext
      id={useId()}
      accessibility={words}
      sensors={sensors}
      collisionDetection={closestCenter}
      onDragEnd={moved}
    >
      <SortableContext items={[...order]} strategy={verticalListSortingStrategy}>
        <ol className="mt-2 space-y-1">
          {rows.map((item, i) => (
            <Row
              key={item.key}
              item={item}
              name={name}
              at={i + 1}
              of={order.length}
              counts={counts?.includes(item.key)}
              place={(to) => place(item.key, to)}
            />
          ))}
        </ol>
      </SortableContext>
    </DndContext>
  );
}

interface RowProps {
  readonly item: Ordered;
  readonly name: string;
  readonly at: number;
  readonly of: number;
  readonly counts: boolean | undefined;
  readonly place: (to: number) => void;
}

function Row({ item: { key, says, why }, name, at, of, counts, place }: RowProps) {
  const { attributes, listeners, setNodeRef, transform, transition, isDragging } = useSortable({ id: key });
  return (
    <li
      ref={setNodeRef}
      style={{ transform: CSS.Transform.toString(transform), transition }}
      className={`flex items-center gap-2 rounded ${isDragging ? "relative z-10 bg-lane-wash" : ""}`}
    >
      <button
        type="button"
        {...attributes}
        {...listeners}
        className="cursor-grab touch-none p-1"
        aria-label={`Move: ${says}`}
      >
        <GripVertical size={18} aria-hidden="true" />
      </button>
      <input
        key={at}
        aria-label={`Place of: ${says}`}
        name={`${name}.${key}`}
        type="number"
        min={1}
        max={of}
        defaultValue={at}
        onBlur={(e) => place(Number(e.target.value))}
        className="field w-16 shrink-0"
      />
      {counts !== undefined && (
        <input
          type="checkbox"
          name={`counts.${key}`}
          value="yes"
          defaultChecked={counts}
          aria-label={`Counts: ${says}`}
        />
      )}
      <span>
        {says}
        {why && <span className="hint block">{why}</span>}
      </span>
    </li>
  );
}
