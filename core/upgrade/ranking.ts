import type { Policy, RankKey } from "~/core/policy/policy";
import type { Way } from "./way";

/** What two ways are compared by. */
export type Ranked = Pick<
  Way,
  | "fit"
  | "enough"
  | "api"
  | "patch"
  | "handsOnMinutes"
  | "unattendedMinutes"
  | "waitingDays"
  | "bytes"
  | "success"
  | "wipes"
  | "cleaned"
  | "irreversible"
  | "questions"
  | "faults"
>;

const dates = new Map<string, number>();

/** A date as a number that orders like it; each is worked out once, for a search compares the same few very often. */
function days(date: string | null): number {
  if (date === null) return 0;
  let number = dates.get(date);
  if (number === undefined) {
    number = Number(date.replaceAll("-", ""));
    dates.set(date, number);
  }
  return number;
}

/** Everything two ways are compared by, turned so that more is better. */
function aspectsOf(w: Ranked): readonly number[] {
  return [
    Number(w.fit.works),
    w.fit.appsRun.length,
    -w.fit.hardwareNot.length,
    Number(w.enough),
    w.api,
    days(w.patch),
    -w.faults.length,
    Number(w.cleaned !== null),
    -w.handsOnMinutes,
    -w.unattendedMinutes,
    -w.waitingDays,
    -w.bytes,
    w.success,
    -w.wipes,
    -w.irreversible.length,
    -w.questions.length,
  ];
}

/** 1 when `a` dominates `b` (at least as good in all aspects, better in one), 0 when all are equal, -1 otherwise. */
function against(a: readonly number[], b: readonly number[]): -1 | 0 | 1 {
  let better: 0 | 1 = 0;
  for (let i = 0; i < a.length; i++) {
    if (a[i] < b[i]) return -1;
    if (a[i] > b[i]) better = 1;
  }
  return better;
}

/** True when `a` is at least as good as `b` in every aspect and better in one. */
export function dominates(a: Ranked, b: Ranked): boolean {
  return against(aspectsOf(a), aspectsOf(b)) === 1;
}

/**
 * The items that no other dominates; of equal ones the one whose id comes first. Each is held against those that stand so
 * far only: what something standing dominates, nothing behind it could have needed.
 */
export function nonDominated<T extends Ranked>(items: readonly T[], idOf: (item: T) => string): T[] {
  let front: { readonly item: T; readonly aspects: readonly number[] }[] = [];
  for (const item of items) {
    const aspects = aspectsOf(item);
    let beaten = false;
    let beats = false;
    for (const other of front) {
      const result = against(other.aspects, aspects);
      if (result === 1 || (result === 0 && idOf(other.item) <= idOf(item))) {
        beaten = true;
        break;
      }
      if (result === 0 || against(aspects, other.aspects) === 1) beats = true;
    }
    if (beaten) continue;
    if (beats) front = front.filter((other) => against(aspects, other.aspects) === -1);
    front.push({ item, aspects });
  }
  return front.map((f) => f.item);
}

const RANK: Record<RankKey, (a: Way, b: Way, policy: Policy) => number> = {
  works: (a, b) => Number(b.fit.works) - Number(a.fit.works) || b.fit.appsRun.length - a.fit.appsRun.length,
  enough: (a, b) => Number(b.enough) - Number(a.enough),
  sure: (a, b, policy) => Number(b.success >= policy.sureFrom) - Number(a.success >= policy.sureFrom),
  steady: (a, b) => Number(b.faults.length === 0) - Number(a.faults.length === 0),
  release: (a, b) => b.api - a.api,
  patch: (a, b) => days(b.patch) - days(a.patch),
  // What is good enough as it is needs no hour more.
  cleaned: (a, b) => Number(b.cleaned !== null && !b.enough) - Number(a.cleaned !== null && !a.enough),
  success: (a, b) => b.success - a.success,
  irreversible: (a, b) => a.irreversible.length - b.irreversible.length,
  wipes: (a, b) => a.wipes - b.wipes,
  waiting: (a, b) => a.waitingDays - b.waitingDays,
  "hands-on": (a, b) => a.handsOnMinutes - b.handsOnMinutes,
  unattended: (a, b) => a.unattendedMinutes - b.unattendedMinutes,
  bytes: (a, b) => a.bytes - b.bytes,
};

/** The house's order; where it wants the newest, faults count behind the release. */
function orderOf({ rank, newest }: Policy): readonly RankKey[] {
  const release = rank.indexOf("release");
  if (newest === "steady" || release < 0) return rank;
  const others = rank.filter((key) => key !== "steady");
  const at = others.indexOf("release") + 1;
  return [...others.slice(0, at), "steady", ...others.slice(at)];
}

/**
 * Orders two ways by the policy: the first aspect in which they differ decides.
 *
 * @returns negative when `a` is the better one
 */
export function compareWays(a: Way, b: Way, policy: Policy): number {
  for (const key of orderOf(policy)) {
    const difference = RANK[key](a, b, policy);
    if (difference !== 0) return difference;
  }
  // What the policy leaves out still decides between ways it takes for equal, so that a dominating way is never behind.
  const [x, y] = [aspectsOf(a), aspectsOf(b)];
  const differs = x.findIndex((value, i) => value !== y[i]);
  if (differs >= 0) return y[differs] - x[differs];
  return a.id < b.id ? -1 : a.id > b.id ? 1 : 0;
}

/**
 * The aspect that puts `a` before `b` under the policy, for the sentence "before the next because…".
 *
 * @example decidingAspect({ api: 33, … }, { api: 31, … }, policy) // "release"
 */
export function decidingAspect(a: Way, b: Way, policy: Policy): RankKey | null {
  return orderOf(policy).find((key) => RANK[key](a, b, policy) !== 0) ?? null;
}
