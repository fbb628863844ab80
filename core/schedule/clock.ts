/** Minutes since midnight of a time of day, HH:MM. */
export const minutesOf = (clock: string): number => Number(clock.slice(0, 2)) * 60 + Number(clock.slice(3, 5));

/**
 * A time of day; past midnight it is the last minute of the day.
 *
 * @example clockAt(1_090) // "18:10"
 */
export function clockAt(minutes: number): string {
  const at = Math.min(minutes, 24 * 60 - 1);
  return `${String(Math.floor(at / 60)).padStart(2, "0")}:${String(at % 60).padStart(2, "0")}`;
}
