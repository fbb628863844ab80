/** npm run mutants: deliberate mistakes in the rules, the planner, the sheets and the account-lock case; how many do the unit tests notice? */
export default {
  testRunner: "jest",
  plugins: ["@stryker-mutator/jest-runner"],
  mutate: [
    "core/ways/**/*.ts",
    "core/upgrade/**/*.ts",
    "core/runbook/**/*.ts",
    "core/clearance/**/*.ts",
    "!core/**/*.test.ts",
    // Words for people and for the shell: a changed letter is no mistake that a rule could notice.
    "!core/**/reasons.ts",
    "!core/ways/*/steps.ts",
    "!core/runbook/commonSteps.ts",
    "!core/runbook/warnings.ts",
    "!core/runbook/scriptPrelude.ts",
    "!core/clearance/templates.ts",
    "!core/clearance/signOut.ts",
  ],
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
