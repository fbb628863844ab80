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
import { RANK_WORDS, type RankKey } from "~/core/policy/policy";

/** The aspects in the house's order: moved with the mouse or, on the handle, with space and the arrow keys; without scripts by their numbers. */
export function RankList({ rank }: { rank: readonly RankKey[] }) {
  const [order, setOrder] = useState<readonly RankKey[]>(rank);
  const sensors = useSensors(
    useSensor(PointerSensor, { activationConstraint: { distance: 4 } }),
    useSensor(KeyboardSensor, { coordinateGetter: sortableKeyboardCoordinates }),
  );
  const moved = ({ active, over }: DragEndEvent) => {
    if (!over || active.id === over.id) return;
    setOrder((was) => arrayMove([...was], was.indexOf(active.id as RankKey), was.indexOf(over.id as RankKey)));
  };
  const place = (key: RankKey, to: number) =>
    setOrder((was) => {
      const target = Math.min(Math.max(to, 1), was.length) - 1;
      return Number.isInteger(target) ? arrayMove([...was], was.indexOf(key), target) : was;
    });
  return (
    <DndContext id={useId()} sensors={sensors} collisionDetection={closestCenter} onDragEnd={moved}>
      <SortableContext items={[...order]} strategy={verticalListSortingStrategy}>
        <ol className="mt-2 space-y-1">
          {order.map((key, i) => (
            <RankRow key={key} rank={key} at={i + 1} of={order.length} place={(to) => place(key, to)} />
          ))}
        </ol>
      </SortableContext>
    </DndContext>
  );
}

function RankRow({ rank, at, of, place }: { rank: RankKey; at: number; of: number; place: (to: number) => void }) {
  const { attributes, listeners, setNodeRef, transform, transition, isDragging } = useSortable({ id: rank });
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
        aria-label={`Move: ${RANK_WORDS[rank]}`}
      >
        <GripVertical size={18} aria-hidden="true" />
      </button>
      <input
        key={at}
        aria-label={`Place of: ${RANK_WORDS[rank]}`}
        name={`rank.${rank}`}
        type="number"
        min={1}
        max={of}
        defaultValue={at}
        onBlur={(e) => place(Number(e.target.value))}
        className="field w-16 shrink-0"
      />
      <span>{RANK_WORDS[rank]}</span>
    </li>
  );
}
