import type { Pin, Question } from "./question";

/** Pins that can be kept, and in words those that can't: no way is open, or the group has its number by other pins. */
export function keptPins({ candidates, groups, pins }: Question): {
  readonly kept: readonly Pin[];
  readonly problems: readonly string[];
} {
  const room = new Map(groups.map(({ id, wanted, spares }) => [id, wanted + spares]));
  const byDevice = new Map(candidates.map((candidate) => [candidate.device, candidate]));
  const kept: Pin[] = [];
  const problems: string[] = [];
  const placed = new Set<string>();
  for (const pin of pins) {
    const { device, group, kind } = pin;
    const left = room.get(group);
    if (kind !== "there" || left === undefined) continue;
    if (!byDevice.get(device)?.options.some((option) => option.group === group))
      problems.push(`${device} is pinned to a group for which no way of it is open`);
    else if (placed.has(device)) problems.push(`${device} is pinned to more than one group: the first counts`);
    else if (left === 0) problems.push(`${device} is pinned to a group that has its number by other pins`);
    else {
      kept.push(pin);
      placed.add(device);
      room.set(group, left - 1);
    }
  }
  return { kept, problems };
}
