// npm test: installs what is missing (packages, Debian programs), then lint, types, unit, build, browser and outside tests.
import { spawn } from "node:child_process";
import { prepare } from "./prepare.mjs";

/** One after the other; what stands in one line is done side by side. These need no database. */
const READING = [
  [["Lint and format", "node_modules/.bin/biome", "check", "."]],
  [["Types of the pages", "node_modules/.bin/react-router", "typegen"]],
  [
    ["Types", "node_modules/.bin/tsc", "--noEmit"],
    ["Build", process.execPath, "scripts/build.mjs"],
  ],
];
const RUNNING = [
  [["Unit tests", "node_modules/.bin/jest", "--ci"]],
  [
    [
      "Browser tests and tests with outside programs",
      "node_modules/.bin/playwright",
      "test",
      "--project",
      "outside",
      "--project",
      "browser",
    ],
  ],
];

/** @returns true where it went well */
function run([name, command, ...words]) {
  console.log(`\n== ${name}`);
  const from = Date.now();
  return new Promise((resolve) => {
    const child = spawn(command, words, { stdio: "inherit" });
    const end = (ok) => {
      console.log(`== ${name}: ${ok ? `${((Date.now() - from) / 1000).toFixed(0)} s` : "failed"}`);
      resolve(ok);
    };
    child.once("error", () => end(false));
    child.once("exit", (code) => end(code === 0));
  });
}

async function go(steps) {
  for (const step of steps) {
    const ended = await Promise.all(step.map(run));
    if (ended.includes(false)) process.exit(1);
  }
}

await prepare({ system: true, meanwhile: () => go(READING) });
await go(RUNNING);
