import { answersWithin, type Silence } from "./answers";

/** Devices that hang on one answer: those of one donor or issuer. */
export interface Waiting {
  readonly devices: number;
  /** Days since the asking; null when nobody was asked yet. */
  readonly waited: number | null;
}

/** How many devices may be clear on a day. */
export interface ClearOn {
  /** Days from today. */
  readonly day: number;
  readonly expected: number;
  /** 10 % and 90 % points of the number of clear devices. */
  readonly low: number;
  readonly high: number;
  /** Chance that every one of them is clear. */
  readonly all: number;
}

/**
 * The number of clear devices day by day, if those who are still silent answer as the curve says.
 *
 * Devices of one donor come together or not at all, so they are counted as one; the donors answer independently. The
 * distribution is exact: the sums of independent yes-or-no's, convolved one by one.
 *
 * @param clear   devices that are clear already
 * @param days    last day looked at
 * @source distribution of a sum of independent trials (the binomial where all are alike)
 * @example clearBy([], [], 4, 0)[0].all // 1
 */
export function clearBy(
  curve: readonly Silence[],
  waiting: readonly Waiting[],
  clear: number,
  days: number,
): ClearOn[] {
  return Array.from({ length: days + 1 }, (_, day) => {
    let distribution = [1];
    let all = 1;
    for (const { devices, waited } of waiting) {
      // Someone who is asked today has waited 0 days; whoever was silent so far may still answer.
      const p = answersWithin(curve, waited ?? 0, day);
      all *= p;
      const next = new Array<number>(distribution.length + devices).fill(0);
      distribution.forEach((chance, n) => {
        next[n] += chance * (1 - p);
        next[n + devices] += chance * p;
      });
      distribution = next;
    }
    return {
      day,
      expected: clear + distribution.reduce((sum, chance, n) => sum + chance * n, 0),
      low: clear + quantile(distribution, 0.1),
      high: clear + quantile(distribution, 0.9),
      all,
    };
  });
}

function quantile(distribution: readonly number[], share: number): number {
  let sum = 0;
  for (let n = 0; n < distribution.length; n++) {
    sum += distribution[n];
    if (sum >= share - 1e-12) return n;
  }
  return distribution.length - 1;
}

/**
 * First day on which all are clear with the given chance; null when that lies beyond what was looked at.
 *
 * @example dayAllClear(clearBy([], [], 4, 0), 0.9) // 0
 */
export function dayAllClear(days: readonly ClearOn[], chance: number): number | null {
  return days.find((d) => d.all >= chance - 1e-12)?.day ?? null;
}
