import { z } from "zod";
import { releaseOf } from "~/core/android/releases";
import { Hardware } from "~/core/catalogue/common";
import type { Need } from "~/core/catalogue/need";
import { floorOf } from "~/core/catalogue/need";
import { brokenHardware } from "~/core/device/brokenHardware";
import { FACTS, FactKey } from "~/core/device/fact";
import { currentValue } from "~/core/device/lookUp";
import type { Policy, RankKey } from "~/core/policy/policy";
import { firmwareAnswer, withdrawnText } from "~/core/ways/common/rules";
import { STOCK_FACTS } from "~/core/ways/official-update/rules";
import type { Bound } from "~/core/ways/operation";
import type { ReasonCode } from "~/core/ways/reasons";
import { OPERATION_KINDS } from "~/core/ways/registry";
import { asClause } from "./clause";
import { faultsOn, fitNeed, NeedFit } from "./needFit";
import type { OpenFact } from "./questions";
import { boundOf, operationsOf, type Path, type Searched, type SearchWorld, type Taught } from "./search";
import { type WayBack, wayBackFrom } from "./wayBack";

/** An open question: the fact that is missing, and what to do to find it out. */
export const Question = z.object({ fact: FactKey, code: z.string(), says: z.string() }).readonly();
export type Question = Omit<z.infer<typeof Question>, "code"> & { readonly code: ReasonCode };

const list = <T extends z.ZodType>(of: T) => z.array(of).readonly();

/** One way to bring a device up: what is done, what comes of it, what it costs and what it rests on. */
export const Way = z.object({
  id: z.string(),
  operations: list(z.object({ kind: z.enum(OPERATION_KINDS), image: z.string().nullable() }).readonly()),
  /** The system that runs in the end; null when the device stays as it is and the image is not known. */
  image: z.string().nullable(),
  release: z.string(),
  api: z.number(),
  patch: z.string().nullable(),
  /** Patch date of the vendor part under the system: a newer Android on an old one is not fully patched. */
  basePatch: z.string().nullable(),
  handsOnMinutes: z.number(),
  unattendedMinutes: z.number(),
  waitingDays: z.number(),
  bytes: z.number(),
  /** Chance that all goes well at the first try, 0 to 1. */
  success: z.number(),
  wipes: z.number(),
  irreversible: list(z.string()),
  questions: list(z.object({ fact: FactKey, code: z.custom<ReasonCode>(), says: z.string() }).readonly()),
  fit: NeedFit,
  faults: list(z.object({ hardware: Hardware, says: z.string() }).readonly()),
  /** Nothing is installed: the device is good enough as it is. */
  keeps: z.boolean(),
  enough: z.boolean(),
  /** What has to be said beside it and on its sheet. */
  cautions: list(z.string()).default([]),
  /** It writes over the lead: it could leave a device that does not start. */
  writes: z.boolean().default(false),
  /** Operations whose chance rests on own runs too, with the runs. */
  learned: list(
    z
      .object({
        kind: z.string(),
        image: z.string().nullable(),
        chance: z.number(),
        low: z.number(),
        high: z.number(),
        here: z.object({ ok: z.number(), of: z.number() }).readonly(),
        all: z.object({ ok: z.number(), of: z.number() }).readonly(),
      })
      .readonly(),
  ).default([]),
  /** How the device comes back when it goes wrong; null where nothing is written, or no way back is known. */
  back: z
    .object({
      image: z.string(),
      title: z.string(),
      bytes: z.number(),
      minutes: z.number(),
      whole: z.boolean(),
    })
    .readonly()
    .nullable()
    .default(null),
});
export type Way = Readonly<z.infer<typeof Way>>;

/** The question behind an open fact, in words. A contradiction asks to read again. */
export function questionOn(
  { fact, code }: OpenFact,
  { device: { facts, model } }: Pick<SearchWorld, "device">,
): Question {
  const standing = facts.get(fact);
  if (standing?.contradictedBy)
    return {
      fact,
      code: "fact.contradicted",
      says: `Read again: ${FACTS[fact].says} was read as ${standing.value}, later said to be ${standing.contradictedBy.value}`,
    };
  if (code === "firmware.not-in-order")
    return {
      fact,
      code,
      says: `Put firmware ${standing?.value ?? "versions"} into its place in the record of ${model.id}: its order of versions does not hold all that are compared`,
    };
  return { fact, code, says: FACTS[fact].ask };
}

/** True when a path ends with a device that can be handed over: a system that starts, nobody's data, locked where it should be. */
export function isFinished(
  path: Path,
  { device, policy }: SearchWorld,
  need: Need,
  hasServices: (release: string, image: string) => boolean,
): boolean {
  const { state } = path;
  if (state.storage !== "clean" || state.started === "broken" || state.system === "none") return false;
  // Unlocking only to avoid the reset from Settings is no way to end.
  if (path.opened && !path.installed) return false;
  if (firmwareAnswer(device.model, state.firmware).is === "fails") return false;
  if (state.system === "stock") {
    if (state.started === "fresh" || state.recovery !== "stock" || state.verification !== "on") return false;
    if (state.product !== "present") return false;
    // What was written whole is locked again, where the house wants it; what came unlocked can't be told to be whole.
    return !state.whole || state.locked || !(policy.relock === "when-stock" && device.model.relock);
  }
  if (state.system === "generic" && state.verification !== "off") return false;
  if (path.untouched) return state.started === "running";
  if (state.started !== "fresh") return false;
  if (state.system === "generic") return true;
  const wantsServices = need.apps.some((app) => app.services);
  return !wantsServices || state.services !== null || !hasServices(releaseOf(state.api) ?? "", state.image ?? "");
}

/** What a finished path comes to: everything two ways are compared by. */
export interface End extends Ranked {
  readonly path: Path;
  /** Hardware that works in the end. */
  readonly working: readonly Hardware[];
}

type Ranked = Pick<
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
  | "irreversible"
  | "questions"
  | "faults"
>;

interface Fit extends Pick<Way, "fit" | "faults"> {
  readonly working: readonly Hardware[];
}

/** Works out the ends of a search for one need; what ends alike is fitted once. */
export class Ends {
  private readonly fits = new Map<string, Fit>();
  private readonly floor: number;
  private readonly broken: readonly string[];

  constructor(
    private readonly world: SearchWorld,
    private readonly searched: Searched,
    private readonly need: Need,
  ) {
    this.floor = floorOf(need).api;
    this.broken = brokenHardware(currentValue(world.device.facts, "hardware.broken") ?? "");
  }

  of(path: Path): End {
    const { state } = path;
    const { fit, faults, working } = this.fitOf(path);
    return {
      path,
      working,
      fit,
      faults,
      enough: path.untouched && fit.works && state.api >= this.floor + this.world.policy.enoughMargin,
      api: state.api,
      patch: state.patch,
      handsOnMinutes: round(path.handsOn),
      unattendedMinutes: round(path.unattended),
      waitingDays: path.waitingDays,
      bytes: path.bytes,
      success: Math.round(Math.exp(-path.failure) * 1000) / 1000,
      wipes: path.wipes,
      irreversible: path.irreversible === 0 ? [] : boundOf(path).flatMap((b) => b.cost.irreversible ?? []),
      questions: this.questionsOf(path),
    };
  }

  private fitOf({ state }: Path): Fit {
    const key = `${state.image}|${state.system}|${state.api}|${state.locked}|${state.services === null}`;
    const kept = this.fits.get(key);
    if (kept) return kept;
    const { device, index } = this.world;
    const { model } = device;
    const image = state.image === null ? null : (index.images.get(state.image)?.image ?? null);
    const faults = faultsOn(image, model);
    const broken = new Set<string>([...faults.map((f) => f.hardware), ...this.broken]);
    const working = model.hardware.filter((h) => !broken.has(h));
    const stock = state.system === "stock";
    // A stock build says whether it brings the services; one that nobody recorded is taken for an ordinary one.
    const built = image ? image.services : stock;
    const fit = fitNeed(
      {
        api: state.api,
        services: built || state.services !== null,
        integrity: stock ? state.locked : (image?.integrity ?? false) && !image?.rooted,
        cpu: image?.cpu ?? model.cpu,
        working,
        faults,
      },
      model,
      this.need,
    );
    const judged = { fit, faults, working };
    this.fits.set(key, judged);
    return judged;
  }

  /** What the operations left open, and what the end itself rests on though no operation asked for it. */
  private questionsOf(path: Path): readonly Question[] {
    const { state } = path;
    const open = this.searched.questionsOf(path);
    if (state.assumed.length > 0 || this.world.device.model.firmware.dangerous.length > 0) {
      const rests = (fact: FactKey, code: ReasonCode) => {
        if (state.assumed.includes(fact) && !open.some((q) => q.fact === fact)) open.push({ fact, code });
      };
      rests("android.release", "release.unknown");
      rests("system.kind", "system.unknown");
      const asksFor = (what: "integrity" | "services") => this.need.apps.some((app) => app[what]);
      if (state.system === "stock") {
        const parts = STOCK_FACTS.filter((key) => state.assumed.includes(key));
        // A locked bootloader answers all of them at once.
        if (asksFor("integrity") || parts.length) rests("bootloader.locked", "bootloader.unknown");
        if (!state.assumed.includes("bootloader.locked")) for (const key of parts) rests(key, "fact.open");
      }
      if (state.system === "custom" && asksFor("services")) rests("services.addon", "fact.open");
      const firmware = firmwareAnswer(this.world.device.model, state.firmware);
      if (firmware.is === "unknown" && !open.some((q) => q.fact === firmware.fact)) open.push(firmware);
    }
    return open.map((q) => questionOn(q, this.world));
  }
}

/** Turns an end into a way, with everything that is told of it. */
export function wayOf(end: End, world: SearchWorld, backs: Map<string | null, WayBack | null> = new Map()): Way {
  const { path } = end;
  const { state } = path;
  const bounds = boundOf(path);
  const operations = operationsOf(path);
  const writes = bounds.some(({ operation }) => !operation.withoutComputer && !operation.opens);
  // Written out field by field: spreading what was taken apart is many times slower, and there are very many ways.
  return {
    id: wayId(operations),
    operations,
    image: state.image,
    release: releaseOf(state.api) ?? String(state.api),
    api: end.api,
    patch: end.patch,
    basePatch: state.basePatch,
    handsOnMinutes: end.handsOnMinutes,
    unattendedMinutes: end.unattendedMinutes,
    waitingDays: end.waitingDays,
    bytes: end.bytes,
    success: end.success,
    wipes: end.wipes,
    irreversible: end.irreversible,
    questions: end.questions,
    fit: end.fit,
    faults: end.faults,
    keeps: path.untouched,
    enough: end.enough,
    cautions: cautionsOf(end, world, bounds),
    writes,
    learned: world.taught ? learnedOf(operations, bounds, world.taught) : NOTHING,
    back: writes ? keptBack(state, world, backs) : null,
  };
}

const NOTHING: readonly never[] = [];

/** Ways back differ only by the firmware that is on the device in the end. */
function keptBack(end: Path["state"], world: SearchWorld, kept: Map<string | null, WayBack | null>): WayBack | null {
  let back = kept.get(end.firmware);
  if (back === undefined) {
    back = wayBackFrom(end, world);
    kept.set(end.firmware, back);
  }
  return back;
}

/** What the chances of a way's operations rest on, beside the handbook. */
function learnedOf(operations: Way["operations"], bounds: readonly Bound[], taught: Taught): Way["learned"] {
  return operations.flatMap((operation, i) => {
    const found = taught.learned(operation, bounds[i].cost);
    if (!found) return [];
    const { mean, low, high, here, all } = found;
    return [{ kind: operation.kind, image: operation.image, chance: mean, low, high, here, all }];
  });
}

const wayId = (operations: Way["operations"]) =>
  operations.map((o) => (o.image ? `${o.kind}:${o.image}` : o.kind)).join("+") || "nothing";

/** What has to be said beside a way: by its operations, and by how it ends. */
function cautionsOf(
  { path: { state, untouched }, working }: End,
  { index, device, policy }: SearchWorld,
  bounds: readonly Bound[],
): readonly string[] {
  const cautions: string[] = [];
  for (const { caution } of bounds) if (caution !== null && !cautions.includes(caution)) cautions.push(caution);
  const image = untouched && state.image !== null ? index.images.get(state.image)?.image : undefined;
  const withdrawn = image?.withdrawn ? withdrawnText(image, (id) => index.images.get(id)?.image.title) : null;
  if (image && withdrawn) cautions.push(`The build that runs, ${image.title}: ${asClause(withdrawn)}`);
  if (device.model.form === "phone" && !working.includes("calls")) cautions.push(NOT_A_PHONE);
  if (!untouched && state.system !== "stock") cautions.push(TERMS);
  if (state.system === "stock" && !state.locked && policy.relock === "when-stock" && device.model.relock)
    cautions.push(STAYS_UNLOCKED);
  return cautions;
}

const NOT_A_PHONE = "Calls do not work: it goes out with the label “not a phone” only";
const TERMS =
  "Terms of builds and of services packages vary: look at them before it goes out. The lane ships and links neither";
const STAYS_UNLOCKED =
  "It stays unlocked: nobody wrote its system whole here, and a device is never locked on trust. To lock it, write the whole stock package first";

const round = (minutes: number) => Math.round(minutes * 10) / 10;
const days = (date: string | null) => (date === null ? 0 : Number(date.replaceAll("-", "")));

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

export const endId = (end: End) => wayId(operationsOf(end.path));

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
