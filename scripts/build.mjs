// Builds the application, unless nothing that goes into it has changed.
import { execFileSync } from "node:child_process";
import { createHash } from "node:crypto";
import { existsSync, readdirSync, readFileSync, statSync } from "node:fs";
import path from "node:path";
import { pathToFileURL } from "node:url";
import { isStamped, stamp } from "./prepare.mjs";

const SOURCES = [
  "app",
  "core",
  "store",
  "public",
  "package-lock.json",
  "vite.config.ts",
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

export function build() {
  const print = fingerprint();
  if (existsSync("build/server/index.js") && isStamped("build", print)) return;
  console.log("Building…");
  execFileSync(process.execPath, ["node_modules/@react-router/dev/bin.js", "build"], { stdio: "inherit" });
  stamp("build", print);
}

if (import.meta.url === pathToFileURL(process.argv[1]).href) build();
