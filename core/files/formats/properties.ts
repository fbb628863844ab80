import type { Told } from "../report";
import { toldByFingerprint } from "./vbmeta";

/** Where a build keeps its properties: in an image of the whole root, in one of the partition alone, in vendor's and product's. */
const PLACES = [["system", "build.prop"], ["build.prop"], ["etc", "build.prop"]];

/** Properties that tell what a build is; the rest is not kept. */
const KEPT =
  /^ro\.(?:(?:system|product|vendor|odm|system_ext)\.)?(?:build\.(?:fingerprint|id|display\.id|version\.(?:release|sdk|security_patch)|date\.utc)|product(?:\.(?:system|product|vendor|odm))?\.(?:device|model|name|cpu\.abi|cpu\.abilist))$/;

/**
 * Lines `key=value` of a property file that tell what a build is.
 *
 * @source AOSP `system/core/init/property_service`: one property a line, `#` begins a comment
 */
export function readProperties(text: string): Record<string, string> {
  const found: Record<string, string> = {};
  for (const line of text.split(/\r?\n/)) {
    const [, key, value] = /^([\w.]{1,120})=(.{0,400})$/.exec(line.trim()) ?? [];
    if (key && KEPT.test(key)) found[key] = value;
  }
  return found;
}

/** The properties kept in an image, wherever they stand; empty where they are not, or are packed. */
export async function readBuildProperties(
  file: (path: readonly string[]) => Promise<Uint8Array | null>,
): Promise<Record<string, string>> {
  for (const path of PLACES) {
    const bytes = await file(path);
    const found = bytes ? readProperties(new TextDecoder().decode(bytes)) : {};
    if (Object.keys(found).length) return found;
  }
  return {};
}

/** What the properties tell of the build. */
export function toldByProperties(properties: Readonly<Record<string, string>>): Partial<Told> {
  const end = (ending: string) => Object.entries(properties).find(([key]) => key.endsWith(ending))?.[1];
  const abi = end("cpu.abi") ?? end("cpu.abilist");
  const patch = end("version.security_patch");
  const device = end("product.device") ?? end(".device");
  return {
    ...toldByFingerprint(end("build.fingerprint") ?? ""),
    ...(end("version.release") && { release: end("version.release") }),
    ...(end("display.id") && { build: end("display.id") }),
    ...(patch && /^\d{4}-\d{2}-\d{2}$/.test(patch) && { patch }),
    ...(device && { devices: [device] }),
    ...(abi && { cpu: abi.startsWith("arm64") ? ("arm64" as const) : abi.startsWith("arm") ? ("arm" as const) : null }),
  };
}
