// npm run dev [-- --port N]: the application with reloading, on a fresh checkout too: packages, threads and demo data are made.
import { execFileSync, spawn } from "node:child_process";
import { parseArgs } from "node:util";
import { buildWorkers } from "./build.mjs";
import { prepare } from "./prepare.mjs";

const { values } = parseArgs({ options: { port: { type: "string", default: "4311" } } });
const DB = "data/dev.db";

await prepare({ system: false });
await buildWorkers();
execFileSync(process.execPath, ["--import", "tsx", "scripts/load-demo.ts", DB], { stdio: "inherit" });
const server = spawn(
  process.execPath,
  ["node_modules/@react-router/dev/bin.js", "dev", "--host", "127.0.0.1", "--port", values.port],
  { stdio: "inherit", env: { ...process.env, UPSHIFT_DB: process.env.UPSHIFT_DB ?? DB } },
);
for (const signal of ["SIGINT", "SIGTERM"]) process.on(signal, () => server.kill(signal));
server.on("exit", (code) => process.exit(code ?? 0));
