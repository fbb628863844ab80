const DAY = 86_400_000;

/** A day as a year with its fraction. @example yearOf("2024-07-02") // 2024.5 */
export function yearOf(day: string): number {
  const date = new Date(`${day}T00:00:00Z`);
  const begin = Date.UTC(date.getUTCFullYear(), 0, 1);
  const length = (Date.UTC(date.getUTCFullYear() + 1, 0, 1) - begin) / DAY;
  return date.getUTCFullYear() + (date.getTime() - begin) / DAY / length;
}
