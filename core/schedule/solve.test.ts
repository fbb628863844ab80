import fc from "fast-check";
import { FLOW_20_20, FT06, FT20 } from "~/testing/jobShops";
import { lowerBound } from "./bound";
import { Builder } from "./build";
import { checkTimetable } from "./checkTimetable";
import { compareCosts, costOf } from "./cost";
import { Instance } from "./instance";
import { makeProblem, type Problem, problemOf } from "./problem";
import { proveShop } from "./prove";
import { machinesOf } from "./search/machines";
import { solutionOf } from "./solution";
import { solve, solving } from "./solve";

/** A clock that counts how often it is asked: the same run every time, on every machine. */
const ticking = () => {
  let ticks = 0;
  return () => ticks++;
};

function solved(instance: Instance, ticks: number, { seed = 1, prove = true } = {}) {
  const posed = problemOf(instance);
  const progress = solve(posed.problem, { now: ticking(), milliseconds: ticks, seed, prove });
  const solution = solutionOf(instance, posed, progress);
  expect(checkTimetable(instance, solution.tasks)).toEqual([]);
  return solution;
}

// Published: Fisher and Thompson (1963), optimum 55. The larger ones are solved by the program itself (e2e/outside/schedule.spec.ts).
test("reaches 55 for the 6 × 6 job shop and proves it", () => {
  const { makespan, bound, gap } = solved(FT06.instance, 100_000);
  expect({ makespan, bound, gap }).toEqual({ makespan: 55, bound: 55, gap: 0 });
});

// Published: Taillard (1993), best known 2297 with the same order on every machine.
test("a flow shop is looked at as one first", () => {
  expect(solved(FLOW_20_20.instance, 2000, { prove: false }).makespan).toBeLessThanOrEqual(1.02 * FLOW_20_20.best);
});

test("lengths that no unit divides: nothing overlaps, and what is proven is proven of them as they are", () => {
  const lengths = fc.array(fc.double({ min: 1e-9, max: 9, noNaN: true }), { minLength: 1, maxLength: 6 });
  fc.assert(
    fc.property(lengths, (minutes) => {
      const uses = [{ resource: "hands", amount: 1 }];
      const tasks = minutes.map((each, k) => ({ id: k, minutes: each, uses, due: 0, weight: 1 }));
      const resources = [{ id: "hands", capacity: 1 }];
      // One machine: all behind each other; late least in all with the shortest first (Smith 1956).
      const inOrder = [...minutes].sort((a, b) => a - b);
      const all = inOrder.reduce((sum, each) => sum + each, 0);
      const late = inOrder.reduce((sum, each, k) => sum + each * (inOrder.length - k), 0);
      for (const [aim, best] of [
        ["makespan", all],
        ["tardiness", late],
      ] as const) {
        const solution = solved(Instance.parse({ resources, tasks, aim }), 300);
        expect(solution.bound).toBeLessThanOrEqual(best + 1e-9);
        expect(solution[aim]).toBeGreaterThanOrEqual(best - 1e-9);
        expect(solution[aim]).toBeLessThanOrEqual(best + 1e-4);
        const timed = solution.tasks.map(({ id, start }) => ({ start, end: start + minutes[Number(id)] }));
        timed.sort((a, b) => a.start - b.start || a.end - b.end);
        for (let k = 1; k < timed.length; k++) expect(timed[k].start).toBeGreaterThan(timed[k - 1].end - 1e-12);
      }
    }),
    { numRuns: 60 },
  );
});

test("proves that nothing ends a minute earlier, and finds what just fits", () => {
  const { problem } = problemOf(FT06.instance);
  const machines = machinesOf(problem) as Int32Array;
  const ended = (limit: number) => {
    const proof = proveShop(problem, machines, limit);
    for (;;) {
      const { value, done } = proof.next();
      if (done) return value;
    }
  };
  expect(ended(54)).toBe("impossible");
  const starts = ended(55) as Float64Array;
  const timed = FT06.instance.tasks.map(({ id }, k) => ({ id, start: starts[k] }));
  expect(checkTimetable(FT06.instance, timed)).toEqual([]);
});

/** The best of all orders: the earliest timetable of every order of the tasks is built. */
function bruteForce(problem: Problem) {
  const builder = new Builder(problem);
  const keys = new Float64Array(problem.count);
  let best = costOf(problem, builder.build(keys));
  const permute = (left: readonly number[], place: number) => {
    if (left.length === 0) {
      const cost = costOf(problem, builder.build(keys));
      if (compareCosts(cost, best) < 0) best = cost;
    }
    for (const task of left) {
      keys[task] = place;
      permute(
        left.filter((other) => other !== task),
        place + 1,
      );
    }
  };
  permute([...keys.keys()], 0);
  return best;
}

const small = fc
  .record({
    capacities: fc.array(fc.integer({ min: 1, max: 3 }), { minLength: 2, maxLength: 2 }),
    tasks: fc.array(
      fc.record({
        minutes: fc.integer({ min: 0, max: 6 }),
        amounts: fc.array(fc.integer({ min: 0, max: 3 }), { minLength: 2, maxLength: 2 }),
        back: fc.integer({ min: 0, max: 8 }),
        due: fc.integer({ min: 0, max: 12 }),
        weight: fc.integer({ min: 0, max: 3 }),
      }),
      { minLength: 1, maxLength: 5 },
    ),
    aim: fc.constantFrom("makespan" as const, "tardiness" as const),
  })
  .map(({ capacities, tasks, aim }) =>
    Instance.parse({
      aim,
      resources: capacities.map((capacity, r) => ({ id: `r${r}`, capacity })),
      tasks: tasks.map(({ minutes, amounts, back, due, weight }, k) => ({
        id: `t${k}`,
        minutes,
        due,
        weight,
        after: back > 0 && k >= back ? [`t${k - back}`] : [],
        uses: amounts.map((amount, r) => ({ resource: `r${r}`, amount: Math.min(amount, capacities[r]) })),
      })),
    }),
  );

test("agrees with trying every order, and never claims a bound above it", () => {
  fc.assert(
    fc.property(small, (instance) => {
      const { problem } = problemOf(instance);
      const best = bruteForce(problem);
      const { bound, ...found } = solved(instance, 300);
      expect(lowerBound(problem)).toBeLessThanOrEqual(best.aim);
      expect(bound).toBeLessThanOrEqual(best.aim);
      expect(instance.aim === "makespan" ? found.makespan : found.tardiness).toBe(best.aim);
    }),
    { numRuns: 60 },
  );
});

test("the same seed gives the same timetable", () => {
  expect(solved(FT20.instance, 9, { seed: 7 })).toEqual(solved(FT20.instance, 9, { seed: 7 }));
});

test("minutes may be fractions", () => {
  const instance = Instance.parse({
    resources: [{ id: "hands", capacity: 1 }],
    tasks: [
      { id: "a", minutes: 2.5, uses: [{ resource: "hands", amount: 1 }] },
      { id: "b", minutes: 0.25, uses: [{ resource: "hands", amount: 1 }] },
    ],
  });
  expect(solved(instance, 100)).toMatchObject({ makespan: 2.75, bound: 2.75, gap: 0 });
});

test("nothing to do is done at once", () => {
  expect(solved(Instance.parse({ resources: [], tasks: [] }), 10)).toMatchObject({ makespan: 0, gap: 0, tasks: [] });
});

// Published: Smith (1956), Various optimizers for single-stage production: with all due at 0, the ratio of minutes to
// weight gives the best order.
test("late from the start: the shortest for their weight come first", () => {
  const parts = [
    [3, 1],
    [4, 9],
    [7, 2],
    [2, 5],
    [9, 9],
    [5, 3],
  ] as const;
  const instance = Instance.parse({
    aim: "tardiness",
    resources: [{ id: "m", capacity: 1 }],
    tasks: parts.map(([minutes, weight], k) => ({
      id: String(k),
      minutes,
      weight,
      due: 0,
      uses: [{ resource: "m", amount: 1 }],
    })),
  });
  let end = 0;
  let least = 0;
  for (const [minutes, weight] of [...parts].sort((a, b) => a[0] / a[1] - b[0] / b[1])) {
    end += minutes;
    least += weight * end;
  }
  expect(solved(instance, 600).tardiness).toBe(least);
});

describe("evenings", () => {
  const evenings = { capacity: 1, open: [[0, 60] as const, [1440, 1500] as const] };
  const hands = (minutes: number, before: readonly number[] = []) => ({
    minutes,
    before,
    modes: [{ resources: [0], amounts: [1] }],
  });

  test("what does not fit into one evening waits for the next", () => {
    const problem = makeProblem({
      aim: "makespan",
      resources: [evenings],
      tasks: [hands(40), hands(30)],
    });
    const { cost, bound } = solve(problem, { now: ticking(), milliseconds: 500 });
    // Both orders end on the second evening; the shorter one last ends sooner.
    expect(cost.makespan).toBe(1470);
    expect(bound).toBeLessThanOrEqual(1470);
  });

  test("unattended work goes on over night", () => {
    const problem = makeProblem({
      aim: "makespan",
      resources: [evenings, { capacity: 1, open: null }],
      tasks: [hands(10), { minutes: 300, before: [0], modes: [{ resources: [1], amounts: [1] }] }, hands(10, [1])],
    });
    const { cost, bound, gap } = solve(problem, { now: ticking(), milliseconds: 500 });
    expect({ end: cost.makespan, bound, gap }).toEqual({ end: 1450, bound: 1450, gap: 0 });
  });

  test("what finds no room is counted, with all that waits for it, and the rest stands", () => {
    const problem = makeProblem({
      aim: "makespan",
      resources: [evenings],
      tasks: [hands(90), hands(5, [0]), hands(5)],
    });
    const { cost, timetable } = solve(problem, { now: ticking(), milliseconds: 200 });
    expect(cost.unplaced).toBe(2);
    expect([...timetable.starts]).toEqual([Number.POSITIVE_INFINITY, Number.POSITIVE_INFINITY, 0]);
  });

  test("either of two volunteers does it, whoever is free first, and both bear the same", () => {
    const either = {
      minutes: 30,
      before: [],
      modes: [
        { resources: [0], amounts: [1] },
        { resources: [1], amounts: [1] },
      ],
    };
    const problem = makeProblem({
      aim: "makespan",
      resources: [evenings, evenings],
      tasks: [either, either, either, either],
    });
    const { cost, gap, timetable } = solve(problem, { now: ticking(), milliseconds: 200 });
    expect({ end: cost.makespan, gap }).toEqual({ end: 60, gap: 0 });
    expect([...timetable.modes].sort()).toEqual([0, 0, 1, 1]);
  });

  test("what has begun is left where it is", () => {
    const problem = makeProblem({
      aim: "makespan",
      resources: [evenings],
      tasks: [hands(20), { ...hands(30), begun: { start: 10, mode: 0 } }, hands(10)],
    });
    const { timetable } = solve(problem, { now: ticking(), milliseconds: 200 });
    expect([...timetable.starts]).toEqual([40, 10, 0]);
  });

  test("may be left at any step with the best so far", () => {
    let time = 0;
    const steps = solving(problemOf(FT20.instance).problem, { now: () => (time += 10) });
    const first = steps.next().value;
    steps.next();
    expect(compareCosts(steps.next().value.cost, first.cost)).toBeLessThanOrEqual(0);
  });
});
