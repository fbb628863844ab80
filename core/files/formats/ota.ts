import { apiOf, releaseOf } from "~/core/android/releases";
import type { Finding, Told } from "../report";
import { TELLS_NOTHING } from "../report";
import { toldByFingerprint } from "./vbmeta";
import { entryNamed, textOf, type ZipEntry } from "./zip";

const METADATA = "META-INF/com/android/metadata";
const PAYLOAD = "payload.bin";
/** The script has a maker's name in its path; whichever it is. */
const SCRIPT = /^META-INF\/com\/[^/]+\/android\/updater-script$/;

export const isOta = (entries: readonly ZipEntry[]): boolean =>
  entryNamed(entries, METADATA) !== undefined || entryNamed(entries, SCRIPT) !== undefined;

/**
 * Lines `key=value` of an OTA package's metadata.
 *
 * @source AOSP OTA tools, `ota_metadata` in its text form
 */
export function readMetadata(text: string): Record<string, string> {
  const found: Record<string, string> = {};
  for (const line of text.split(/\r?\n/).slice(0, 500)) {
    const at = line.indexOf("=");
    if (at > 0 && at < 120)
      found[line.slice(0, at).trim()] = line
        .slice(at + 1)
        .trim()
        .slice(0, 400);
  }
  return found;
}

/**
 * What a package's script checks before it installs: the devices it names and the versions it asks for.
 *
 * @source AOSP edify: `assert(getprop("…") == "…" || …)`, and `getprop("…") == "…" || abort(…)`
 */
export function readChecks(script: string): { readonly devices: string[]; readonly checks: string[] } {
  const devices = new Set<string>();
  const checks = new Set<string>();
  for (const [, property, value] of script
    .slice(0, 200_000)
    .matchAll(/getprop\(\s*"([\w.]{1,80})"\s*\)\s*==\s*"([^"]{1,120})"/g)) {
    if (/(product|build)\.(device|product)$|\.device$/.test(property)) devices.add(value);
    else checks.add(`${property} must be ${value}`);
  }
  for (const [, name, value] of script
    .slice(0, 200_000)
    .matchAll(/verify_(\w{1,30})\(\s*((?:"[^"]{1,120}"\s*,?\s*){1,8})\)/g))
    checks.add(`${name.replaceAll("_", " ")}: ${value.replaceAll('"', "").trim()}`);
  return { devices: [...devices].slice(0, 200), checks: [...checks].slice(0, 200) };
}

const list = (text: string | undefined) =>
  (text ?? "")
    .split(/[|,]/)
    .map((t) => t.trim())
    .filter(Boolean);

/** Tells an OTA package: for whom, what it brings, from where, and what it does to data. */
export async function readOta(entries: readonly ZipEntry[]): Promise<Finding> {
  const metadata = readMetadata((await textOf(entries, METADATA)) ?? "");
  const script = readChecks((await textOf(entries, SCRIPT)) ?? "");
  const api = Number(metadata["post-sdk-level"]) || null;
  const print = toldByFingerprint(metadata["post-build"] ?? "");
  const release = (api && releaseOf(api)) || print.release || null;
  const patch = metadata["post-security-patch-level"];
  const told: Told = {
    ...TELLS_NOTHING,
    release,
    api: api ?? (release ? apiOf(release) : null),
    build: print.build ?? metadata["post-build"] ?? metadata["post-build-incremental"] ?? null,
    patch: /^\d{4}-\d{2}-\d{2}$/.test(patch ?? "") ? patch : null,
    devices: [...new Set([...list(metadata["pre-device"]), ...script.devices])].slice(0, 200),
  };
  const full = metadata["ota-type"] ? !metadata["pre-build"] && !metadata["pre-build-incremental"] : null;
  const downgrade = metadata["ota-downgrade"] === "yes";
  const wipes = downgrade || metadata["ota-wipe"] === "yes";
  return {
    says: [
      `Installable package${release ? ` with Android ${release}` : ""}${told.build ? `, build ${told.build}` : ""}`,
      told.devices.length ? `for ${told.devices.join(", ")}` : "that names no device",
      full === false && `only on top of ${metadata["pre-build"] ?? metadata["pre-build-incremental"]}`,
      downgrade && "goes down a release",
      wipes && "wipes the device",
    ]
      .filter(Boolean)
      .join(", ")
      .concat("."),
    whole: {
      is: "unknown",
      says: "The directory at its end is there; only the digest or a test of the inside tells more",
    },
    expanded: null,
    told,
    content: {
      kind: "ota",
      type: metadata["ota-type"] ?? (entryNamed(entries, PAYLOAD) ? "AB" : "script"),
      metadata,
      checks: script.checks,
      downgrade,
      wipes,
      full,
      payload: null,
    },
  };
}
