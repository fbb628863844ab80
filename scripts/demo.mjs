// npm run demo [-- --port N --db FILE --empty --reset]: installs if needed, builds if needed, loads the demo, serves it.
import { execFileSync, spawn } from "node:child_process";
import { existsSync, rmSync } from "node:fs";
import net from "node:net";
import { parseArgs } from "node:util";
import { build } from "./build.mjs";
import { prepare } from "./prepare.mjs";
import { SERVE } from "./serving.mjs";

const USAGE = "npm run demo -- [--port N] [--db FILE] [--empty] [--reset]";
let values;
try {
  values = parseArgs({
    options: {
      port: { type: "string", default: "4310" },
      db: { type: "string" },
      empty: { type: "boolean" },
      reset: { type: "boolean" },
    },
  }).values;
} catch (error) {
  console.error(`demo: ${error.message}\n${USAGE}`);
  process.exit(2);
}
const port = Number(values.port);
if (!Number.isInteger(port) || port < 1 || port > 65535) {
  console.error(`demo: --port takes a number from 1 to 65535, not “${values.port}”`);
  process.exit(2);
}
const db = values.db ?? (values.empty ? "data/empty.db" : "data/demo.db");

const taken = await new Promise((resolve) => {
  const probe = net.createServer().once("error", () => resolve(true));
  probe.listen(port, "127.0.0.1", () => probe.close(() => resolve(false)));
});
if (taken) {
  console.error(`demo: port ${port} is in use. Stop what runs there, or choose another with --port`);
  process.exit(2);
}

await prepare({ system: false, meanwhile: build });
if (values.reset) for (const end of ["", "-wal", "-shm"]) rmSync(db + end, { force: true });
const isNew = !existsSync(db);
execFileSync(process.execPath, ["--import", "tsx", "scripts/load-demo.ts", db, ...(values.empty ? ["--empty"] : [])], {
  stdio: "inherit",
});
console.log(`${isNew ? "Made" : "Using"} the database ${db}${isNew ? "" : " (start anew with --reset)"}`);

// The stand-in for a register of lost devices, on a port of its own, for as long as the application runs.
const register = spawn(process.execPath, ["--import", "tsx", "scripts/register.ts"], {
  stdio: ["ignore", "pipe", "inherit"],
});
process.on("exit", () => register.kill());
const registerAddress = await new Promise((resolve) => {
  register.stdout.once("data", (line) => resolve(String(line).trim()));
  register.once("exit", () => resolve(""));
});

const server = spawn(process.execPath, SERVE, {
  stdio: ["ignore", "ignore", "inherit"],
  env: {
    ...process.env,
    NODE_ENV: "production",
    HOST: "127.0.0.1",
    PORT: String(port),
    UPSHIFT_DB: db,
    UPSHIFT_REGISTER: registerAddress,
  },
});
for (const signal of ["SIGINT", "SIGTERM"]) process.on(signal, () => server.kill(signal));
server.on("exit", (code) => process.exit(code ?? 0));

// Say the address when it answers, not before.
for (let n = 0; n < 100; n++) {
  const answers = await fetch(`http://127.0.0.1:${port}/favicon.ico`).then(
    () => true,
    () => false,
  );
  if (answers) {
    console.log(`Upshift Lane is at http://127.0.0.1:${port}/  (stop it with Ctrl-C)`);
    break;
  }
  await new Promise((resolve) => setTimeout(resolve, 100));
}
