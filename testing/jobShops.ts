import { jobShop } from "./jobShop";

/**
 * Published job shops. The three of Fisher and Thompson (1963), Probabilistic learning combinations of local job-shop
 * scheduling rules, are written from memory: that their published optima are met bears them out.
 */
export const FT06 = {
  name: "ft06",
  best: 55,
  instance: jobShop(`
    2 1 0 3 1 6 3 7 5 3 4 6
    1 8 2 5 4 10 5 10 0 10 3 4
    2 5 3 4 5 8 0 9 1 1 4 7
    1 5 0 5 2 5 3 3 4 8 5 9
    2 9 1 3 4 5 5 4 0 3 3 1
    1 3 3 3 5 9 0 10 4 4 2 1`),
};

export const FT10 = {
  name: "ft10",
  best: 930,
  instance: jobShop(`
    0 29 1 78 2 9 3 36 4 49 5 11 6 62 7 56 8 44 9 21
    0 43 2 90 4 75 9 11 3 69 1 28 6 46 5 46 7 72 8 30
    1 91 0 85 3 39 2 74 8 90 5 10 7 12 6 89 9 45 4 33
    1 81 2 95 0 71 4 99 6 9 8 52 7 85 3 98 9 22 5 43
    2 14 0 6 1 22 5 61 3 26 4 69 8 21 7 49 9 72 6 53
    2 84 1 2 5 52 3 95 8 48 9 72 0 47 6 65 4 6 7 25
    1 46 0 37 3 61 2 13 6 32 5 21 9 32 8 89 7 30 4 55
    2 31 0 86 1 46 5 74 4 32 6 88 8 19 9 48 7 36 3 79
    0 76 1 69 3 76 5 51 2 85 9 11 6 40 7 89 4 26 8 74
    1 85 0 13 2 61 6 7 8 64 9 76 5 47 3 52 4 90 7 45`),
};

/**
 * The 10 × 10 with a day for every job: the whole part of so many times the minutes of its work, and it weighs 4 (the
 * first two), 2 (six) or 1. What is published for it is from memory.
 *
 * @source Singer and Pinedo (1998), A computational study of branch and bound techniques for minimizing the total
 *   weighted tardiness in job shops
 */
const ft10Due = (times: number, best: number) => ({
  name: `ft10, due at ${times} times its work`,
  best,
  instance: {
    ...FT10.instance,
    aim: "tardiness" as const,
    tasks: FT10.instance.tasks.map((task, k) => {
      if (k % 10 < 9) return task;
      const work = FT10.instance.tasks.slice(k - 9, k + 1).reduce((sum, { minutes }) => sum + minutes, 0);
      const job = Math.floor(k / 10);
      return { ...task, due: Math.floor(times * work + 1e-9), weight: job < 2 ? 4 : job < 8 ? 2 : 1 };
    }),
  },
});

export const FT10_DUE = ft10Due(1.5, 394);
export const FT10_DUE_SOON = ft10Due(1.3, 1363);
export const FT10_DUE_LATE = ft10Due(1.6, 141);

export const FT20 = {
  name: "ft20",
  best: 1165,
  instance: jobShop(`
    0 29 1 9 2 49 3 62 4 44
    0 43 1 75 3 69 2 46 4 72
    1 91 0 39 2 90 4 12 3 45
    1 81 0 71 4 9 2 85 3 22
    2 14 1 22 0 26 3 21 4 72
    2 84 1 52 4 48 0 47 3 6
    1 46 0 61 2 32 3 32 4 30
    2 31 1 46 0 32 3 19 4 36
    0 76 3 76 2 85 1 40 4 26
    1 85 2 61 0 64 3 47 4 90
    1 78 3 36 0 11 4 56 2 21
    2 90 0 11 1 28 3 46 4 30
    0 85 2 74 1 10 3 89 4 33
    2 95 0 99 1 52 3 98 4 43
    0 6 1 61 4 69 2 49 3 53
    1 2 0 95 3 72 4 65 2 25
    0 37 2 13 1 21 3 89 4 55
    0 86 1 74 4 88 2 48 3 79
    1 69 2 51 0 11 3 89 4 74
    0 13 1 7 2 76 3 52 4 45`),
};

/** Taillard's row of whole numbers from one to another, each as likely. */
function taillardChance(begin: number) {
  let seed = begin;
  return (low: number, high: number) => {
    const k = Math.floor(seed / 127_773);
    seed = 16_807 * (seed % 127_773) - k * 2836;
    if (seed < 0) seed += 2_147_483_647;
    return low + Math.floor((seed / 2_147_483_647) * (high - low + 1));
  };
}

const asJobShop = (minutes: readonly (readonly number[])[], machineOf: (job: number, k: number) => number) =>
  jobShop(minutes.map((row, j) => row.map((time, k) => `${machineOf(j, k)} ${time}`).join(" ")).join("\n"));

/**
 * Taillard's job shops, made by his published generator; seeds and optima from memory.
 *
 * @source Taillard (1993), Benchmarks for basic scheduling problems
 */
export function taillard(jobs: number, machines: number, timeSeed: number, machineSeed: number) {
  const time = taillardChance(timeSeed);
  const minutes = Array.from({ length: jobs }, () => Array.from({ length: machines }, () => time(1, 99)));
  const place = taillardChance(machineSeed);
  const orders = minutes.map(() => {
    const order = Array.from({ length: machines }, (_, k) => k);
    for (let k = 0; k < machines; k++) {
      const other = place(k, machines - 1);
      [order[k], order[other]] = [order[other], order[k]];
    }
    return order;
  });
  return asJobShop(minutes, (job, k) => orders[job][k]);
}

export const TA01 = { name: "ta01", best: 1231, instance: taillard(15, 15, 840_612_802, 398_197_754) };
export const TA11 = { name: "ta11", best: 1357, instance: taillard(20, 15, 533_484_900, 317_419_073) };
export const TA31 = { name: "ta31", best: 1764, instance: taillard(30, 15, 98_640_593, 1_981_283_465) };

/** A flow shop by the minutes of each job, machine after machine. */
export const inOneOrder = (minutes: readonly (readonly number[])[]) => asJobShop(minutes, (_, k) => k);

/** His flow shops; best are those known in which every machine serves the jobs in the same order: there may be shorter ones. */
function flowShop(jobs: number, machines: number, seed: number) {
  const time = taillardChance(seed);
  const byMachine = Array.from({ length: machines }, () => Array.from({ length: jobs }, () => time(1, 99)));
  const minutes = Array.from({ length: jobs }, (_, j) => byMachine.map((row) => row[j]));
  return inOneOrder(minutes);
}

export const FLOW_20_5 = { name: "flow shop 20 × 5, first", best: 1278, instance: flowShop(20, 5, 873_654_221) };
export const FLOW_20_20 = { name: "flow shop 20 × 20, first", best: 2297, instance: flowShop(20, 20, 479_340_445) };
export const FLOW_50_20 = { name: "flow shop 50 × 20, first", best: 3850, instance: flowShop(50, 20, 1_539_989_115) };
export const FLOW_100_5 = { name: "flow shop 100 × 5, first", best: 5493, instance: flowShop(100, 5, 896_678_084) };
