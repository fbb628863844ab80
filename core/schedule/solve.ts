import { lowerBound } from "./bound";
import { Builder, type Timetable } from "./build";
import { Chance } from "./chance";
import { type Cost, costOf } from "./cost";
import type { Problem } from "./problem";
import { proveShop } from "./prove";
import { searchLines } from "./search/anneal";
import { flowShopOf, searchFlow } from "./search/flow";
import { dueInLine, machinesOf } from "./search/machines";
import { searchOrders } from "./search/orders";
import { byRules } from "./search/rules";
import { searchShop } from "./search/shop";

/** How far solving has come. */
export type Progress = {
  readonly timetable: Timetable;
  readonly cost: Cost;
  /** Proven: no timetable is better. */
  readonly bound: number;
  /** Distance to the bound as a part of what was found; 0 when it is proven best. */
  readonly gap: number;
  /** Proven for the last end, whatever the aim is. */
  readonly soonest: number;
};

export type Options = {
  readonly seed?: number;
  /** A clock in milliseconds; handed in, because the core has none. */
  readonly now: () => number;
  /** Whether half of the time goes into proving; another thread may do it better. */
  readonly prove?: boolean;
  /** An order to begin with, as people have it already: one key per task, smaller is earlier. */
  readonly order?: Float64Array;
  /** Whether it goes on when the aim is reached, for what is looked at second. */
  readonly both?: boolean;
};

/** Milliseconds that searching and proving have in turn. */
const TURN = 60;
/** A proof that came to nothing in so many turns is hopeless most often: from then on it has a tenth of a turn. */
const PROOF_TURNS = 40;

/**
 * Solves a problem for as long as it is asked to: each step takes some tens of milliseconds and tells how far it has
 * come. Ends by itself when the best is proven; may be left at any step.
 */
export function* solving(problem: Problem, options: Options): Generator<Progress, Progress> {
  const { now, prove = true, order, both = false } = options;
  const chance = new Chance(options.seed ?? 1);
  let timetable = order ? new Builder(problem).build(order) : byRules(problem);
  let bound = lowerBound(problem);
  const soonest = problem.aim === "makespan" ? bound : lowerBound({ ...problem, aim: "makespan" });
  const told = (): Progress => {
    const cost = costOf(problem, timetable);
    return {
      timetable,
      cost,
      bound,
      gap: gapOf(cost, bound),
      soonest: Math.max(soonest, problem.aim === "makespan" ? bound : 0),
    };
  };
  const done = () => {
    const { cost, gap } = told();
    return gap === 0 && cost.unplaced === 0 && (!both || cost.second <= soonest);
  };
  if (problem.count === 0 || done()) return told();
  const machines = machinesOf(problem);
  const shop = machines !== null && problem.aim === "makespan" && problem.count <= MOST_IN_PAIRS;
  const search = searching(problem, timetable, chance, { machines, shop });
  let proof = shop && prove && problem.count <= MOST_TO_PROVE ? proveShop(problem, machines, bound) : null;
  for (let turns = 0; ; turns++) {
    yield told();
    for (const until = now() + TURN; now() < until; ) {
      const better = search.next();
      if (better.done) {
        // An order that nothing on its longest path can better is the best there is.
        if (shop) bound = costOf(problem, timetable).aim;
        return told();
      }
      if (better.value) timetable = better.value;
      if (done()) return told();
    }
    const share = turns < PROOF_TURNS ? TURN : TURN / 10;
    for (const until = now() + share; proof && now() < until; ) {
      const step = proof.next();
      if (!step.done) continue;
      if (step.value === "impossible") bound++;
      else timetable = { starts: step.value, modes: new Int32Array(problem.count) };
      if (done()) return told();
      proof = machines && proveShop(problem, machines, bound);
      turns = 0;
    }
  }
}

/** The search that a problem of this kind is best looked at with; of flow shops a short one goes ahead. */
function* searching(
  problem: Problem,
  start: Timetable,
  chance: Chance,
  { machines, shop }: { readonly machines: Int32Array | null; readonly shop: boolean },
): Generator<Timetable | null, unknown> {
  const flow = machines && problem.aim === "makespan" ? flowShopOf(problem, machines) : null;
  const begin = flow ? yield* searchFlow(problem, flow, start, chance) : start;
  if (machines && shop) return yield* searchShop(problem, machines, begin, chance);
  return yield* dueInLine(problem) ? searchLines(problem, begin, chance) : searchOrders(problem, begin, chance);
}

/** The tabu search remembers pairs of tasks: of more than this many it would take some hundred megabytes. */
const MOST_IN_PAIRS = 4_000;

/** Beyond this many tasks a complete search ends for nobody who waits. */
const MOST_TO_PROVE = 400;

/**
 * How far a cost may be from the best, as a part of it.
 *
 * @example gapOf({ aim: 100 }, 96) // 0.04
 */
export function gapOf({ aim }: Pick<Cost, "aim">, bound: number): number {
  return aim <= bound ? 0 : (aim - bound) / aim;
}

/**
 * Solves for at most so many milliseconds.
 *
 * @example solve(problem, { milliseconds: 5000, seed: 1, now: Date.now, … }).cost.makespan // 55
 */
export function solve(problem: Problem, options: Options & { readonly milliseconds: number }): Progress {
  const until = options.now() + options.milliseconds;
  const steps = solving(problem, options);
  for (;;) {
    const { value, done } = steps.next();
    if (done || options.now() >= until) return value;
  }
}
