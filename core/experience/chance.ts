import jstat from "jstat";

/** A chance with what it rests on. */
export interface Chance {
  /** 0 to 1. */
  readonly mean: number;
  /** The true rate lies between these with nine chances in ten. */
  readonly low: number;
  readonly high: number;
}

/** How many went well, of how many. */
export interface Count {
  readonly ok: number;
  readonly of: number;
}

/**
 * Rate of success from counts, with a rate that was believed before: Beta-binomial, the belief weighing as much as so many
 * trials.
 *
 * @param believed rate believed before, 0 to 1
 * @param weight trials that the belief weighs as much as, > 0
 * @source A. Gelman et al., Bayesian Data Analysis, 3rd ed., section 2.4 (conjugate Beta prior for a binomial rate)
 * @example chance({ ok: 7, of: 9 }, 0.9, 10).mean // (9 + 7) / (10 + 9)
 */
export function chance({ ok, of }: Count, believed: number, weight: number): Chance {
  // A belief of exactly 0 or 1 would never learn.
  const p = Math.min(0.999, Math.max(0.001, believed));
  const a = weight * p + ok;
  const b = weight * (1 - p) + (of - ok);
  return { mean: a / (a + b), low: jstat.jStat.beta.inv(0.05, a, b), high: jstat.jStat.beta.inv(0.95, a, b) };
}

/** Counts of the same operation, near and far: with other images, with this image on other models, with this image on this model. */
export interface Levels {
  readonly otherImages: Count;
  readonly otherModels: Count;
  readonly here: Count;
}

/**
 * The chance of one operation with one image on one model. What happened elsewhere moves the belief step by step (operation →
 * image → image on this model), each time as the belief before the nearer counts; no run counts twice.
 *
 * @param believed the handbook's rate, or the one recorded in the catalogue
 */
export function pooledChance(levels: Levels, believed: number, weight: number): Chance {
  const operation = chance(levels.otherImages, believed, weight).mean;
  const image = chance(levels.otherModels, operation, weight).mean;
  return chance(levels.here, image, weight);
}
