import { releaseOf } from "~/core/android/releases";
import type { Hardware } from "~/core/catalogue/common";
import type { Need } from "~/core/catalogue/need";
import { floorOf } from "~/core/catalogue/need";
import { FACTS, type FactKey } from "~/core/device/fact";
import { currentValue } from "~/core/device/lookUp";
import type { Policy, RankKey } from "~/core/policy/policy";
import { faultsOn, fitNeed, type NeedFit } from "./needFit";
import type { ReasonCode } from "./outcome";
import {
  hasKind,
  isUntouched,
  type Label,
  type PlannedOperation,
  pathOf,
  questionKeys,
  type SearchWorld,
} from "./search";

/** An open question: the fact that is missing, and what to do to find it out. */
export interface Question {
  readonly fact: FactKey;
  readonly code: ReasonCode;
  readonly says: string;
}

/** One way to bring a device up: what is done, what comes of it, what it costs and what it rests on. */
export interface Way {
  readonly id: string;
  readonly operations: readonly PlannedOperation[];
  /** The system that runs in the end; null when the device stays as it is and the image is not known. */
  readonly image: string | null;
  readonly release: string;
  readonly api: number;
  readonly patch: string | null;
  /** Patch date of the vendor part under the system: a newer Android on an old one is not fully patched. */
  readonly basePatch: string | null;
  readonly handsOnMinutes: number;
  readonly unattendedMinutes: number;
  readonly waitingDays: number;
  readonly bytes: number;
  /** Chance that all goes well at the first try, 0 to 1. */
  readonly success: number;
  readonly wipes: number;
  readonly irreversible: readonly string[];
  readonly questions: readonly Question[];
  readonly fit: NeedFit;
  readonly faults: readonly { readonly hardware: Hardware; readonly says: string }[];
  /** Nothing is installed: the device is good enough as it is. */
  readonly keeps: boolean;
  readonly enough: boolean;
}

const QUESTION_CODES: Partial<Record<FactKey, ReasonCode>> = {
  "android.release": "release.unknown",
  "build.number": "build.unknown",
  "firmware.version": "firmware.unknown",
  "bootloader.locked": "bootloader.unknown",
  "system.kind": "system.unknown",
  "slot.current": "slot.unknown",
  "room.system": "room.unknown",
};

export function questionOn(fact: FactKey): Question {
  return { fact, code: QUESTION_CODES[fact] ?? "identity.open", says: FACTS[fact].ask };
}

/** True when a path ends with a device that can be handed over: a system that starts, nobody's data, locked where it should be. */
export function isFinished(
  label: Label,
  { device, policy }: SearchWorld,
  need: Need,
  hasServices: (release: string, image: string) => boolean,
): boolean {
  const { state } = label;
  if (state.storage !== "clean" || state.started === "broken") return false;
  if (state.system === "stock") {
    if (state.started === "fresh" || state.recovery !== "stock" || state.verification !== "on") return false;
    // Unlocking only to avoid the reset from Settings is no way to end on the maker's system.
    if ((hasKind(label, "allow-unlock") || hasKind(label, "unlock")) && !hasKind(label, "flash-stock")) return false;
    return isUntouched(label) || state.locked || !(policy.relock === "when-stock" && device.model.relock);
  }
  if (isUntouched(label)) return true;
  if (state.started !== "fresh") return false;
  if (state.system === "generic") return state.verification === "off";
  const wantsServices = need.apps.some((app) => app.services);
  const image = state.image as string;
  return !wantsServices || state.services !== null || !hasServices(releaseOf(state.api) as string, image);
}

/** Turns a finished path into a way, with what it gives this need. */
export function wayOf(label: Label, world: SearchWorld, need: Need): Way {
  const { device, index, policy } = world;
  const { model, facts } = device;
  const { state } = label;
  const path = pathOf(label);
  const image = state.image ? (index.images.get(state.image)?.image ?? null) : null;
  const faults = faultsOn(image, model);
  const broken = new Set<string>([
    ...faults.map((f) => f.hardware),
    ...(currentValue<string>(facts, "hardware.broken") ?? "").split(/[,;]\s*/),
  ]);
  const stock = state.system === "stock";
  const fit = fitNeed(
    {
      api: state.api,
      services: stock || state.services !== null || (image?.services ?? false),
      integrity: stock ? state.locked : (image?.integrity ?? false) && !image?.rooted,
      cpu: image?.cpu ?? model.cpu,
      working: model.hardware.filter((h) => !broken.has(h)),
      faults,
    },
    model,
    need,
  );
  const keeps = isUntouched(label);
  const open = new Set(questionKeys(label.questions));
  // What the end result itself rests on, though no operation asked for it.
  for (const key of ["android.release", "system.kind"] as const) if (state.assumed.includes(key)) open.add(key);
  if (stock && state.assumed.includes("bootloader.locked") && need.apps.some((a) => a.integrity))
    open.add("bootloader.locked");
  return {
    id: path.map((o) => (o.image ? `${o.kind}:${o.image}` : o.kind)).join("+") || "nothing",
    operations: path,
    image: state.image,
    release: releaseOf(state.api) as string,
    api: state.api,
    patch: state.patch,
    basePatch: state.basePatch,
    handsOnMinutes: round(label.handsOn),
    unattendedMinutes: round(label.unattended),
    waitingDays: label.waitingDays,
    bytes: label.bytes,
    success: Math.round(Math.exp(-label.failure) * 1000) / 1000,
    wipes: label.wipes,
    irreversible: hasKind(label, "unlock") ? model.unlock.consequences : [],
    questions: [...open].map(questionOn),
    fit,
    faults,
    keeps,
    enough: keeps && fit.works && state.api >= floorOf(need).api + policy.enoughMargin,
  };
}

const round = (minutes: number) => Math.round(minutes * 10) / 10;
const days = (date: string | null) => (date === null ? 0 : Number(date.replaceAll("-", "")));

/** Everything two ways are compared by, turned so that more is better. */
function aspectsOf(w: Way): readonly number[] {
  return [
    Number(w.fit.works),
    w.fit.appsRun.length,
    -w.fit.hardwareNot.length,
    Number(w.enough),
    w.api,
    days(w.patch),
    -w.faults.length,
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
export function dominates(a: Way, b: Way): boolean {
  return against(aspectsOf(a), aspectsOf(b)) === 1;
}

/** The ways that no other dominates; of equal ones the one whose id comes first. */
export function nonDominated(ways: readonly Way[]): Way[] {
  const aspects = ways.map(aspectsOf);
  return ways.filter((way, i) =>
    ways.every((other, j) => {
      if (i === j) return true;
      const result = against(aspects[j], aspects[i]);
      return result === -1 || (result === 0 && way.id < other.id);
    }),
  );
}

const RANK: Record<RankKey, (a: Way, b: Way, policy: Policy) => number> = {
  works: (a, b) => Number(b.fit.works) - Number(a.fit.works) || b.fit.appsRun.length - a.fit.appsRun.length,
  enough: (a, b) => Number(b.enough) - Number(a.enough),
  sure: (a, b, policy) => Number(b.success >= policy.sureFrom) - Number(a.success >= policy.sureFrom),
  steady: (a, b) => Number(b.faults.length === 0) - Number(a.faults.length === 0),
  release: (a, b) => b.api - a.api,
  patch: (a, b) => days(b.patch) - days(a.patch),
  success: (a, b) => b.success - a.success,
  irreversible: (a, b) => a.irreversible.length - b.irreversible.length,
  wipes: (a, b) => a.wipes - b.wipes,
  waiting: (a, b) => a.waitingDays - b.waitingDays,
  "hands-on": (a, b) => a.handsOnMinutes - b.handsOnMinutes,
  unattended: (a, b) => a.unattendedMinutes - b.unattendedMinutes,
  bytes: (a, b) => a.bytes - b.bytes,
};

/**
 * Orders two ways by the policy: the first aspect in which they differ decides.
 *
 * @returns negative when `a` is the better one
 */
export function compareWays(a: Way, b: Way, policy: Policy): number {
  for (const key of policy.rank) {
    const difference = RANK[key](a, b, policy);
    if (difference !== 0) return difference;
  }
  // What the policy leaves out still decides between ways it takes for equal, so that a dominating way is never behind.
  const [x, y] = [aspectsOf(a), aspectsOf(b)];
  const differs = x.findIndex((value, i) => value !== y[i]);
  if (differs >= 0) return y[differs] - x[differs];
  return a.id < b.id ? -1 : a.id > b.id ? 1 : 0;
}

/** The aspect that puts `a` before `b` under the policy, for the sentence "before the next because…". */
export function decidingAspect(a: Way, b: Way, policy: Policy): RankKey | null {
  return policy.rank.find((key) => RANK[key](a, b, policy) !== 0) ?? null;
}
