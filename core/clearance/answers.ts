/** How long one asking has taken, or has taken so far. */
export interface Asking {
  /** Days, 0 or more. */
  readonly days: number;
  /** False while no answer has come: it took at least so long. */
  readonly answered: boolean;
  /** The case ended without one (declined, out of reach): no answer will come any more. */
  readonly over?: boolean;
}

/** A point where the share of those still silent falls. */
export interface Silence {
  readonly day: number;
  /** Askings that were still silent just before that day. */
  readonly atRisk: number;
  readonly answers: number;
  /** Share still silent after that day, 0 to 1. */
  readonly share: number;
  /** Standard error of the share (Greenwood). */
  readonly error: number;
}

/**
 * Share of askings still without an answer, by days since the asking.
 *
 * Open cases count for as long as they have waited: leaving them out would make donors look faster than they are. A case
 * that ended without an answer stays in the count for ever: leaving it out where it ended would take for granted that its
 * owner would have answered like the others.
 *
 * @source Kaplan and Meier (1958), product-limit estimate; standard error by Greenwood's formula; cases that ended otherwise
 *   as in Fine and Gray (1999)
 * @example silenceCurve([{ days: 3, answered: true, over: false }])[0].share // 0
 */
export function silenceCurve(askings: readonly Asking[]): Silence[] {
  const lasting = (a: Asking) => (a.over ? Number.POSITIVE_INFINITY : a.days);
  const byDay = askings.map((a) => ({ days: lasting(a), answered: a.answered })).sort((a, b) => a.days - b.days || 0);
  const curve: Silence[] = [];
  let share = 1;
  let greenwood = 0;
  for (let i = 0; i < byDay.length; ) {
    const { days } = byDay[i];
    const atRisk = byDay.length - i;
    let answers = 0;
    for (; i < byDay.length && byDay[i].days === days; i++) if (byDay[i].answered) answers++;
    if (answers === 0) continue;
    share *= 1 - answers / atRisk;
    greenwood += atRisk > answers ? answers / (atRisk * (atRisk - answers)) : 0;
    curve.push({ day: days, atRisk, answers, share, error: share * Math.sqrt(greenwood) });
  }
  return curve;
}

/** Share still silent so many days after the asking. */
export function silentAfter(curve: readonly Silence[], days: number): number {
  return curve.findLast((point) => point.day <= days)?.share ?? 1;
}

/**
 * Chance that somebody who was silent so far answers within so many more days.
 *
 * @param waited days since the asking; 0 for one who is asked today
 * @example answersWithin(silenceCurve([{ days: 3, answered: true, over: false }]), 0, 3) // 1
 */
export function answersWithin(curve: readonly Silence[], waited: number, days: number): number {
  const before = silentAfter(curve, waited);
  return before > 0 ? 1 - silentAfter(curve, waited + days) / before : 0;
}

/**
 * First day by which the given share of askings has been answered; null when the curve never comes down that far.
 *
 * @param share 0.5 for the median, 0.8 for the 80 % point
 */
export function answeredBy(curve: readonly Silence[], share: number): number | null {
  return curve.find((point) => point.share <= 1 - share + 1e-12)?.day ?? null;
}

export interface AnswerTimes {
  readonly channel: string;
  readonly asked: number;
  readonly answered: number;
  readonly median: number | null;
  readonly eighty: number | null;
}

/**
 * Median and 80 % point by channel, with the counts they rest on; all channels together come first.
 *
 * @example answerTimes([{ days: 3, answered: true, over: false, channel: "mail" }])[0].asked // 1
 */
export function answerTimes(askings: readonly (Asking & { readonly channel: string })[]): AnswerTimes[] {
  const channels = [...new Set(askings.map((a) => a.channel))].sort();
  const times = (channel: string, own: readonly Asking[]): AnswerTimes => {
    const curve = silenceCurve(own);
    return {
      channel,
      asked: own.length,
      answered: own.filter((a) => a.answered).length,
      median: answeredBy(curve, 0.5),
      eighty: answeredBy(curve, 0.8),
    };
  };
  return [
    times("all", askings),
    ...channels.map((channel) =>
      times(
        channel,
        askings.filter((a) => a.channel === channel),
      ),
    ),
  ];
}
