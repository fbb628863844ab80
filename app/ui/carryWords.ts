import type { DndContextProps } from "@dnd-kit/core";

interface Words {
  /** What is carried, by its id. */
  readonly thing: (id: string) => string;
  /** Where it is put, by its id. */
  readonly place: (id: string) => string;
  /** How it is carried without a mouse. */
  readonly how: string;
}

/** What is said aloud while something is carried, in the page's own words. */
export function carryWords({ thing, place, how }: Words): DndContextProps["accessibility"] {
  const where = (over: { id: string | number } | null) => (over ? place(String(over.id)) : "nowhere");
  return {
    announcements: {
      onDragStart: ({ active }) => `${thing(String(active.id))} is taken up`,
      onDragOver: ({ active, over }) => `${thing(String(active.id))}: ${where(over)}`,
      onDragEnd: ({ active, over }) => `${thing(String(active.id))} is put down: ${where(over)}`,
      onDragCancel: ({ active }) => `${thing(String(active.id))} stays where it was`,
    },
    screenReaderInstructions: { draggable: how },
  };
}
