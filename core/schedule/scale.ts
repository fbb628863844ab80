/** A millionth is as fine as it gets: everything is counted in whole numbers. */
const FINEST = 1_000_000;

/** Whether a number times a scale is whole, but for what its last bits may be off (sums of fractions are). */
const isWholeAt = (value: number, scale: number) => {
  const times = value * scale;
  return Math.abs(times - Math.round(times)) <= Math.abs(times) * 2 ** -44;
};

/**
 * Whether a number can be counted as it is: with more than six decimals it would have to be rounded.
 *
 * @example isCountable(2.5) // true
 */
export const isCountable = (value: number): boolean => isWholeAt(value, 1) || isWholeAt(value, FINEST);

/**
 * The smallest power of ten, up to a million, that makes all of these whole.
 *
 * @example wholeScale([2.5, 10]) // 10
 */
export function wholeScale(values: readonly number[]): number {
  let scale = 1;
  while (scale < FINEST && !values.every((value) => isWholeAt(value, scale))) scale *= 10;
  return scale;
}

/**
 * A length in whole units: what is finer than a unit counts as a whole one, so that nothing overlaps.
 *
 * @example wholeUnits(2.51, 10) // 26
 */
export const wholeUnits = (value: number, scale: number): number =>
  isWholeAt(value, scale) ? Math.round(value * scale) : Math.ceil(value * scale);
