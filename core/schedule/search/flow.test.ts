import fc from "fast-check";
import { jobShop } from "~/testing/jobShop";
import { FLOW_20_5, FLOW_20_20, FT06, inOneOrder as flowShop } from "~/testing/jobShops";
import { Chance } from "../chance";
import { checkTimetable } from "../checkTimetable";
import { costOf } from "../cost";
import type { Instance } from "../instance";
import { problemOf } from "../problem";
import { type FlowShop, flowShopOf, searchFlow } from "./flow";
import { machinesOf } from "./machines";
import { byRules } from "./rules";

const posed = (instance: Instance) => {
  const { problem } = problemOf(instance);
  return { problem, flow: flowShopOf(problem, machinesOf(problem) as Int32Array) };
};

/** Searches to its end, or to what is short enough, or for so many steps, and holds what comes out against the instance. */
function searched(instance: Instance, { enough = 0, seed = 1, steps = Number.POSITIVE_INFINITY } = {}) {
  const { problem, flow } = posed(instance);
  const told: number[] = [];
  const search = searchFlow(problem, flow as FlowShop, byRules(problem), new Chance(seed));
  let best = byRules(problem);
  for (let step = 0; step < steps; step++) {
    const { value, done } = search.next();
    if (!value) continue;
    best = value;
    const { makespan } = costOf(problem, best);
    if (!done) told.push(makespan);
    if (done || makespan <= enough) break;
  }
  const starts = instance.tasks.map(({ id }, k) => ({ id, start: best.starts[k] }));
  expect(checkTimetable(instance, starts)).toEqual([]);
  // Each that is told is shorter than the one before.
  expect(told).toEqual([...new Set(told)].sort((a, b) => b - a));
  return costOf(problem, best).makespan;
}

/** How long jobs take in this order on every machine, straight from the definition. */
function lengthOf(order: readonly (readonly number[])[]): number {
  const free = order[0].map(() => 0);
  for (const row of order) row.reduce((end, time, m) => (free[m] = Math.max(end, free[m]) + time), 0);
  return free[free.length - 1];
}

const ordersOf = <T>(all: readonly T[]): T[][] =>
  all.length === 0 ? [[]] : all.flatMap((one, k) => ordersOf(all.toSpliced(k, 1)).map((rest) => [one, ...rest]));

const rows = (jobs: number, machines: number, least: number) =>
  fc.array(fc.array(fc.integer({ min: 0, max: 20 }), { minLength: machines, maxLength: machines }), {
    minLength: least,
    maxLength: jobs,
  });

test("of few jobs it finds what trying every order finds", () => {
  fc.assert(
    fc.property(rows(6, 4, 2), fc.integer(), (minutes, seed) => {
      const best = Math.min(...ordersOf(minutes).map(lengthOf));
      // A timetable by the rules may have orders of its own on each machine, and be shorter.
      const { problem } = posed(flowShop(minutes));
      const before = costOf(problem, byRules(problem)).makespan;
      expect(searched(flowShop(minutes), { seed })).toBe(Math.min(best, before));
    }),
    { numRuns: 12, seed: 3 },
  );
});

// Published: Johnson (1954), Optimal two- and three-stage production schedules with setup times included.
test("two machines: as short as Johnson's rule", () => {
  fc.assert(
    fc.property(rows(24, 2, 12), (minutes) => {
      const first = minutes.filter(([a, b]) => a <= b).sort((a, b) => a[0] - b[0]);
      const last = minutes.filter(([a, b]) => a > b).sort((a, b) => b[1] - a[1]);
      const best = lengthOf([...first, ...last]);
      expect(searched(flowShop(minutes), { enough: best })).toBe(best);
    }),
    { numRuns: 4, seed: 5 },
  );
});

test("published flow shops: within so many steps as short as it was when it was measured", () => {
  expect(searched(FLOW_20_5.instance, { steps: 3000 })).toBe(FLOW_20_5.best);
  const lengths = [1, 2, 3].map((seed) => searched(FLOW_20_20.instance, { steps: 2500, seed }));
  expect(Math.max(...lengths)).toBeLessThanOrEqual(1.01 * FLOW_20_20.best);
});

test("what is shorter to begin with stays", () => {
  const minutes = [
    [3, 4],
    [5, 1],
    [2, 6],
  ];
  const { problem } = posed(flowShop(minutes));
  const starts = Float64Array.from(problem.minutes, (_, task) => -100 - task);
  const search = searchFlow(
    problem,
    posed(flowShop(minutes)).flow as FlowShop,
    { starts, modes: new Int32Array(6) },
    new Chance(1),
  );
  for (;;) {
    const { value, done } = search.next();
    if (!done) expect(value).toBeNull();
    else return expect(value.starts).toBe(starts);
  }
});

test.each<[string, Instance]>([
  ["jobs go different ways", FT06.instance],
  ["a job comes to a machine twice", jobShop("0 3 1 2 0 1\n0 1 1 4 0 2")],
  ["a job leaves a machine out", jobShop("0 3 1 2\n0 1")],
  [
    "a task needs no machine",
    {
      ...flowShop([
        [1, 2],
        [2, 1],
      ]),
      tasks: flowShop([
        [1, 2],
        [2, 1],
      ]).tasks.map((task) => ({ ...task, uses: task.after.length ? task.uses : [] })),
    },
  ],
  ["there is one job only", flowShop([[3, 4, 5]])],
  ["a task waits for two", { ...flowShop([[1], [2], [3]]), tasks: forked() }],
])("it is no flow shop where %s", (_, instance) => {
  expect(posed(instance).flow).toBeNull();
});

function forked(): Instance["tasks"] {
  const [one, two, three] = flowShop([[1], [2], [3]]).tasks;
  return [one, two, { ...three, after: [one.id, two.id] }];
}
