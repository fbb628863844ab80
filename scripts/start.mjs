// npm start: the lane for real. Settings come from the environment (docs/running.md): HOST, PORT, UPSHIFT_DB, …
import { spawn } from "node:child_process";
import { build } from "./build.mjs";
import { prepare } from "./prepare.mjs";
import { SERVE } from "./serving.mjs";

await prepare({ system: false, meanwhile: build });
const server = spawn(process.execPath, SERVE, {
  stdio: "inherit",
  env: { ...process.env, NODE_ENV: "production" },
});
for (const signal of ["SIGINT", "SIGTERM"]) process.on(signal, () => server.kill(signal));
server.on("exit", (code) => process.exit(code ?? 0));
