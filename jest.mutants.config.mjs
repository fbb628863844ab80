import base from "./jest.config.mjs";

/** The tests that judge the core, for the mutation tester: quick ones, and no thread beside its own. */
export default {
  ...base,
  testMatch: ["<rootDir>/core/{ways,upgrade,runbook,clearance,lane}/**/*.test.ts"],
  maxWorkers: 1,
};
