import { atLeast } from "./confidence";

/**
 * Which numbers of devices are not enough for a group, told so that a linear program understands it.
 *
 * Devices are counted by their chance, the likeliest first: `upTo[j]` of them have at least the j-th chance. Whoever has
 * no more of them at any j is no better off, device by device. So, where one choice was not enough, every choice that is
 * must have at least one more at some j: that is a cut.
 */
export type Cut = readonly number[];

/** Different chances among a group's options, the likeliest first. */
export const levelsOf = (chances: readonly number[]): number[] => [...new Set(chances)].sort((a, b) => b - a);

/** How many devices of the likeliest kind it takes at least; null when no number up to `most` is enough. */
export function fewest(best: number, least: number, confidence: number, most: number): number | null {
  for (let count = least; count <= most; count++) if (isEnough([best], [count], least, confidence)) return count;
  return null;
}

/**
 * The cut by a choice that is not enough: first grown as far as it still is not (more devices, or likelier ones), so that
 * it forbids as much as can be.
 *
 * @param counts devices chosen, per level
 * @param most   devices the group takes at most
 */
export function cutBy(
  levels: readonly number[],
  counts: readonly number[],
  { least, confidence, most }: { readonly least: number; readonly confidence: number; readonly most: number },
): Cut {
  const grown = [...counts];
  const fails = () => !isEnough(levels, grown, least, confidence);
  const last = levels.length - 1;
  // More of the least likely, then each device one level up, as long as it does not become enough.
  while (sum(grown) < most) {
    grown[last]++;
    if (fails()) continue;
    grown[last]--;
    break;
  }
  for (let j = last; j > 0; j--)
    while (grown[j] > 0) {
      grown[j]--;
      grown[j - 1]++;
      if (fails()) continue;
      grown[j]++;
      grown[j - 1]--;
      break;
    }
  let upTo = 0;
  return grown.map((count) => {
    upTo += count;
    return upTo + 1;
  });
}

/** Whether so many per level are enough, exactly. */
export function isEnough(
  levels: readonly number[],
  counts: readonly number[],
  least: number,
  confidence: number,
): boolean {
  const chances = counts.flatMap((count, j) => Array<number>(count).fill(levels[j]));
  return atLeast(chances, least) >= confidence - 1e-9;
}

const sum = (counts: readonly number[]) => counts.reduce((all, count) => all + count, 0);
