// Part of npm run bench: large files in the browser, against sha256sum, and a small partition out of a large package.
import { execFileSync } from "node:child_process";
import { createHash } from "node:crypto";
import fs from "node:fs";
import os from "node:os";
import path from "node:path";
import { performance } from "node:perf_hooks";
import { chromium } from "@playwright/test";
import { takePartition } from "~/core/files/formats/payload";
import { openPayload, recognise } from "~/core/files/recognise";
import { counting } from "~/core/files/source";
import { diskSource } from "~/e2e/rig/tools";
import { LAUNCH } from "~/testing/chromium";
import { makePayload } from "~/testing/madePayload";
import { serveBench } from "./benchServe";

const GIB = 1_073_741_824;
const MIB = 1_048_576;
const PORT = 4398;
const folder = fs.mkdtempSync(path.join(os.tmpdir(), "upshift-bench-files-"));
const seconds = (from: number) => (performance.now() - from) / 1000;

const rows: [string, string, string, string][] = [];
const tell = (what: string, value: number, unit: string, goal: number, more: boolean) =>
  rows.push([
    what,
    `${value.toFixed(2)} ${unit}`,
    Number.isNaN(goal) ? "" : `${more ? "≥" : "<"} ${goal}`,
    Number.isNaN(goal) ? "" : (value / goal).toFixed(2),
  ]);

/** Resident memory of the browser's processes that run pages, bytes: their workers are threads of them. */
function rendererMemory(): number {
  let most = 0;
  for (const pid of fs.readdirSync("/proc").filter((p) => /^\d+$/.test(p)))
    try {
      if (!fs.readFileSync(`/proc/${pid}/cmdline`, "utf8").includes("--type=renderer")) continue;
      const rss = /^RssAnon:\s+(\d+) kB/m.exec(fs.readFileSync(`/proc/${pid}/status`, "utf8"));
      most = Math.max(most, Number(rss?.[1] ?? 0) * 1024);
    } catch {
      // The process ended between the two reads.
    }
  return most;
}

async function measureDigest() {
  const file = path.join(folder, "large.bin");
  execFileSync("sh", ["-c", `head -c ${4 * GIB} /dev/urandom > ${file}`]);
  // Before and after the browser's turn: the machine's own speed wanders by a third.
  let spent = 0;
  const sha256sum = () => {
    const from = performance.now();
    const sum = execFileSync("sha256sum", [file], { encoding: "utf8" }).slice(0, 64);
    spent += seconds(from);
    return sum;
  };
  const sum = sha256sum();
  const db = path.join(folder, "bench.db");
  execFileSync(process.execPath, ["--import", "tsx", "scripts/load-demo.ts", db]);
  const server = serveBench(db, PORT, { UPSHIFT_PROCESSES: "1" });
  const browser = await chromium.launch(LAUNCH);
  try {
    for (let i = 0; i < 100; i++) {
      if (await fetch(`http://127.0.0.1:${PORT}/favicon.ico`).catch(() => null)) break;
      await new Promise((resolve) => setTimeout(resolve, 100));
    }
    const page = await browser.newPage();
    await page.addInitScript(() => {
      const long: number[] = [];
      Object.assign(window, { long });
      new PerformanceObserver((list) => long.push(...list.getEntries().map((e) => e.duration))).observe({
        entryTypes: ["longtask"],
      });
    });
    await page.goto(`http://127.0.0.1:${PORT}/files`, { waitUntil: "networkidle" });
    const before = rendererMemory();
    await page.evaluate(() => {
      (window as unknown as { long: number[] }).long.length = 0;
    });
    const began = performance.now();
    await page.getByLabel("Files to look at").setInputFiles(file);
    let most = 0;
    const watch = setInterval(() => {
      most = Math.max(most, rendererMemory());
    }, 250);
    await page.getByRole("button", { name: "1 can't tell" }).waitFor({ timeout: 300_000 });
    const ours = (4 * GIB) / seconds(began);
    clearInterval(watch);
    sha256sum();
    const theirs = (8 * GIB) / spent;
    await page.getByRole("button", { name: /^More about/ }).click();
    if (!((await page.locator("main").textContent()) ?? "").includes(sum)) throw new Error("the digests differ");
    const long = await page.evaluate(() => (window as unknown as { long: number[] }).long);
    tell("sha256sum, 4 GiB, mean of before and after", theirs / MIB, "MiB/s", Number.NaN, true);
    tell("the page's workers, SHA-256 and MD5 of 4 GiB at once", ours / MIB, "MiB/s", Number.NaN, true);
    tell("the page against sha256sum", ours / theirs, "of its rate", 0.7, true);
    tell(
      "longest task on the page's main thread meanwhile (0: none over 50 ms)",
      Math.max(0, ...long),
      "ms",
      50,
      false,
    );
    tell("memory that page and both workers took more", (most - before) / MIB, "MiB", 200, false);
  } finally {
    await browser.close();
    server.kill("SIGKILL");
    fs.rmSync(file, { force: true });
  }
}

async function measurePackage() {
  const vbmeta = new Uint8Array(8192).fill(5);
  const digest = new Uint8Array(createHash("sha256").update(vbmeta).digest());
  const operations = [{ type: 0, data: vbmeta, blocks: [[0, 2]] as [number, number][] }];
  const payload = path.join(folder, "payload.bin");
  fs.writeFileSync(payload, makePayload([{ name: "vbmeta", bytes: 8192, digest, operations }]));
  fs.truncateSync(payload, 3 * GIB);
  const metadata = path.join(folder, "META-INF/com/android");
  fs.mkdirSync(metadata, { recursive: true });
  fs.writeFileSync(path.join(metadata, "metadata"), "ota-type=AB\npost-sdk-level=34\n");
  execFileSync("zip", ["-q", "-0", "ota.zip", "META-INF/com/android/metadata", "payload.bin"], { cwd: folder });
  fs.rmSync(payload);
  const file = diskSource(path.join(folder, "ota.zip"));
  const source = counting(file);
  const from = performance.now();
  await recognise(source);
  const opened = await openPayload(source);
  if (!opened) throw new Error("no payload");
  await takePartition(opened.source, opened.payload, "vbmeta");
  tell("vbmeta out of a 3 GiB package: time", seconds(from), "s", 2, false);
  tell("vbmeta out of a 3 GiB package: read", source.bytesRead / MIB, "MiB", 50, false);
  file.close();
}

if (!fs.existsSync("build/server/index.js")) {
  console.log("The pages are not built: npm run build first.");
  process.exit(1);
}
try {
  await measurePackage();
  await measureDigest();
} finally {
  fs.rmSync(folder, { recursive: true, force: true });
}
console.log(`\n${"what".padEnd(78)}${"measured".padStart(18)}${"goal".padStart(8)}${"ratio".padStart(8)}`);
for (const [what, value, goal, ratio] of rows)
  console.log(`${what.padEnd(78)}${value.padStart(18)}${goal.padStart(8)}${ratio.padStart(8)}`);
