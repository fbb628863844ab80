import { type BenchTime, type Placed, type Question, takes } from "./question";

/**
 * By how much a division takes more than the bench has: of hands, of places, of those who may do something; of each kind the
 * day at which it is worst. Empty where all of it can be done.
 *
 * @example overtime({ bench: [{ day: "2026-12-14", minutes: 10 }], … }, placed) // [{ time: { day: …, … }, over: 2 }]
 */
export function overtime(
  { bench, groups }: Pick<Question, "bench" | "groups">,
  placed: readonly Placed[],
): { readonly time: BenchTime; readonly over: number }[] {
  const dueBy = new Map(groups.map(({ id, by }) => [id, by]));
  const worst = new Map<string, { readonly time: BenchTime; readonly over: number }>();
  for (const time of bench) {
    const inTime = placed.filter(({ option }) => (dueBy.get(option.group) ?? "") <= time.day);
    const over = inTime.reduce((sum, { option }) => sum + takes(option, time), 0) - time.minutes;
    const kind = time.skills ? "skills" : (time.of ?? "hands");
    if (over > (worst.get(kind)?.over ?? 0)) worst.set(kind, { time, over });
  }
  return [...worst.values()];
}
