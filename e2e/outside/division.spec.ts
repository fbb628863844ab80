import { expect, test } from "@playwright/test";
import loadHighs from "highs";
import { proverBeside } from "~/app/server/division/prover";
import { divisionQuestion } from "~/app/server/division/question";
import { solverModule } from "~/app/server/division/solver";
import { divide } from "~/core/allocate/divide";
import { SLACK } from "~/core/allocate/question";
import { loadDemo } from "~/demo/load";
import { demoScenario } from "~/demo/scenario";
import { openStore } from "~/store/database";

test("what a thread of its own proves of the demo is what dividing comes to", async () => {
  const store = openStore(":memory:");
  loadDemo(store);
  const { question } = divisionQuestion(store, new Date(demoScenario().clock));
  store.close();
  const solver = solverModule();
  const highs = await loadHighs({ wasmModule: solver });
  const found = divide(
    { ...question, aims: ["least", "builds"], leeway: 0 },
    { highs, milliseconds: 20_000, now: () => performance.now() },
  );
  expect(found.finished).toBe(true);
  const prover = proverBeside(question, solver);
  try {
    expect(prover.isBusy()).toBe(false);
    prover.begin({ aim: "builds", floors: { least: found.scores.least - SLACK } });
    prover.begin({ aim: "hands", floors: { least: found.scores.least - SLACK, builds: found.scores.builds } });
    expect(prover.isBusy()).toBe(true);
    await expect.poll(() => prover.isBusy(), { timeout: 30_000 }).toBe(false);
    expect(prover.bound("builds")).toBeCloseTo(found.scores.builds, 6);
    expect(prover.bound("hands")).toBeLessThan(0);
    expect(prover.bound("years")).toBe(Number.POSITIVE_INFINITY);
  } finally {
    await prover.stop();
  }
});
