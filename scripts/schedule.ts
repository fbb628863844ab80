// npm run schedule -- FILE.json [--seconds N] [--seed N]: solves a bare instance and prints the timetable as JSON.
// FILE may be - for standard input. Two threads work on it: one searches, the other searches and proves.
import fs from "node:fs";
import { performance } from "node:perf_hooks";
import { parseArgs } from "node:util";
import { InstanceError, readInstance } from "~/core/schedule/instance";
import { problemOf } from "~/core/schedule/problem";
import { solutionOf } from "~/core/schedule/solution";
import { solveOnThreads } from "./scheduleThreads";

const MOST_SECONDS = 3600;

function fail(...lines: readonly string[]): never {
  for (const line of lines) console.error(line);
  process.exit(2);
}

const HOW = "npm run schedule -- FILE.json [--seconds N] [--seed N]";

function whole(name: string, text: string | undefined, fallback: number, least: number, most: number): number {
  const value = text === undefined ? fallback : Number(text);
  if (Number.isFinite(value) && value >= least && value <= most) return value;
  return fail(`--${name} is “${text}”: a number from ${least} to ${most} is meant. ${HOW}`);
}

async function main(): Promise<void> {
  let given: { values: { seconds?: string; seed?: string }; positionals: string[] };
  try {
    given = parseArgs({
      allowPositionals: true,
      options: { seconds: { type: "string" }, seed: { type: "string" } },
    });
  } catch (error) {
    return fail((error as Error).message, HOW);
  }
  const [file, ...more] = given.positionals;
  if (!file || more.length) return fail(`One file is meant. ${HOW}`);
  const seconds = whole("seconds", given.values.seconds, 10, 0.1, MOST_SECONDS);
  const seed = Math.trunc(whole("seed", given.values.seed, 1, -2_147_483_648, 2_147_483_647));
  let text: string;
  try {
    text = fs.readFileSync(file === "-" ? 0 : file, "utf8");
  } catch (error) {
    return fail(`${file} can't be read: ${(error as Error).message}`);
  }
  try {
    const instance = readInstance(text);
    const posed = problemOf(instance);
    // Counted from the start of the program: whoever waits does not care what was loaded meanwhile.
    const milliseconds = Math.max(0.3 * seconds * 1000, seconds * 1000 - performance.now());
    const progress = await solveOnThreads(posed.problem, { milliseconds, seed });
    console.log(JSON.stringify(solutionOf(instance, posed, progress)));
  } catch (error) {
    if (error instanceof InstanceError) return fail(`${file} can't be solved:`, ...error.problems);
    throw error;
  }
}

// Whoever reads on may have read enough: `… | head` is no fault of ours.
process.stdout.on("error", (error: NodeJS.ErrnoException) => {
  if (error.code !== "EPIPE") throw error;
  process.exit(0);
});

await main();
