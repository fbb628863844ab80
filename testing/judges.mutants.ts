import { readdirSync } from "node:fs";
import { join } from "node:path";
import fc from "fast-check";

/**
 * The tests that judge rules, planner, sheets and account lock, gathered into one file for the mutation tester: it runs them once a
 * mutant, and each file of its own would load the core anew.
 */
const ROOMS = ["ways", "lane", "runbook", "upgrade", "clearance"];
/** Too slow to be asked a thousand times; what it knows, the exhaustive search and the rules know too. */
const LEFT_OUT = /properties\.test\.ts$/;

// The first failure is enough: no smaller case is looked for, and no further test is run.
fc.configureGlobal({ endOnFailure: true });
beforeEach(() => {
  if ("oneHasFailed" in globalThis) throw new Error("another test has failed already");
});

for (const room of ROOMS) {
  const folder = join(__dirname, "../core", room);
  for (const name of readdirSync(folder, { recursive: true }).map(String).sort())
    if (name.endsWith(".test.ts") && !LEFT_OUT.test(name)) require(join(folder, name));
}
