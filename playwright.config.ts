import { defineConfig } from "@playwright/test";
import { LAUNCH, READER } from "~/testing/chromium";

const browser = { browserName: "chromium" as const, launchOptions: LAUNCH, ...READER };

/**
 * Browser tests and tests with real outside programs. The browser is Debian's Chromium; nothing is downloaded. Each
 * spec file has an application on a database of its own (e2e/rig/app.ts).
 */
export default defineConfig({
  testDir: "e2e",
  globalSetup: "./e2e/rig/databases.ts",
  testMatch: "**/*.spec.ts",
  timeout: 120_000,
  // Tests of the bench wait for clients and phones most of their time: two more than there are cores keep these busy.
  workers: 4,
  expect: { timeout: 20_000 },
  fullyParallel: false,
  // A failure starts a new worker, and with it an application and database of its own: a second try is a fresh one.
  retries: process.env.CI ? 1 : 0,
  reporter: [["list"]],
  projects: [
    { name: "outside", testMatch: "outside/**/*.spec.ts" },
    { name: "browser", testMatch: "browser/**/*.spec.ts", use: browser },
    // Takes ten to thirty minutes: not part of `npm test`.
    { name: "walk", testMatch: "walk/**/*.spec.ts", use: browser },
  ],
});
