import { mean, standardDeviation } from "simple-statistics";

/** How long something takes against what was promised: as ratios, 1 being as promised. */
export interface Pace {
  readonly median: number;
  /** Four of five are done by then. */
  readonly fourOfFive: number;
  readonly of: number;
}

/** Quantile 0.8 of the standard normal distribution (any table of it). */
const Z80 = 0.8416;

/**
 * The pace of an operation from own runs, pooled like its chance: logarithms of the ratios are averaged, the promise (ratio
 * 1) weighing as much as so many runs, nearer runs coming after farther ones.
 *
 * @param levels ratios of measured to promised time, all > 0: other images, other models, here
 * @param weight runs that the promise weighs as much as, > 0
 */
export function pooledPace(
  levels: {
    readonly otherImages: readonly number[];
    readonly otherModels: readonly number[];
    readonly here: readonly number[];
  },
  weight: number,
): Pace {
  let centre = 0;
  const all: number[] = [];
  for (const ratios of [levels.otherImages, levels.otherModels, levels.here]) {
    const logs = ratios.filter((r) => r > 0).map(Math.log);
    all.push(...logs);
    if (logs.length) centre = (centre * weight + mean(logs) * logs.length) / (weight + logs.length);
  }
  const spread = all.length > 1 ? standardDeviation(all) : 0;
  return { median: Math.exp(centre), fourOfFive: Math.exp(centre + Z80 * spread), of: all.length };
}
