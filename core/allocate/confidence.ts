/**
 * How many of several independent yes-or-no's come out as yes: the whole distribution, exactly.
 *
 * @param chances each 0 to 1
 * @returns chance of exactly 0, 1, 2 … yes
 * @source Poisson-binomial distribution; Barlow and Heidtmann (1984), recursion over the trials one by one
 * @example numberReady([0.5, 0.5]) // [0.25, 0.5, 0.25]
 */
export function numberReady(chances: readonly number[]): number[] {
  let distribution = [1];
  for (const p of chances) {
    const next = new Array<number>(distribution.length + 1).fill(0);
    for (let k = 0; k < distribution.length; k++) {
      next[k] += distribution[k] * (1 - p);
      next[k + 1] += distribution[k] * p;
    }
    distribution = next;
  }
  return distribution;
}

/**
 * Chance that at least so many come out as yes.
 *
 * @example atLeast([0.5, 0.5], 1) // 0.75
 */
export function atLeast(chances: readonly number[], count: number): number {
  if (count <= 0) return 1;
  if (count > chances.length) return 0;
  // Only fewer than that have to be told apart, and the smaller tail is summed up: chances near 1 keep their digits.
  const fewer = new Float64Array(count);
  fewer[0] = 1;
  let most = 0;
  for (const p of chances) {
    if (most < count - 1) most++;
    for (let k = most; k > 0; k--) fewer[k] = fewer[k] * (1 - p) + fewer[k - 1] * p;
    fewer[0] *= 1 - p;
  }
  let sum = 0;
  for (let k = 0; k < count; k++) sum += fewer[k];
  return Math.min(1, Math.max(0, 1 - sum));
}
