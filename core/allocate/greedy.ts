import { BenchLeft } from "./benchLeft";
import { keptPins } from "./keptPins";
import { neverIn, type Placed, type Question } from "./question";

/**
 * A first division, at once: what is pinned and can be kept, then group after group (the heaviest and soonest first) the likeliest
 * devices, as far as the bench's minutes go. Good enough to look at while the better one is worked out.
 */
export function greedy(question: Question, kept: readonly Placed[] = keptPins(question).kept): Placed[] {
  const { candidates, groups, pins, bench } = question;
  const byGroup = new Map(groups.map((group) => [group.id, group]));
  const left = new Map(candidates.map((candidate) => [candidate.device, candidate]));
  const room = new Map(groups.map(({ id, wanted, spares }) => [id, wanted + spares]));
  const times = new BenchLeft(bench);
  const isNever = neverIn(pins);
  const placed: Placed[] = [];
  const put = ({ device, option }: Placed): void => {
    const due = byGroup.get(option.group)?.by ?? "";
    if ((room.get(option.group) ?? 0) < 1 || !times.book(option, due)) return;
    room.set(option.group, (room.get(option.group) ?? 0) - 1);
    left.delete(device);
    placed.push({ device, option });
  };
  const open = (device: string, group: string) =>
    (left.get(device)?.options ?? [])
      .filter((option) => option.group === group && !isNever(device, group))
      .sort((a, b) => b.chance - a.chance || a.hands - b.hands);
  for (const one of kept) put(one);
  const order = [...groups].sort((a, b) => b.weight - a.weight || a.by.localeCompare(b.by));
  // First what each needs at least, then what each asked for.
  for (const upTo of ["least", "wanted"] as const)
    for (const group of order) {
      const chosen = [...left.keys()]
        .flatMap((device) =>
          open(device, group.id)
            .slice(0, 1)
            .map((option) => ({ device, option })),
        )
        .sort((a, b) => b.option.chance - a.option.chance);
      for (const one of chosen) {
        const has = placed.filter(({ option }) => option.group === group.id).length;
        if (has >= group[upTo]) break;
        put(one);
      }
    }
  return placed;
}
