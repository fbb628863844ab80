import { fileURLToPath } from "node:url";
import base from "./jest.config.mjs";

/** One file of tests for the mutation tester, and only the rooms it reads are looked through. */
export default {
  ...base,
  roots: ["<rootDir>/core", "<rootDir>/testing", "<rootDir>/demo"],
  testMatch: ["<rootDir>/testing/judges.mutants.ts"],
  testEnvironment: fileURLToPath(new URL("./testing/bailEnvironment.cjs", import.meta.url)),
  watchman: false,
  maxWorkers: 1,
};
