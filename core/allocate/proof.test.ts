import loadHighs, { type Highs } from "highs";
import { divide, isNear, withProof } from "./divide";
import { type Found, Linear } from "./linear";
import { programOf } from "./program";
import { holdTo, type ProofAsked, type Prover, prove } from "./proof";
import { AIMS, type Aim, type Question } from "./question";
import type { Scores } from "./verdict";

let highs: Highs;
beforeAll(async () => {
  highs = await loadHighs();
});

/** Groups in a ring that want one device each: a build for every two that are neighbours, and ways that come to nothing more. */
function ring(count: number, more = 0): Question {
  const ids = Array.from({ length: count }, (_, k) => `g${k}`);
  return {
    groups: ids.map((id) => ({
      ...{ id, wanted: 1, least: 1, by: "2026-12-14", weight: 1, spares: 0, alike: false },
    })),
    candidates: ids.map((group, k) => ({
      device: `d${k}`,
      options: [`${k}`, `${(k + 1) % count}`, ...Array.from({ length: more }, (_, n) => `${k} + ${n}`)].map(
        (build, n) => ({
          group,
          way: `w${n}`,
          build,
          model: "m",
          chance: 1 - k / 100,
          years: 2 - n / 10,
          hands: 10 + n,
        }),
      ),
    })),
    pins: [],
    aims: AIMS,
    confidence: 0.8,
    leeway: 0,
    bench: [],
  };
}

const looking = (told: number[] = []) => ({ highs, seconds: () => 5, onBound: (bound: number) => told.push(bound) });

test("five neighbours in a ring need three builds, though two and a half would do without whole numbers", () => {
  const told: number[] = [];
  expect(prove(ring(5), { aim: "builds", floors: { least: 5 } }, looking(told))).toBe(-3);
  expect(told.at(-1)).toBe(-3);
  expect([...told].sort((a, b) => b - a)).toEqual(told);
});

test("what was reached before counts: with all years that there are, each has a build of its own", () => {
  const most = 2 * (1 + 0.99 + 0.98 + 0.97 + 0.96);
  expect(prove(ring(5), { aim: "builds", floors: { least: 5, years: most - 1e-6 } }, looking())).toBe(-5);
  expect(prove(ring(5), { aim: "builds", floors: { least: 4 } }, looking())).toBe(-2);
});

test("a group without which the weights can't be reached has enough whole, not half; one that can be spared may be half", () => {
  const question = ring(2);
  const groups = question.groups.map((group, k) => ({ ...group, weight: k === 0 ? 3 : 1 }));
  const enough = (floor: number) => {
    const program = programOf({ ...question, groups }, [], new Linear(highs));
    holdTo(program, "least", floor);
    const { values } = program.linear.largest(program.goals.hands, 5, { relaxed: true }) as Found;
    return [...program.met.values()].map((yes) => Math.abs(Math.round(100 * values[yes]) / 100));
  };
  expect(enough(3.96)).toEqual([1, 1]);
  expect(enough(2.5)).toEqual([1, 0]);
  expect(enough(1)).toEqual([0.33, 0]);
});

/** Three devices that are the same to one group: two years and ten minutes each. */
function threeAlike(): Question {
  const { groups, ...rest } = ring(1);
  return {
    ...rest,
    groups: groups.map((group) => ({ ...group, wanted: 3 })),
    candidates: [0, 1, 2].map((k) => ({
      device: `d${k}`,
      options: [{ group: "g0", way: "w", build: "b", model: "m", chance: 1, years: 2, hands: 10 }],
    })),
  };
}

test("nobody proves what stands already: where one and a half devices' minutes stand, whole ones are not looked at", () => {
  const asked = { aim: "hands", floors: { years: 3, builds: -1 } } as const;
  const told: number[] = [];
  expect(prove(threeAlike(), asked, { ...looking(told), enough: () => -15 })).toBe(-15);
  expect(new Set(told)).toEqual(new Set([-15]));
  expect(prove(threeAlike(), asked, { ...looking(), enough: () => -16 })).toBe(-20);
});

test("devices are whole in what is proven: one and a half of them are none that could be divided", () => {
  const three = threeAlike();
  expect(prove(three, { aim: "hands", floors: { years: 3, builds: -1 } }, looking())).toBe(-20);
  const bench = [{ day: "2026-12-14", minutes: 15 }];
  expect(prove({ ...three, bench }, { aim: "years", floors: {} }, looking())).toBe(2);
});

test("pins count", () => {
  const pins = [0, 2].map((k) => ({ device: `d${k}`, group: `g${k}`, kind: "never" as const }));
  expect(prove({ ...ring(5), pins }, { aim: "builds", floors: { least: 3 } }, looking())).toBe(-2);
});

/** The same question, with names of its own, and with a chance of its own for every way. */
const renamed = (question: Question, name: string): Question => ({
  ...question,
  groups: question.groups.map((group) => ({ ...group, id: group.id + name })),
  candidates: question.candidates.map(({ device, options }) => ({
    device: device + name,
    options: options.map((option, n) => ({
      ...option,
      group: option.group + name,
      build: option.build + name,
      chance: 1 - n / 1000,
    })),
  })),
});

describe("beside", () => {
  /** A prover that knows what it is told to know. */
  const knowing = (known: Partial<Record<Aim, number>>) => {
    const asked: ProofAsked[] = [];
    const reached: (Scores & { readonly whileAsked: number })[] = [];
    return {
      asked,
      reached,
      prover: {
        begin: (proof) => asked.push(proof),
        bound: (aim) => known[aim] ?? Number.POSITIVE_INFINITY,
        reached: (scores) => reached.push({ ...scores, whileAsked: asked.length }),
      } satisfies Prover,
    };
  };
  const divided = (question: Question, prover: Prover) =>
    divide(question, { highs, milliseconds: 2000, now: () => performance.now(), prover });

  test("a small question is proven where it is divided", () => {
    const { prover, asked } = knowing({});
    expect(divided(ring(5), prover).finished).toBe(true);
    expect(asked).toEqual([]);
  });

  test("of a large one all that counts behind who has enough is proven, builds first, with what those before have reached", () => {
    const { prover, asked } = knowing({});
    const found = divided(ring(24, 45), prover);
    // Fair shares and useful years are near what is known already, and stay so.
    expect(asked.map(({ aim }) => aim)).toEqual(["builds", "hands", "fair", "years"]);
    const [{ floors }, { floors: behind }] = asked;
    expect(Object.keys(floors)).toEqual(["least", "fair", "years"]);
    expect(behind.builds).toBeCloseTo(found.scores.builds, 4);
  });

  test("builds are proven while they are chosen, and whoever proves knows what stands by then", () => {
    const { prover, reached } = knowing({});
    const { scores } = divided({ ...ring(24, 45), aims: ["least", "builds", "years", "hands"] }, prover);
    const last = reached.at(-1);
    expect(last).toMatchObject(scores);
    const whileChosen = reached.filter(({ whileAsked }) => whileAsked === 1);
    expect(whileChosen.at(-1)?.builds).toBe(scores.builds);
    expect(reached.filter(({ whileAsked }) => whileAsked === 0).at(-1)?.builds).toBeLessThan(scores.builds);
  });

  test("what is proven beside to be the best is not looked at any longer: what counts behind it is begun sooner", () => {
    // Five rings of five: three builds each, where two and a half would do without whole numbers.
    const rings = [0, 1, 2, 3, 4].map((k) => renamed(ring(5, 45), String(k)));
    const question: Question = {
      ...rings[0],
      groups: rings.flatMap(({ groups }) => groups),
      candidates: rings.flatMap(({ candidates }) => candidates),
      aims: ["least", "builds", "hands"],
    };
    const begunAt = (builds: number) => {
      const { prover } = knowing({ builds });
      let clock = 0;
      let begun = 0;
      const timed: Prover = { ...prover, begin: ({ aim }) => (begun = aim === "hands" ? clock : begun) };
      const { scores } = divide(question, { highs, milliseconds: 2000, now: () => clock++, prover: timed });
      return { builds: scores.builds, begun };
    };
    const { builds, begun } = begunAt(-1);
    const known = begunAt(builds);
    expect(known.builds).toBe(builds);
    expect(known.begun).toBeLessThan(begun / 2);
  });

  test("what is proven later closes the gap, and never claims less than what was found", () => {
    const found = divided(ring(5), knowing({}).prover);
    const open = { ...found, proven: found.proven.map((proof) => ({ ...proof, bound: 99, tight: 99 })) };
    const of = (prover?: Prover) => withProof(open, prover).proven.find(({ aim }) => aim === "builds");
    expect(of()?.bound).toBe(99);
    expect([isNear(found, 0), isNear(open, 0.02)]).toEqual([true, false]);
    expect(of(knowing({ builds: 0 }).prover)).toMatchObject({ bound: 0, tight: 0 });
    expect(of(knowing({ builds: -99 }).prover)?.bound).toBe(found.scores.builds);
  });
});
