// Installs what the project needs, each part only when it is missing or has changed.

import { execFileSync, spawn, spawnSync } from "node:child_process";
import { createHash } from "node:crypto";
import { existsSync, mkdirSync, readFileSync, rmSync, writeFileSync } from "node:fs";

const STAMPS = ".stamps";

/** True when the stamp says that this content was dealt with already. */
export function isStamped(name, content) {
  const file = `${STAMPS}/${name}`;
  return existsSync(file) && readFileSync(file, "utf8") === digest(content);
}

export function stamp(name, content) {
  mkdirSync(STAMPS, { recursive: true });
  writeFileSync(`${STAMPS}/${name}`, digest(content));
}

const digest = (content) => createHash("sha256").update(content).digest("hex");

const run = (command, args) => execFileSync(command, args, { stdio: "inherit" });

/** Debian packages the tests drive: command, or a file with its full path → package. */
const SYSTEM = {
  "chromium-headless-shell": "chromium-headless-shell",
  fastboot: "fastboot",
  adb: "adb",
  simg2img: "android-sdk-libsparse-utils",
  curl: "curl",
  sha256sum: "coreutils",
  mkbootimg: "mkbootimg",
  aapt: "aapt",
  "/usr/share/android-framework-res/framework-res.apk": "android-framework-res",
  "mkfs.ext4": "e2fsprogs",
  "mkfs.erofs": "erofs-utils",
  "mkfs.vfat": "dosfstools",
  mcopy: "mtools",
  unzip: "unzip",
  xz: "xz-utils",
  bzip2: "bzip2",
  lz4: "lz4",
  zstd: "zstd",
  openssl: "openssl",
  gpg: "gpg",
  zip: "zip",
};

/** Compiled from source, which takes minutes on one core: what does not need it is done meanwhile. */
const COMPILED = ["better-sqlite3"];

/** Installs the packages; all but those that are compiled can be used then. */
function install(lock) {
  if (existsSync("node_modules") && isStamped("install", lock)) return;
  console.log("Installing packages (the database module is compiled: two or three minutes the first time)…");
  // What was compiled goes with the packages.
  rmSync(`${STAMPS}/compiled`, { force: true });
  run("npm", ["ci", "--no-audit", "--no-fund", "--ignore-scripts"]);
  const { packages } = JSON.parse(lock.toString());
  const quick = Object.keys(packages)
    .filter((place) => packages[place].hasInstallScript && existsSync(place))
    .map((place) => place.replace(/^.*node_modules\//, ""))
    .filter((name) => !COMPILED.includes(name));
  if (quick.length > 0) run("npm", ["rebuild", ...quick]);
  stamp("install", lock);
}

/** Compiles what has to be; resolves when it is there. */
function compile(lock) {
  if (isStamped("compiled", lock)) return Promise.resolve();
  return new Promise((resolve, reject) => {
    const child = spawn("npm", ["rebuild", ...COMPILED], { stdio: "inherit" });
    // Whoever breaks off breaks this off too.
    const breakOff = () => child.kill();
    process.once("exit", breakOff);
    child.once("error", reject);
    child.once("exit", (code) => {
      process.off("exit", breakOff);
      if (code !== 0) return reject(new Error("the database module could not be compiled: see what npm says above"));
      stamp("compiled", lock);
      resolve();
    });
  });
}

/**
 * @param {{ system: boolean, meanwhile?: () => unknown }} wanted whether the Debian packages for the tests are needed too;
 *   what can be done with the packages before the database module is compiled
 */
export async function prepare({ system, meanwhile }) {
  const lock = readFileSync("package-lock.json");
  install(lock);
  const compiled = compile(lock);
  // It is waited for below: that it failed is told there, not before.
  compiled.catch(() => {});
  if (system) installSystem();
  await meanwhile?.();
  await compiled;
}

/** Debian packages that are missing. */
function installSystem() {
  const missing = Object.entries(SYSTEM).filter(
    ([command]) =>
      !existsSync(command) && spawnSync("sh", ["-c", `PATH=$PATH:/usr/sbin command -v ${command}`]).status !== 0,
  );
  if (missing.length === 0) return;
  const packages = [...new Set(missing.map(([, name]) => name))];
  console.log(`Installing Debian packages: ${packages.join(", ")}…`);
  const sudo = process.getuid?.() === 0 ? [] : ["sudo"];
  const [first, ...before] = [...sudo, "apt-get"];
  run(first, [...before, "update"]);
  run(first, [...before, "install", "-y", "--no-install-recommends", ...packages]);
}
