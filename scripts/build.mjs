// Builds the application, unless nothing that goes into it has changed.
import { execFileSync } from "node:child_process";
import { createHash } from "node:crypto";
import { existsSync, readdirSync, readFileSync, statSync } from "node:fs";
import path from "node:path";
import { pathToFileURL } from "node:url";
import { BUNDLED } from "./bundled.mjs";
import { isStamped, prepare, stamp } from "./prepare.mjs";

const SOURCES = [
  "app",
  "core",
  "store",
  "public",
  "package-lock.json",
  "vite.config.ts",
  "scripts/bundled.mjs",
  "react-router.config.ts",
  "tsconfig.json",
];

function fingerprint() {
  const hash = createHash("sha256");
  const walk = (file) => {
    if (!existsSync(file)) return;
    if (statSync(file).isDirectory()) for (const name of readdirSync(file).sort()) walk(path.join(file, name));
    else if (!file.endsWith(".test.ts")) hash.update(file).update(readFileSync(file));
  };
  for (const source of SOURCES) walk(source);
  return hash.digest("hex");
}

/** Threads of the server: one file each, beside the server's own bundle. */
export async function buildWorkers() {
  await bundle("app/server/jobs/intakeWorker.ts", "build/workers");
  await bundle("app/server/division/divisionWorker.ts", "build/workers");
  await bundle("app/server/division/proofWorker.ts", "build/workers");
  await bundle("app/server/timetable/timetableWorker.ts", "build/workers");
}

/** What listens and answers. */
const buildServer = () => bundle("app/serve/serve.ts", "build/serve");

async function bundle(file, outdir) {
  // Loaded here: on a fresh machine the packages are installed after this file was read.
  const { buildSync } = await import("esbuild");
  const { dependencies } = JSON.parse(readFileSync("package.json", "utf8"));
  buildSync({
    entryPoints: [file],
    outdir,
    outExtension: { ".js": ".mjs" },
    bundle: true,
    external: Object.keys(dependencies).filter((name) => !BUNDLED.includes(name)),
    platform: "node",
    format: "esm",
    target: "node20",
    tsconfig: "tsconfig.json",
  });
}

export async function build() {
  const print = fingerprint();
  if (existsSync("build/server/index.js") && isStamped("build", print)) return;
  console.log("Building…");
  execFileSync(process.execPath, ["node_modules/@react-router/dev/bin.js", "build"], { stdio: "inherit" });
  // What only the server has must not reach the browser: a page would break as soon as its scripts run.
  for (const name of readdirSync("build/client/assets"))
    if (name.endsWith(".js") && readFileSync(path.join("build/client/assets", name), "utf8").includes("better_sqlite3"))
      throw new Error(
        `${name}: the database module is in the browser's bundle; a page imports from app/server or store`,
      );
  await buildWorkers();
  await buildServer();
  stamp("build", print);
}

if (import.meta.url === pathToFileURL(process.argv[1]).href) {
  if (!existsSync("node_modules")) await prepare({ system: false });
  await build();
}
