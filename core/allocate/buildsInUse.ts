import type { Nearly } from "./nearly";
import { columnsOf, kindsAsIn } from "./program";
import type { Placed } from "./question";
import { NEARLY, type Reach, type Turn } from "./relaxed";

/** So many builds are open beside those in use: those that are used most where devices need not be whole. */
const MORE = 5;

/**
 * Where builds count: of those in use and a few more all devices are divided anew, from what stands. That is a small part of all
 * choices, and the fewer builds are in use, the smaller it is.
 *
 * @source restricted master of a facility location problem; common practice, no source
 */
export function amongBuildsInUse({ program, aim }: Reach, turn: Turn, stands: readonly Placed[]): Nearly {
  const { linear, columns, goals } = program;
  const start = columnsOf(columns, stands);
  const besides = turn.besides(0);
  const free = linear.largest(goals[aim], turn.seconds, { besides, relaxed: true });
  if (!free) return null;
  const unused = [...kindsAsIn(program, start)].flatMap(([kind, used]) => (used ? [] : [kind]));
  const closed = unused.sort((a, b) => free.values[b] - free.values[a]).slice(MORE);
  const fixed = new Map(closed.map((kind) => [kind, 0]));
  const found = linear.largest(goals[aim], turn.seconds, { besides, fixed, start, gap: NEARLY });
  return found ? { ...found, bound: free.bound } : { values: null, bound: free.bound };
}
