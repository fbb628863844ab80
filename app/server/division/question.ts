import { differenceInCalendarDays, format, parseISO } from "date-fns";
import { casesOf } from "~/app/server/clearance/cases";
import { askings, oneAnswerEach } from "~/app/server/clearance/letters";
import { dayOf } from "~/app/server/http/clock";
import { type Placed, placedDevices } from "~/app/server/planning/lane";
import { catalogueOf, planOnceClear } from "~/app/server/planning/planning";
import type { BenchTime, Candidate, Option, Pin, Question } from "~/core/allocate/question";
import { secondTry } from "~/core/allocate/secondTry";
import { TAKEN_AS_ENOUGH, type TakenAsEnough } from "~/core/allocate/takenAsEnough";
import { usefulYears } from "~/core/allocate/usefulYears";
import type { Need } from "~/core/catalogue/need";
import { answersWithin, silenceCurve } from "~/core/clearance/answers";
import { type ClearanceCase, daysToAnswer } from "~/core/clearance/case";
import { CLEARANCE_STATES } from "~/core/clearance/states";
import type { Way } from "~/core/upgrade/way";
import { wayNamesOf } from "~/core/ways/registry";
import type { Store } from "~/store/database";
import { acceptedWay } from "~/store/devices";
import { readAims } from "~/store/divisionAims";
import { givenCounts, standingPins } from "~/store/divisions";
import { type GroupRow, openGroups } from "~/store/evenings";
import { frozenDevices } from "~/store/promises";
import { type BenchMinutes, benchMinutes } from "./benchMinutes";
import { benchTime } from "./benchTime";

/** What is asked, with what could not be asked for and why. */
export type Asked = {
  readonly question: Question;
  /** Devices on which a promise rests. */
  readonly promised: readonly string[];
  /** Devices that could serve a group once something is read: nothing is taken for granted of them. */
  readonly unread: readonly string[];
  /** Devices that can serve none of those who wait, whatever is read of them: another need, or parts. */
  readonly nobody: readonly string[];
  /** Devices whose account lock is not settled yet: their chance counts the waiting. */
  readonly uncleared: readonly string[];
  /** What it rests on without anybody having written it down; not there in drafts of before it was kept. */
  readonly enough?: readonly TakenAsEnough[];
  readonly problems: readonly string[];
};

/**
 * Everything a division is made of, from what stands in the lane: every device that may still go to somebody, by every way
 * that is open to it for every need that a group waits with.
 *
 * @param without an app that is not asked for, only to see what that would gain
 */
export function divisionQuestion(store: Store, at: Date, without: Without | null = null): Asked {
  const groups = stillWaiting(store);
  const needs = new Map(catalogueOf(store).needs.map((need) => [need.id, without ? lighter(need, without) : need]));
  const clear = clearanceChance(store, at);
  const minutesOf = benchMinutes(store);
  const unread: string[] = [];
  const nobody: string[] = [];
  const uncleared: string[] = [];
  const candidates: Candidate[] = [];
  const byId = new Map<number, string>();
  const skills = new Map<string, readonly string[]>();
  for (const device of placedDevices(store, null)) {
    const { standing, station } = device;
    if (!["clearance", "match", "bench", "checkout"].includes(station)) continue;
    byId.set(standing.id, standing.tag);
    const settled = CLEARANCE_STATES[standing.clearance].opensGate;
    let questions = false;
    const options = groups.flatMap((group): Option[] => {
      const need = needs.get(group.need);
      const days = differenceInCalendarDays(parseISO(group.by), at);
      if (!need || days < 0) return [];
      const ways = waysFor(store, device, group.need, need);
      questions ||= ways.some((way) => way.questions.length > 0);
      return ways.flatMap((way) => {
        if (way.questions.length > 0 || way.waitingDays > days || !way.fit.works) return [];
        const chance = clear(device, days - way.waitingDays) * secondTry(way);
        if (chance < LEAST_CHANCE) return [];
        // The look at the end is anybody's.
        const knows = station === "checkout" ? [] : wayNamesOf(way.operations);
        const skill = knows.join(" + ");
        if (knows.length > 0) skills.set(skill, knows);
        const minutes = minutesOf(device, way, need);
        const option = optionOf(String(group.id), device, way, { need, chance, minutes, at });
        return [knows.length > 0 ? { ...option, skill } : option];
      });
    });
    if (options.length > 0) {
      candidates.push({ device: standing.tag, options });
      if (!settled) uncleared.push(standing.tag);
    } else if (questions) unread.push(standing.tag);
    else if (station !== "checkout") nobody.push(standing.tag);
  }
  // A device on which a promise rests stays with those it was promised to; a pin by hand can't take it away.
  const frozen = frozenDevices(store).flatMap(({ device, grp }): Pin[] => {
    const tag = byId.get(device);
    return tag ? [{ device: tag, group: String(grp), kind: "there", promised: true }] : [];
  });
  const promised = new Set(frozen.map(({ device }) => device));
  const byHand: Pin[] = standingPins(store).flatMap(({ device, grp, kind }) => {
    const tag = byId.get(device);
    return tag && kind !== "free" && !promised.has(tag) ? [{ device: tag, group: String(grp), kind }] : [];
  });
  const pins = [...frozen, ...byHand];
  const { bench, enough, problems } = benchTime(store, { groups, candidates, skills }, at);
  const hopeless = groups.flatMap((group) => hopelessDay(group, bench, dayOf(at)));
  return {
    question: {
      candidates,
      pins,
      bench,
      ...readAims(store).aims,
      groups: groups.map(({ id, wanted, least, by, weight, spares, alike }) => ({
        id: String(id),
        wanted,
        least,
        by,
        weight,
        spares,
        alike,
      })),
    },
    promised: [...promised],
    unread,
    nobody,
    uncleared,
    enough,
    problems: [...hopeless, ...enough.map((each) => TAKEN_AS_ENOUGH[each].now), ...problems],
  };
}

/** What is wrong with a group's day, where nothing can be ready by it whatever is done. */
function hopelessDay({ name, by }: GroupRow, bench: readonly BenchTime[], today: string): string[] {
  const day = format(parseISO(by), "d MMM yyyy");
  if (by < today) return [`${name}: their day, ${day}, is over. Agree on a later one with them, or close the group`];
  if (bench.some((each) => each.day === by && each.evenings === 0))
    return [`${name}: no evening is held until their day, ${day}. Hold one more, or agree on a later day with them`];
  return [];
}

/** Groups with what they still wait for: what was handed over to them is theirs, and asked for no more. */
function stillWaiting(store: Store): GroupRow[] {
  const got = givenCounts(store);
  return openGroups(store).flatMap((group) => {
    const has = got.get(group.id) ?? 0;
    const wanted = group.wanted - has;
    return wanted > 0 ? [{ ...group, wanted, least: Math.min(wanted, Math.max(1, group.least - has)) }] : [];
  });
}

/** An app that a need would do without, to see what that would gain. */
export interface Without {
  readonly need: string;
  readonly app: string;
}

/** Another need to the planner, which keeps its plans by it. */
const lighter = (need: Need, without: Without): Need =>
  need.id === without.need && need.apps.length > 1
    ? { ...need, id: `${need.id} without ${without.app}`, apps: need.apps.filter(({ name }) => name !== without.app) }
    : need;

/** What hardly ever comes is not counted on. */
const LEAST_CHANCE = 0.05;

/** Ways that are open: the accepted one where one stands, else every non-dominated one. */
function waysFor(store: Store, device: Placed, needId: string, need: Need): readonly Way[] {
  const accepted = acceptedWay(device.standing);
  // A decision stands until somebody takes it back: the device is made for the need it was accepted for.
  if (accepted) return device.standing.need === needId ? [accepted] : [];
  return planOnceClear(store, device, need).ways;
}

function optionOf(
  group: string,
  device: Placed,
  way: Way,
  {
    need,
    chance,
    minutes,
    at,
  }: { readonly need: Need; readonly chance: number; readonly minutes: BenchMinutes; readonly at: Date },
): Option {
  const model = device.model?.id ?? "";
  return {
    group,
    model,
    way: way.id,
    build: `${model}|${way.image ?? "as it is"}`,
    chance: toHundredth(chance),
    years: usefulYears(need, way, dayOf(at)),
    ...minutes,
  };
}

/** What an owner or a first look says of a lock holds so often once it is looked at. Common practice, no source. */
const SAID_HOLDS = 0.95;

/** To the hundredth: devices that differ by less are alike. Whatever is still to be done is never certain. */
const toHundredth = (chance: number): number => (chance === 1 ? 1 : Math.min(0.99, Math.round(chance * 100) / 100));

/** Chance that a device's account lock is settled within so many days. */
export function clearanceChance(store: Store, at: Date): (device: Placed, days: number) => number {
  const caseOf = casesOf(store);
  const lockedRate = lockRate(placedDevices(store, null).map(({ standing }) => caseOf(standing.id)));
  const curve = silenceCurve(oneAnswerEach(askings(store, at)));
  return ({ standing }, days) => {
    const was = caseOf(standing.id);
    const info = CLEARANCE_STATES[was.state];
    if (info.opensGate) return 1;
    if (info.verdict === "not-this-way") return 0;
    if (was.state === "none-present" || was.state === "removed") return SAID_HOLDS;
    // Whoever has to be asked first has waited no day yet.
    const waited = daysToAnswer(was, at.toISOString())?.days ?? 0;
    const answers = answersWithin(curve, waited, Math.max(0, days));
    return was.state === "not-looked-at" ? 1 - lockedRate + lockedRate * answers : answers;
  };
}

/**
 * How many of those that were looked at had somebody else's account on them: what to expect of one that nobody looked at.
 *
 * @source Laplace's rule of succession
 */
function lockRate(cases: readonly ClearanceCase[]): number {
  const looked = cases.filter(({ state }) => state !== "not-looked-at" && state !== "not-applicable");
  const locked = looked.filter(
    ({ state, askedAt }) => askedAt !== null || CLEARANCE_STATES[state].verdict === "waiting",
  );
  return (locked.length + 1) / (looked.length + 2);
}
