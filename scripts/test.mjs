// npm test: installs what is missing (packages, Debian programs), then lint, types, unit, build, browser and outside tests.
import { execFileSync } from "node:child_process";
import { build } from "./build.mjs";
import { prepare } from "./prepare.mjs";

await prepare({ system: true });

const steps = [
  ["Lint and format", "node_modules/.bin/biome", ["check", "."]],
  ["Types of the pages", "node_modules/.bin/react-router", ["typegen"]],
  ["Types", "node_modules/.bin/tsc", ["--noEmit"]],
  ["Unit tests", "node_modules/.bin/jest", ["--ci"]],
  ["Build", null, []],
  ["Browser tests and tests with outside programs", "node_modules/.bin/playwright", ["test"]],
];
for (const [name, command, words] of steps) {
  console.log(`\n== ${name}`);
  const from = Date.now();
  try {
    if (command) execFileSync(command, words, { stdio: "inherit" });
    else await build();
  } catch {
    console.error(`\n== ${name}: failed`);
    process.exit(1);
  }
  console.log(`== ${name}: ${((Date.now() - from) / 1000).toFixed(0)} s`);
}
