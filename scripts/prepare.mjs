// Installs what the project needs, each part only when it is missing or has changed.

import { execFileSync, spawnSync } from "node:child_process";
import { createHash } from "node:crypto";
import { existsSync, mkdirSync, readFileSync, writeFileSync } from "node:fs";

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

/**
 * @param {{ system: boolean }} wanted whether the Debian packages for the tests are needed too
 */
export async function prepare({ system }) {
  const lock = readFileSync("package-lock.json");
  if (!existsSync("node_modules") || !isStamped("install", lock)) {
    console.log("Installing packages (the database module is compiled: about two minutes the first time)…");
    run("npm", ["ci", "--no-audit", "--no-fund"]);
    stamp("install", lock);
  }
  if (!system) return;
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
