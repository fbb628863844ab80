import { describeRelease } from "~/core/android/releases";
import { FileReadError } from "../readError";
import { type ApkContent, type Finding, TELLS_NOTHING } from "../report";
import { bytesSource } from "../source";
import { type Feature, featuresOf } from "./appFeatures";
import { readBinaryXml, type TypedValue, type XmlElement } from "./binaryXml";
import { resourceText } from "./resourceTable";
import { entryNamed, openZip, type ZipEntry } from "./zip";

const MANIFEST = "AndroidManifest.xml";
const MAX_MANIFEST = 8 * 1_048_576;
const MAX_RESOURCES = 48 * 1_048_576;
/** The largest package that is unpacked out of a split-package archive. */
const MAX_INNER = 128 * 1_048_576;
const MAX_SPLITS = 200;

/** Resource ids of the attributes that count here. @source AOSP `public-final.xml`, stable since Android 1.0 and later */
const ATTR = {
  name: 0x01010003,
  label: 0x01010001,
  minSdk: 0x0101020c,
  versionCode: 0x0101021b,
  versionName: 0x0101021c,
  targetSdk: 0x01010270,
  maxSdk: 0x01010271,
  required: 0x0101028e,
} as const;

export const isApk = (entries: readonly ZipEntry[]): boolean => entryNamed(entries, MANIFEST) !== undefined;
export const isApkSet = (entries: readonly ZipEntry[]): boolean =>
  !isApk(entries) && entries.some((e) => /\.apk$/i.test(e.name));

/**
 * Code names that stand for a release where an app was built against a preview; the level that release got.
 *
 * @source AOSP, android.os.Build.VERSION_CODES
 */
const PREVIEWS: Readonly<Record<string, number>> = {
  Q: 29,
  R: 30,
  S: 31,
  Sv2: 32,
  T: 33,
  Tiramisu: 33,
  U: 34,
  UpsideDownCake: 34,
  V: 35,
  VanillaIceCream: 35,
  Baklava: 36,
};

/** A preview's fingerprint may stand behind a dot. */
const previewLevel = (text: string): number | undefined => PREVIEWS[text.split(".")[0]];

/** The lowest level an app asks for. @throws FileReadError where it is a code name that is not known here */
function floorLevel(value: TypedValue | undefined): number {
  const level = number(value);
  if (level !== null) return Math.max(1, level);
  if (value?.kind !== "text" || value.text === "") return 1;
  const named = previewLevel(value.text);
  if (named === undefined)
    throw new FileReadError(
      "not-supported",
      `The app asks for a preview of Android, “${value.text.slice(0, 40)}”, whose level is not known here`,
    );
  return named;
}

const number = (value: TypedValue | undefined): number | null =>
  value?.kind === "number"
    ? value.number
    : value?.kind === "text" && /^\d{1,9}$/.test(value.text)
      ? Number(value.text)
      : null;

/**
 * What an app package asks for: lowest API level, CPU ABIs, hardware, permissions.
 *
 * @throws FileReadError when the manifest is missing or damaged
 * @source Android developer documentation: `<uses-sdk>` (minSdkVersion is 1 where it is missing), `<uses-feature>`, ABI
 *         management (`lib/<abi>/`)
 */
export async function readApk(entries: readonly ZipEntry[]): Promise<ApkContent> {
  const manifest = entryNamed(entries, MANIFEST);
  if (!manifest) throw new FileReadError("not-this", "There is no app manifest in it");
  const elements = readBinaryXml(await manifest.bytes(MAX_MANIFEST));
  const all = (name: string) => elements.filter((e) => e.name === name);
  const text = (value: TypedValue | undefined) => (value?.kind === "text" ? value.text.slice(0, 400) : null);
  const root = all("manifest")[0];
  if (!root) throw new FileReadError("damaged", "The app's manifest has no beginning");
  const sdk = all("uses-sdk")[0];
  const nameOf = (e: XmlElement) => text(e.attribute(ATTR.name, "name")) ?? "";
  const floor = floorLevel(sdk?.attribute(ATTR.minSdk, "minSdkVersion"));
  const made = sdk?.attribute(ATTR.targetSdk, "targetSdkVersion");
  const target = number(made) ?? (made?.kind === "text" ? (previewLevel(made.text) ?? null) : null);
  const asked = [...all("uses-permission"), ...all("uses-permission-sdk-23")];
  const permissions = [...new Set(asked.map(nameOf).filter(Boolean))].slice(0, 2000);
  const features = all("uses-feature")
    .filter((e) => nameOf(e))
    .slice(0, 900);
  const feature = (e: XmlElement): Feature => {
    const required = e.attribute(ATTR.required, "required");
    return { name: nameOf(e), required: !(required?.kind === "boolean" && !required.is) };
  };
  const groups = all("feature-group");
  return {
    kind: "apk",
    package: text(root.attribute(0, "package")) ?? "",
    label: await shown(entries, all("application")[0]?.attribute(ATTR.label, "label")),
    versionName: await shown(entries, root.attribute(ATTR.versionName, "versionName")),
    versionCode: number(root.attribute(ATTR.versionCode, "versionCode")) ?? 0,
    minApi: floor,
    targetApi: target,
    maxApi: number(sdk?.attribute(ATTR.maxSdk, "maxSdkVersion")),
    abis: abisOf(entries),
    features: featuresOf(
      features.filter((e) => e.parent?.name !== "feature-group").map(feature),
      groups.map((g) => features.filter((e) => e.parent === g).map(feature)),
      permissions,
      target ?? floor,
    ),
    permissions,
    namesServices: elements.some((e) => /(^|\.)(gms|c2dm)(\.|$)/.test(nameOf(e))),
    split: text(root.attribute(0, "split")),
    splits: [],
  };
}

/** A text of the manifest, looked up in the resources where it stands there. */
async function shown(entries: readonly ZipEntry[], value: TypedValue | undefined): Promise<string | null> {
  if (value?.kind === "text") return value.text.slice(0, 400);
  if (value?.kind === "number") return `${value.number}`;
  if (value?.kind !== "reference") return null;
  const table = entryNamed(entries, "resources.arsc");
  return table && table.size <= MAX_RESOURCES ? resourceText(await table.bytes(MAX_RESOURCES), value.id) : null;
}

function abisOf(entries: readonly ZipEntry[]): string[] {
  const abis = new Set<string>();
  for (const { name } of entries) {
    const found = /^lib\/([^/]{1,40})\/[^/]+\.so$/.exec(name);
    if (found) abis.add(found[1]);
  }
  return [...abis].sort().slice(0, 64);
}

/**
 * A split-package archive: its base package, with the ABIs of all its parts.
 *
 * @throws FileReadError when it has no base package
 */
export async function readApkSet(entries: readonly ZipEntry[]): Promise<ApkContent> {
  let base: ApkContent | null = null;
  const splits: string[] = [];
  const abis = new Set<string>();
  let minApi = 1;
  const bases = new Map<string, string>();
  for (const entry of entries.filter((e) => /\.apk$/i.test(e.name)).slice(0, MAX_SPLITS)) {
    const source = entry.stored ? await entry.source() : bytesSource(entry.name, await entry.bytes(MAX_INNER));
    const part = await readApk(await openZip(source));
    for (const abi of part.abis) abis.add(abi);
    // All its parts are installed together: the highest floor counts.
    minApi = Math.max(minApi, part.minApi);
    if (part.split === null) {
      base ??= part;
      bases.set(part.package, entry.name);
    } else splits.push(part.split);
  }
  if (bases.size > 1)
    throw new FileReadError(
      "not-this",
      `The archive holds ${bases.size} apps, not one: ${[...bases]
        .slice(0, 5)
        .map(([app, file]) => `${app} (${file})`)
        .join(", ")}. Unpack it and drop each by itself`,
    );
  if (!base) throw new FileReadError("damaged", "The archive holds only parts of an app; the base package is missing");
  return { ...base, minApi, abis: [...abis].sort(), splits: splits.slice(0, 1000) };
}

/** Tells an app package or a split-package archive. */
export async function tellApk(entries: readonly ZipEntry[]): Promise<Finding> {
  const content = isApk(entries) ? await readApk(entries) : await readApkSet(entries);
  const name = content.label ?? content.package;
  return {
    says: `App ${name}${content.versionName ? ` ${content.versionName}` : ""}: needs ${describeRelease(content.minApi)} or later${content.abis.length ? `, made for ${content.abis.join(", ")}` : ""}${content.namesServices ? ", names the services package" : ""}${content.split ? ". It is only a part of an app: drop the base package too" : ""}.`,
    whole: { is: "unknown", says: "The directory at its end is there; the app store's signature is not checked" },
    expanded: null,
    told: TELLS_NOTHING,
    content,
  };
}
