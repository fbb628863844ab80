import { apiOf } from "~/core/android/releases";
import { isApk, isApkSet, tellApk } from "./formats/apk";
import { tellArchive } from "./formats/archive";
import { isBoot, isVendorBoot, readBoot, readVendorBoot } from "./formats/boot";
import { decodeText, tellDigestList } from "./formats/digestList";
import { isDtbo, readDtbo } from "./formats/dtbo";
import { isErofs, openErofs } from "./formats/erofs";
import { isExt4, openExt4 } from "./formats/ext4";
import { isFactory, lockingWords, readFactory } from "./formats/factory";
import { isOta, readOta } from "./formats/ota";
import { isGzip, isXz, readGzip, readXz } from "./formats/packed";
import { holdsPartitionList, tellPartitionList } from "./formats/partitionList";
import { isPayload, readPayload, tellPayload } from "./formats/payload";
import { readBuildProperties, toldByProperties } from "./formats/properties";
import { mapSparse } from "./formats/sparseImage";
import { geometryAt, tellSuper } from "./formats/superMetadata";
import { isTar, readTar } from "./formats/tar";
import { isVbmeta, readVbmeta, toldByFooter } from "./formats/vbmeta";
import { entryNamed, openZip, type ZipEntry } from "./formats/zip";
import { FileReadError } from "./readError";
import { type FileReport, type Finding, TELLS_NOTHING } from "./report";
import type { Source } from "./source";
import { isSparse } from "./sparse";
import { findLabel } from "./standIn";

/** Texts up to this size are looked at as lists. */
const MAX_TEXT = 1_048_576;
/** A dumped parameter partition is some megabytes, with the list near its beginning. */
const MAX_DUMP = 16 * 1_048_576;

/**
 * Says what a file is, by its content: whatever its name ends with.
 *
 * A file that is damaged is reported as what it should be, with what is wrong; this throws only when the source itself
 * can't be read.
 *
 * @param source read by ranges; a few kilobytes to some megabytes of it
 * @example (await recognise(bytesSource("boot.img", new Uint8Array()))).content.kind // "empty" …
 */
export async function recognise(source: Source): Promise<FileReport> {
  const { name, size } = source;
  let finding: Finding;
  try {
    finding = await find(source);
  } catch (error) {
    if (!(error instanceof FileReadError)) throw error;
    finding = broken(error);
  }
  const api = finding.told.api ?? (finding.told.release ? apiOf(finding.told.release) : null);
  return { name: name.slice(-400), size, ...finding, says: finding.says.slice(0, 600), told: { ...finding.told, api } };
}

const broken = (error: FileReadError): Finding => ({
  says: `${error.message}.`,
  whole:
    error.problem === "cut-short" || error.problem === "damaged"
      ? { is: "no", says: error.message.slice(0, 400) }
      : { is: "unknown", says: error.message.slice(0, 400) },
  expanded: null,
  told: TELLS_NOTHING,
  content: { kind: "unknown", begins: "" },
});

async function find(source: Source): Promise<Finding> {
  if (source.size === 0)
    return {
      says: "The file is empty: the download never began. Fetch it again.",
      whole: { is: "no", says: "It has no bytes" },
      expanded: null,
      told: TELLS_NOTHING,
      content: { kind: "empty" },
    };
  const head = await source.read(0, 4096);
  if (isSparse(head)) return findSparse(source);
  if (isBoot(head)) return withFooter(source, await readBoot(source));
  if (isVendorBoot(head)) return withFooter(source, await readVendorBoot(source));
  if (isVbmeta(head)) return readVbmeta(source);
  if (isDtbo(head)) return withFooter(source, await readDtbo(source));
  if (isPayload(head)) return tellPayload(source);
  if (isXz(head)) return readXz(source);
  if (isGzip(head)) return readGzip(source);
  if (head[0] === 0x50 && head[1] === 0x4b) return findZip(source);
  const archive = tellArchive(head, source.name);
  if (archive) return archive;
  if ((await geometryAt(source)) !== null) return tellSuper(source);
  if ((await isExt4(source)) || (await isErofs(source))) return findFileSystem(source, source.size);
  if (isTar(head.subarray(0, 512))) return readTar(source);
  return findText(source, head);
}

/** An image with a signed footer tells its build there. */
async function withFooter(source: Source, finding: Finding): Promise<Finding> {
  const told = await toldByFooter(source);
  return told ? { ...finding, told: { ...finding.told, ...told } } : finding;
}

async function findSparse(source: Source): Promise<Finding> {
  const map = await mapSparse(source);
  const { inside } = map;
  let within: Finding | null = null;
  try {
    if ((await geometryAt(inside)) !== null) within = await tellSuper(inside);
    else if ((await isExt4(inside)) || (await isErofs(inside))) within = await findFileSystem(inside, inside.size);
  } catch (error) {
    if (!(error instanceof FileReadError)) throw error;
  }
  const kind = within?.content.kind;
  const mib = (map.expanded / 1_048_576).toLocaleString("en", { maximumFractionDigits: 1 });
  return {
    says: `Sparse image: ${map.chunks} chunks, ${mib} MiB on the partition. ${within ? `Inside: ${within.says}` : "What is inside is not known here."}`,
    whole: { is: "yes", says: `All ${map.chunks} chunks are there and their blocks add up` },
    expanded: map.expanded,
    told: within?.told ?? TELLS_NOTHING,
    content: {
      kind: "sparse",
      blockSize: map.blockSize,
      blocks: map.blocks,
      chunks: map.chunks,
      raw: map.raw,
      fill: map.fill,
      skip: map.skip,
      inside: kind === "ext4" || kind === "erofs" || kind === "super" ? kind : "unknown",
    },
  };
}

async function findFileSystem(source: Source, size: number): Promise<Finding> {
  const ext4 = await isExt4(source);
  const image = ext4 ? await openExt4(source) : await openErofs(source);
  const properties = await readBuildProperties(image.file);
  const told = { ...TELLS_NOTHING, ...toldByProperties(properties), ...((await toldByFooter(source)) ?? {}) };
  const mib = (image.bytes / 1_048_576).toLocaleString("en", { maximumFractionDigits: 1 });
  return {
    says: `${ext4 ? "ext4" : "EROFS"} image of ${mib} MiB${image.label ? `, label “${image.label}”` : ""}${told.release ? `, Android ${told.release}` : ""}${told.build ? `, build ${told.build}` : ""}.`,
    whole:
      image.bytes <= size
        ? { is: "yes", says: "The file is as long as its file system; the files in it are not checked" }
        : { is: "no", says: `The file system has ${image.bytes} bytes, the file ${size}: it was cut short` },
    expanded: image.bytes,
    told: { ...told, partition: told.partition ?? (image.label.replace(/^\//, "") || null) },
    content:
      "usedBytes" in image
        ? { kind: "ext4", label: image.label, used: image.usedBytes, uuid: image.uuid, properties }
        : { kind: "erofs", label: image.label, uuid: image.uuid, packed: image.packed, properties },
  };
}

async function findZip(source: Source): Promise<Finding> {
  const entries = await openZip(source);
  const finding = await findInZip(entries);
  // Whatever else a package is: a script in it that locks the bootloader is said.
  const locks = isApk(entries) ? "" : await lockingWords(entries);
  return locks ? { ...finding, says: `${finding.says} ${locks}` } : finding;
}

/** A package that holds an app is not therefore an app: what it does to a device is asked first. */
async function findInZip(entries: readonly ZipEntry[]): Promise<Finding> {
  if (isApk(entries)) return tellApk(entries);
  const ota = isOta(entries) ? await readOta(entries) : null;
  const payload = await payloadIn(entries);
  const packed = entryNamed(entries, "payload.bin")?.stored === false;
  if (ota?.content.kind === "ota" && payload?.content.kind === "payload")
    return {
      ...ota,
      expanded: payload.expanded,
      whole: payload.whole.is === "no" ? payload.whole : ota.whole,
      content: { ...ota.content, payload: payload.content },
    };
  if (ota && packed)
    return {
      ...ota,
      says: `${ota.says} Its payload is packed inside the zip: unpack payload.bin and drop it to look into it.`,
    };
  if (ota) return ota;
  if (payload) return payload;
  if (isFactory(entries)) return readFactory(entries);
  if (isApkSet(entries)) return tellApk(entries);
  return {
    says: `Zip with ${entries.length} files that is none of the packages known here: ${entries
      .slice(0, 5)
      .map((e) => e.name)
      .join(", ")}${entries.length > 5 ? "…" : ""}.`,
    whole: {
      is: "unknown",
      says: "The directory at its end is there; only the digest or a test of the inside tells more",
    },
    expanded: null,
    told: TELLS_NOTHING,
    content: { kind: "zip", entries: entries.length, first: entries.slice(0, 20).map((e) => e.name.slice(0, 400)) },
  };
}

async function payloadIn(entries: readonly ZipEntry[]): Promise<Finding | null> {
  const entry = entryNamed(entries, "payload.bin");
  return entry?.stored ? tellPayload(await entry.source()) : null;
}

/**
 * The payload of a file that is one, or holds one; null where there is none.
 *
 * @example await openPayload(bytesSource("a.txt", new Uint8Array(8))) // null …
 */
export async function openPayload(source: Source) {
  const head = await source.read(0, 4);
  if (isPayload(head)) return { source, payload: await readPayload(source) };
  if (head[0] !== 0x50 || head[1] !== 0x4b) return null;
  const entry = entryNamed(await openZip(source), "payload.bin");
  if (!entry) return null;
  const inside = await entry.source();
  return { source: inside, payload: await readPayload(inside) };
}

const isText = (bytes: Uint8Array) => bytes.every((b) => b >= 32 || b === 9 || b === 10 || b === 13);

/** What a plain partition of the demo says of itself. */
function findStandIn(head: Uint8Array): Finding | null {
  try {
    const label = findLabel(head);
    return (
      label && {
        says: `Stand-in of the demo for a partition of ${label.image} (Android ${label.release}): no real phone takes it.`,
        whole: { is: "unknown", says: "Its digest tells" },
        expanded: null,
        told: { ...TELLS_NOTHING, release: label.release, build: label.build, devices: label.devices },
        content: { kind: "unknown", begins: "" },
      }
    );
  } catch {
    return null;
  }
}

async function findText(source: Source, head: Uint8Array): Promise<Finding> {
  const standIn = findStandIn(head);
  if (standIn) return standIn;
  if (source.size <= MAX_TEXT) {
    const text = decodeText(await source.read(0, MAX_TEXT));
    const page = /^\s*(?:<!doctype html|<html)/i.test(text) && (/<title>\s*([^<]{0,200})/i.exec(text)?.[1] ?? "");
    if (page !== false)
      return {
        says: `This is a web page${page ? ` (“${page.trim()}”)` : ""}, not the file: the download asked for something first. Fetch it again in the browser and look what it asks.`,
        whole: { is: "no", says: "A web page was saved instead of the file" },
        expanded: null,
        told: TELLS_NOTHING,
        content: { kind: "web-page", title: page.trim().slice(0, 400) },
      };
    const digests = tellDigestList(text);
    if (digests) return digests;
  }
  if (source.size <= MAX_DUMP) {
    const text = new TextDecoder("latin1").decode(await source.read(0, MAX_DUMP));
    const list = holdsPartitionList(text) ? tellPartitionList(text) : null;
    if (list) return list;
  }
  const first = head.subarray(0, 16);
  return {
    says: isText(head.subarray(0, 256))
      ? "A text that is none of the lists known here."
      : "Not a kind of file that is known here. A digest can still tell whether it is the right one.",
    whole: { is: "unknown", says: "Nothing is known of what it should look like" },
    expanded: null,
    told: TELLS_NOTHING,
    content: {
      kind: "unknown",
      begins: isText(first)
        ? new TextDecoder().decode(first)
        : Array.from(first, (b) => b.toString(16).padStart(2, "0")).join(" "),
    },
  };
}
