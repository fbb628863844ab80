import { spawnSync } from "node:child_process";
import fs from "node:fs";
import path from "node:path";
import { expect, test } from "@playwright/test";
import { checkTimetable } from "~/core/schedule/checkTimetable";
import type { Instance } from "~/core/schedule/instance";
import { FLOW_100_5, FT06, FT10, FT20 } from "~/testing/jobShops";

function written(text: string): string {
  const file = path.join(fs.mkdtempSync(path.join(test.info().outputDir, "..", "schedule-")), "instance.json");
  fs.writeFileSync(file, text);
  return file;
}
/** Runs the program on what a file holds. */
function schedule(text: string, ...options: string[]) {
  return spawnSync("node", ["scripts/run.mjs", "scripts/schedule.ts", written(text), ...options], {
    encoding: "utf8",
    timeout: 60_000,
  });
}
const solved = (instance: Instance, ...options: string[]) => {
  const { stdout, stderr, status } = schedule(JSON.stringify(instance), ...options);
  expect(stderr).toBe("");
  expect(status).toBe(0);
  return JSON.parse(stdout);
};

test.beforeAll(() => {
  fs.mkdirSync(path.join(test.info().outputDir, ".."), { recursive: true });
});

// Published: Fisher and Thompson (1963); optima 55, 930 (Carlier and Pinson 1989) and 1165; Taillard (1993), flow shop, best known 5493.
test("published job shops: what it prints holds, and is as good as is known", () => {
  const six = solved(FT06.instance);
  expect(six).toMatchObject({ makespan: 55, bound: 55, gap: 0 });
  expect(checkTimetable(FT06.instance, six.tasks)).toEqual([]);
  for (const { instance, best } of [FT10, FT20, FLOW_100_5]) {
    const found = solved(instance, "--seconds", "5", "--seed", "3");
    expect(checkTimetable(instance, found.tasks)).toEqual([]);
    expect(found.makespan).toBeLessThanOrEqual(best * 1.01);
    expect(found.bound).toBeLessThanOrEqual(best);
  }
});

test("whoever reads only its beginning is not told of a fault", () => {
  const tasks = Array.from({ length: 5000 }, (_, k) => ({
    id: `task-${k}`,
    minutes: 1,
    uses: [{ resource: "r", amount: 1 }],
    after: [],
  }));
  // More than a pipe holds: the program still writes when its reader is gone.
  const file = written(JSON.stringify({ aim: "makespan", resources: [{ id: "r", capacity: 3 }], tasks }));
  const { stdout, stderr } = spawnSync(
    "sh",
    ["-c", 'node scripts/run.mjs scripts/schedule.ts "$1" --seconds 1 | head -c 18', "sh", file],
    { encoding: "utf8", timeout: 60_000 },
  );
  expect([stdout, stderr]).toEqual(['{"aim":"makespan",', ""]);
});

test("ten thousand tasks come to an end within their seconds", () => {
  const instance: Instance = {
    aim: "makespan",
    resources: Array.from({ length: 20 }, (_, r) => ({ id: `r${r}`, capacity: 1 + (r % 3) })),
    tasks: Array.from({ length: 10_000 }, (_, k) => ({
      id: `t${k}`,
      minutes: 1 + ((k * 7) % 23),
      uses: [{ resource: `r${(k * 11) % 20}`, amount: 1 }],
      after: k >= 40 && k % 3 > 0 ? [`t${k - 40}`] : [],
      weight: 1,
    })),
  };
  const begun = Date.now();
  const found = solved(instance, "--seconds", "3");
  expect(Date.now() - begun).toBeLessThan(40_000);
  expect(checkTimetable(instance, found.tasks)).toEqual([]);
  expect(found.bound).toBeLessThanOrEqual(found.makespan);
});

const one = { resources: [{ id: "r", capacity: 1 }], tasks: [{ id: "a", minutes: 5, uses: [], after: [] }] };
for (const [name, text, says] of [
  ["not JSON", "{ tasks: ", /not JSON/],
  ["a ring", JSON.stringify({ ...one, tasks: [{ ...one.tasks[0], after: ["a"] }] }), /a/],
  [
    "a capacity of 0",
    JSON.stringify({
      resources: [{ id: "r", capacity: 0 }],
      tasks: [{ id: "a", minutes: 5, uses: [{ resource: "r", amount: 1 }], after: [] }],
    }),
    /r/,
  ],
  ["a task that waits for nobody", JSON.stringify({ ...one, tasks: [{ ...one.tasks[0], after: ["z"] }] }), /z/],
  ["less than no time", JSON.stringify({ ...one, tasks: [{ ...one.tasks[0], minutes: -1 }] }), /minutes/],
] as const)
  test(`refused in words, on the error output: ${name}`, () => {
    const { stdout, stderr, status } = schedule(text);
    expect({ stdout, status }).toEqual({ stdout: "", status: 2 });
    expect(stderr).toMatch(says);
    expect(stderr).not.toMatch(/at .*\.ts:/);
  });
