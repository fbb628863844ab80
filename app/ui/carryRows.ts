import type { ClientRect, CollisionDetection, KeyboardCoordinateGetter } from "@dnd-kit/core";

const middleOf = ({ top, height }: Pick<ClientRect, "top" | "height">) => top + height / 2;

/** What is carried lies on the row in which its middle is; above the first row on the first, below the last on the last. */
export const rowUnder: CollisionDetection = ({ collisionRect, droppableRects, droppableContainers }) => {
  const middle = middleOf(collisionRect);
  const rows = droppableContainers.flatMap((droppable) => {
    const rect = droppableRects.get(droppable.id);
    if (!rect) return [];
    const away = Math.max(rect.top - middle, middle - rect.bottom, 0);
    return [{ id: droppable.id, data: { droppableContainer: droppable, value: away } }];
  });
  return rows.sort((a, b) => a.data.value - b.data.value).slice(0, 1);
};

/** An arrow key carries a device to the row above or below: one press, one row. */
export const rowByRow: KeyboardCoordinateGetter = (event, { context, currentCoordinates }) => {
  const step = event.code === "ArrowDown" ? 1 : event.code === "ArrowUp" ? -1 : 0;
  const { collisionRect, droppableRects } = context;
  if (step === 0 || !collisionRect) return undefined;
  event.preventDefault();
  const rows = [...droppableRects.values()].sort((a, b) => a.top - b.top);
  const middle = middleOf(collisionRect);
  const here = rows.findIndex((rect) => middle <= rect.bottom);
  const next = rows[Math.min(rows.length - 1, Math.max(0, (here < 0 ? rows.length - 1 : here) + step))];
  return next && { x: currentCoordinates.x, y: currentCoordinates.y + middleOf(next) - middle };
};
