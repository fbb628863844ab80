import type { Id, Instance } from "./instance";

type Timed = readonly { readonly id: Id; readonly start: number }[];

/**
 * Holds a timetable against its instance, by nothing but the instance's own words: shares no code with the engine, so
 * that neither hides the other's mistake.
 *
 * @returns what is wrong with it, each as a sentence; empty when nothing is
 */
export function checkTimetable(instance: Instance, timed: Timed): string[] {
  const wrong: string[] = [];
  const starts = new Map<Id, number>();
  for (const { id, start } of timed) {
    if (starts.has(id)) wrong.push(`“${id}” is timed twice`);
    starts.set(id, start);
    if (!(start >= -TINY)) wrong.push(`“${id}” begins at ${start}`);
  }
  if (timed.length !== instance.tasks.length)
    wrong.push(`${timed.length} tasks are timed, the instance has ${instance.tasks.length}`);
  const endOf = new Map<Id, number>();
  for (const { id, minutes } of instance.tasks) {
    const start = starts.get(id);
    if (start === undefined) wrong.push(`“${id}” is not timed`);
    else endOf.set(id, start + minutes);
  }
  if (wrong.length) return wrong;
  for (const { id, after } of instance.tasks)
    for (const before of after)
      if ((starts.get(id) as number) < (endOf.get(before) as number) - TINY)
        wrong.push(`“${id}” begins before “${before}” has ended`);
  for (const { id: resource, capacity } of instance.resources) {
    const holders = instance.tasks.filter((task) => task.uses.some((use) => use.resource === resource));
    // What is held only ever grows at a start, so every start is looked at and nothing else.
    for (const { id } of holders) {
      const at = starts.get(id) as number;
      let held = 0;
      for (const other of holders) {
        const from = starts.get(other.id) as number;
        const to = endOf.get(other.id) as number;
        if (from <= at + TINY && to > at + TINY)
          for (const use of other.uses) if (use.resource === resource) held += use.amount;
      }
      if (held > capacity + TINY) wrong.push(`at ${at}, ${held} of “${resource}” are held, it has ${capacity}`);
    }
  }
  return wrong;
}

/** Minutes may be fractions; two sums of the same fractions differ in their last bits. */
const TINY = 1e-6;
