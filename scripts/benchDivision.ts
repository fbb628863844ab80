import { performance } from "node:perf_hooks";
import { setTimeout as sleep } from "node:timers/promises";
import loadHighs, { type Highs } from "highs";
import { proverBeside } from "~/app/server/division/prover";
import { solverModule } from "~/app/server/division/solver";
import { DEFAULT_AIMS } from "~/core/allocate/aims";
import { type Division, divide, isNear, withProof } from "~/core/allocate/divide";
import { AIMS, type Aim, type Candidate, type Group, type Question, scaleOf } from "~/core/allocate/question";
import { Chance } from "~/core/schedule/chance";
import { manyGroups } from "./benchManyGroups";

/** Made-up devices and groups; chances of a tenth part of them are like nobody else's (donors who still answer). */
export function makeDivision(devices: number, groups: number, seed = 5): Question {
  const chance = new Chance(seed);
  const models = Array.from({ length: 40 }, (_, k) => ({ id: `m${k}`, suits: 2 + chance.below(4) }));
  const asking: Group[] = Array.from({ length: groups }, (_, k) => {
    const wanted = 10 + chance.below(Math.ceil((1.6 * devices) / groups));
    return {
      id: `g${k}`,
      wanted,
      least: Math.ceil(wanted * (0.3 + 0.5 * chance.next())),
      by: `2026-12-${String(10 + chance.below(18)).padStart(2, "0")}`,
      weight: 1 + chance.below(3),
      spares: chance.below(3),
      alike: chance.below(3) === 0,
    };
  });
  const offers = models.map(({ id }) =>
    asking.flatMap((group) =>
      chance.next() < 0.45
        ? Array.from({ length: 1 + chance.below(2) }, (_, way) => ({
            group: group.id,
            way: `w${way}`,
            build: `${id}|i${way}`,
            model: id,
            chance: Math.round((0.7 + 0.29 * chance.next()) * 100) / 100,
            years: 1 + chance.below(40) / 10,
            hands: 5 + chance.below(30),
          }))
        : [],
    ),
  );
  const candidates: Candidate[] = Array.from({ length: devices }, (_, k) => {
    const offer = offers[chance.below(models.length)];
    const cleared = chance.next() < 0.6 ? 1 : Math.round((0.3 + 0.6 * chance.next()) * 20) / 20;
    return {
      device: `d${k}`,
      options: offer.map((option) => ({ ...option, chance: Math.round(option.chance * cleared * 100) / 100 })),
    };
  });
  const bench = ["2026-12-14", "2026-12-31"].map((day, k) => ({
    day,
    of: "hands" as const,
    minutes: (k + 1) * devices * 6,
  }));
  return { candidates, groups: asking, pins: [], aims: AIMS, confidence: 0.9, leeway: DEFAULT_AIMS.leeway, bench };
}

/** Seconds within which a proof that is worked at beside is waited for. */
const PROVE_SECONDS = 28;

/** Division: how long, and how far from what is proven. The threads of the server have to be built. */
export async function measureDivision(): Promise<void> {
  const highs = await loadHighs({ wasmModule: solverModule() });
  // What goes well on one made-up question may not on another.
  for (const [devices, groups, seed] of [
    [60, 3, 5],
    [200, 6, 5],
    [500, 12, 5],
    [500, 12, 6],
    [500, 12, 7],
  ] as const)
    await measureOne(highs, `made-up, question ${seed}`, makeDivision(devices, groups, seed));
  for (const seed of [1, 2, 3]) await measureOne(highs, `the demo many times over, question ${seed}`, manyGroups(seed));
}

async function measureOne(highs: Highs, name: string, question: Question): Promise<void> {
  const prover = proverBeside(question, solverModule());
  const begun = performance.now();
  const seen: string[] = [];
  const found = divide(question, {
    highs,
    milliseconds: 10_000,
    now: () => performance.now(),
    prover,
    onBetter: ({ scores }) => {
      const at = ((performance.now() - begun) / 1000).toFixed(1);
      const values = Object.values(scores).map((n) => n.toFixed(2));
      seen.push(`${at} s: ${values.join("/")}`);
    },
  });
  const seconds = (performance.now() - begun) / 1000;
  const gap = (aim: Aim, value: number, bound: number) =>
    Number.isFinite(bound) ? `${(100 * Math.abs((bound - value) / scaleOf(aim, bound))).toFixed(2)} %` : "not known";
  const gapsOf = ({ proven }: Division) =>
    proven
      .map(
        ({ aim, value, bound, tight }) =>
          `${aim} ${value.toFixed(2)}, ${gap(aim, value, tight)} (proven ${gap(aim, value, bound)})`,
      )
      .join(", ");
  const gaps = gapsOf(found);
  const isOver = () => isNear(withProof(found, prover)) || performance.now() - begun > PROVE_SECONDS * 1000;
  while (prover.isBusy() && !isOver()) await sleep(100);
  const later = gapsOf(withProof(found, prover));
  const proofSeconds = (performance.now() - begun) / 1000;
  await prover.stop();
  const { candidates, groups } = question;
  console.log(
    `division ${candidates.length} devices × ${groups.length} groups (${name}): ${seconds.toFixed(1)} s (goal 10), ${found.finished ? "proven" : "stopped"}; gaps ${gaps} (goal 2 %); ${later === gaps ? "" : `with the proof beside, ${proofSeconds.toFixed(1)} s: ${later}; `}${seen.join(", ")}`,
  );
}
