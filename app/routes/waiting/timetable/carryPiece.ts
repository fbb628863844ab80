import type { KeyboardCoordinateGetter } from "@dnd-kit/core";
import { rowByRow } from "~/app/ui/carryRows";

/** Times on the page are said in steps of so many minutes. */
export const SNAP = 5;

/** Arrow keys carry a piece by five minutes, or to the row above or below. */
export const byFiveMinutes: KeyboardCoordinateGetter = (event, args) => {
  const aside = event.code === "ArrowRight" ? 1 : event.code === "ArrowLeft" ? -1 : 0;
  if (aside === 0) return rowByRow(event, args);
  const { active, collisionRect } = args.context;
  const minutes = active?.data.current?.minutes;
  if (!collisionRect || typeof minutes !== "number") return undefined;
  event.preventDefault();
  return {
    x: args.currentCoordinates.x + (aside * SNAP * collisionRect.width) / minutes,
    y: args.currentCoordinates.y,
  };
};

/** The minute to which a piece was carried by so many pixels. */
export const carriedTo = (from: number, pixels: number, pixelsPerMinute: number): number =>
  Math.round((from + pixels / pixelsPerMinute) / SNAP) * SNAP;
