import { BenchLeft } from "./benchLeft";
import { type Option, type Pin, type Placed, type Question, takes } from "./question";

/**
 * Pins that can be kept, all of them together, each with an option by which it can; and in words those that can't: no way is
 * open, the group has its number by other pins, or the bench has no time for it beside those before it.
 */
export function keptPins({ candidates, groups, pins, bench }: Question): {
  readonly kept: readonly (Pin & Placed)[];
  readonly problems: readonly string[];
} {
  const room = new Map(groups.map(({ id, by, wanted, spares }) => [id, { by, left: wanted + spares }]));
  const byDevice = new Map(candidates.map((candidate) => [candidate.device, candidate]));
  const times = new BenchLeft(bench);
  const places = (option: Option) => takes(option, { of: "places" });
  /** The option that takes least, of those for which there is time; what it takes is gone then. */
  const book = (options: readonly Option[], by: string): Option | undefined =>
    [...options]
      .sort((a, b) => a.hands - b.hands || places(a) - places(b) || b.chance - a.chance)
      .find((option) => times.book(option, by));
  const kept: (Pin & Placed)[] = [];
  const placed = new Set<string>();
  /** What is wrong with a pin in words; null: it is kept. */
  const keep = (pin: Pin): string | null => {
    const { device, group } = pin;
    const there = room.get(group);
    if (pin.kind !== "there" || !there) return null;
    const options = byDevice.get(device)?.options.filter((option) => option.group === group) ?? [];
    if (options.length === 0) return `${device} is pinned to a group for which no way of it is open`;
    if (placed.has(device)) return `${device} is pinned to more than one group: the first counts`;
    if (there.left === 0) return `${device} is pinned to a group that has its number by other pins`;
    const option = book(options, there.by);
    if (!option) return noTime(pin);
    kept.push({ ...pin, option });
    placed.add(device);
    there.left--;
    return null;
  };
  return { problems: pins.flatMap((pin) => keep(pin) ?? []), kept };
}

const noTime = ({ device, promised }: Pin): string =>
  `${device} is ${promised ? "promised" : "pinned"} to a group by whose day the bench has no time for it beside the other pins: hold one more evening, show somebody how it is done, or ${promised ? "take the promise back, and tell the group" : "take a pin away"}`;
