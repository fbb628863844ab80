import fs from "node:fs";

const ROOMS = ["ways", "upgrade", "runbook", "clearance"].map((room) => `core/${room}`);
/** Words for people and for the shell: a changed letter is no mistake that a rule could notice. */
const WORDS = [
  "/reasons.ts",
  "/steps.ts",
  "/commonSteps.ts",
  "/warnings.ts",
  "/scriptPrelude.ts",
  "/templates.ts",
  "/signOut.ts",
];
const files = ROOMS.flatMap((room) =>
  fs.readdirSync(room, { recursive: true, encoding: "utf8" }).map((name) => `${room}/${name}`),
)
  .filter((name) => name.endsWith(".ts") && !name.endsWith(".test.ts") && !WORDS.some((end) => name.endsWith(end)))
  .sort();

/** The whole takes hours. MUTANTS_SHARE=8 takes one stretch of lines in eight, always the same ones for the same MUTANTS_SEED. */
const share = Number(process.env.MUTANTS_SHARE ?? 1);
const LINES = 10;
let state = Number(process.env.MUTANTS_SEED ?? 1);
const isTaken = () => {
  // A linear congruential generator (Numerical Recipes): the high bits are random enough to draw lots with.
  state = (Math.imul(state, 1_664_525) + 1_013_904_223) >>> 0;
  return (state >>> 8) % share === 0;
};
const stretchesOf = (file) => {
  const count = fs.readFileSync(file, "utf8").split("\n").length;
  return Array.from({ length: Math.ceil(count / LINES) }, (_, i) => i * LINES + 1)
    .filter(isTaken)
    .map((from) => `${file}:${from}-${Math.min(from + LINES - 1, count)}`);
};

/** npm run mutants: deliberate mistakes in the rules, the planner, the sheets and the account-lock case; how many do the unit tests notice? */
export default {
  testRunner: "jest",
  plugins: ["@stryker-mutator/jest-runner"],
  mutate: share > 1 ? files.flatMap(stretchesOf) : files,
  mutator: { excludedMutations: ["StringLiteral"] },
  jest: { configFile: "jest.mutants.config.mjs", enableFindRelatedTests: false },
  coverageAnalysis: "perTest",
  // Tables of operations and rules are made when a module is read: they are what this is about.
  ignoreStatic: false,
  concurrency: 2,
  timeoutMS: 10_000,
  tempDirName: ".stryker",
  reporters: ["progress-append-only", "clear-text", "html", "json"],
  htmlReporter: { fileName: ".stryker/report.html" },
  jsonReporter: { fileName: ".stryker/report.json" },
  cleanTempDir: "always",
};
