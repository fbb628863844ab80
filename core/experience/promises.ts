/** A promise and what came of it. */
export interface Promised {
  /** Chance that was told, 0 to 1. */
  readonly chance: number;
  readonly kept: boolean;
}

/**
 * How well chances that were told held: the mean squared difference from what happened, 0 at best; always saying one half gives 0.25.
 *
 * @returns null where there is nothing to judge yet
 * @source G. W. Brier, Verification of forecasts expressed in terms of probability, Monthly Weather Review 78 (1950), for two classes, one of them counted
 * @example brierScore([{ chance: 0.7, kept: true }]) // 0.09
 */
export function brierScore(promises: readonly Promised[]): number | null {
  if (promises.length === 0) return null;
  return promises.reduce((sum, { chance, kept }) => sum + (chance - Number(kept)) ** 2, 0) / promises.length;
}

/** Promises of about the same chance, and how many of them were kept. */
export interface ReliabilityBin {
  readonly from: number;
  readonly to: number;
  readonly promised: number;
  readonly kept: number;
  readonly of: number;
}

/**
 * Promises by tenths, those without any left out.
 *
 * @example reliability([{ chance: 0.7, kept: true }, { chance: 0.72, kept: false }], 10)[0].kept // 0.5
 */
export function reliability(promises: readonly Promised[], bins = 10): ReliabilityBin[] {
  return Array.from({ length: bins }, (_, i) => {
    const [from, to] = [i / bins, (i + 1) / bins];
    const inside = promises.filter((p) => p.chance >= from && (p.chance < to || (i === bins - 1 && p.chance <= 1)));
    return {
      from,
      to,
      promised: inside.reduce((sum, p) => sum + p.chance, 0) / (inside.length || 1),
      kept: inside.filter((p) => p.kept).length / (inside.length || 1),
      of: inside.length,
    };
  }).filter((b) => b.of > 0);
}
