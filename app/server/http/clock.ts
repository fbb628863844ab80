import { formatISO } from "date-fns";
import type { Store } from "~/store/database";
import { readSetting } from "~/store/setting";

/** Milliseconds the demo's clock is ahead of the computer's. Only a demo database has this setting. */
export const CLOCK_SETTING = "demo.clock-ahead";

/** The product's clock: the computer's, or the one that was set in the demo. */
export function now(store: Store): Date {
  return new Date(Date.now() + aheadOf(store));
}

/** Today as 2026-11-30. */
export const today = (store: Store): string => dayOf(now(store));

export const dayOf = (date: Date): string => formatISO(date, { representation: "date" });

/** Whether this database is a demo, whose clock may be set. */
export const hasDemoClock = (store: Store): boolean => readSetting(store, CLOCK_SETTING) !== null;

/** How far the product's clock is ahead of the computer's, ms. */
export const aheadOf = (store: Store): number => Number(readSetting(store, CLOCK_SETTING) ?? 0);
