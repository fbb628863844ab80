// Runs a TypeScript script of this project: node scripts/run.mjs scripts/NAME.ts [arguments]
import { spawn } from "node:child_process";
import { existsSync } from "node:fs";
import { prepare } from "./prepare.mjs";

if (!existsSync("node_modules")) await prepare({ system: false });
// Planning makes many short-lived states: a larger young generation keeps the collector out of the way.
const child = spawn(process.execPath, ["--max-semi-space-size=64", "--import", "tsx", ...process.argv.slice(2)], {
  stdio: "inherit",
});
for (const signal of ["SIGTERM", "SIGINT"]) process.on(signal, () => child.kill(signal));
child.on("exit", (code) => process.exit(code ?? 1));
