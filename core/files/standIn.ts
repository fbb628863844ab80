import { unzipSync, zipSync } from "fflate";
import { createTar, parseTar } from "nanotar";
import { z } from "zod";
import type { FlasherSlot } from "~/core/catalogue/flasherSlots";
import { type Image, imageApi } from "~/core/catalogue/image";
import { vbmetaSize, writeVbmeta } from "./formats/writeVbmeta";
import { isSparse, readSparse, writeSparse } from "./sparse";

/**
 * Stand-in files: small files that carry what the simulated phone must know of an image, inside real containers (sparse
 * image, verification header, zip, plain partition).
 */
export const StandInLabel = z.object({
  image: z.string(),
  kind: z.string(),
  release: z.string(),
  api: z.number(),
  build: z.string().nullable(),
  firmware: z.string().nullable(),
  patch: z.string().nullable(),
  version: z.string(),
  flavour: z.string().nullable(),
  installs: z.string().nullable(),
  cpu: z.string().nullable(),
  /** Code names it is made for; empty for generic ones. */
  devices: z.array(z.string()),
  firmwareFrom: z.string().nullable(),
  firmwareTo: z.string().nullable(),
  recoveryVersion: z.string().nullable(),
  fromReleases: z.array(z.string()),
  /** The screen or keyboard that an app brings. */
  component: z.string().optional(),
  /** Regions and model numbers it is made for, the fuse level it carries; a region part also says whether it wipes. */
  regions: z.array(z.string()).optional(),
  modelNumbers: z.array(z.string()).optional(),
  fuse: z.number().nullable().optional(),
  wipes: z.boolean().optional(),
  /** For a loader board: the chip it is made for, and the row it was packed for. */
  chip: z.string().optional(),
  partition: z.string().optional(),
  /** For a port: what it names itself, the build it needs under it, and which of its two packages this is. */
  port: z.object({ modelNumber: z.string(), codename: z.string(), base: z.string().nullable() }).optional(),
  pack: z.number().optional(),
  /** A recovery that can't read storage while the system's encryption is on. */
  needsDecrypted: z.boolean().optional(),
});
export type StandInLabel = z.infer<typeof StandInLabel>;

/** Where the flags stand in a verification header. @source AOSP libavb, AvbVBMetaImageHeader */
const FLAGS_AT = 120;

const MARK = "UPSHIFT-STAND-IN ";

/** @example labelOf(image, () => "lumen").kind // "rom" … */
export function labelOf(image: Image, codename: (model: string) => string | undefined): StandInLabel {
  return {
    image: image.id,
    kind: image.kind,
    release: image.release,
    api: imageApi(image),
    build: image.build,
    firmware: image.firmware,
    patch: image.patch,
    version: image.version,
    flavour: image.flavour,
    installs: image.installs,
    cpu: image.cpu,
    devices: image.models.flatMap((m) => codename(m) ?? []),
    firmwareFrom: image.needs.firmwareFrom,
    firmwareTo: image.needs.firmwareTo,
    recoveryVersion: image.needs.recoveryVersion,
    fromReleases: image.needs.fromReleases,
    // Only where there is something to say: the label of every other file stays what it was.
    ...(image.regions.length > 0 && { regions: image.regions }),
    ...(image.modelNumbers.length > 0 && { modelNumbers: image.modelNumbers }),
    ...(image.fuse !== null && { fuse: image.fuse }),
    ...(image.port && {
      port: { modelNumber: image.port.modelNumber, codename: image.port.codename, base: image.port.base },
    }),
    ...(image.chip !== null && { chip: image.chip }),
    ...(image.needs.decrypted && { needsDecrypted: true }),
  };
}

const line = (label: StandInLabel) => new TextEncoder().encode(`${MARK}${JSON.stringify(label)}\n`);

function padded(bytes: Uint8Array, to: number): Uint8Array {
  const out = new Uint8Array(Math.ceil(bytes.length / to) * to);
  out.set(bytes);
  return out;
}

function verificationBytes(label: StandInLabel, off: boolean): Uint8Array {
  const device = label.devices[0] ?? "any";
  const head = writeVbmeta({
    properties: {
      "com.android.build.system.fingerprint": `stand-in/${device}/${device}:${label.release}/${label.build}/1:user/release-keys`,
      "com.android.build.system.os_version": label.release,
      ...(label.patch && { "com.android.build.boot.security_patch": label.patch }),
    },
    trees: ["system"],
    hashed: ["boot"],
  });
  const tail = line(label);
  const whole = new Uint8Array(head.length + tail.length);
  whole.set(head);
  whole.set(tail, head.length);
  // Both flags, as the client sets them with --disable-verity and --disable-verification.
  if (off) new DataView(whole.buffer).setUint32(FLAGS_AT, 3, false);
  return padded(whole, 4096);
}

/**
 * The bytes of one stand-in file; the same for the same image, on every machine.
 *
 * @param md5 of bytes, as hexadecimal: for the line behind a tar

 * @source package: AOSP OTA tools, `META-INF/com/android/metadata`
 *
 * @example standInBytes(image, "boot.img", (model) => codenames.get(model), md5).length // 4096 …
 */
export function standInBytes(
  image: Image,
  fileName: string,
  codename: (model: string) => string | undefined,
  md5: Md5,
): Uint8Array {
  const file = image.files.find((f) => f.name === fileName);
  if (!file) throw new RangeError(`${image.id} has no file ${fileName}`);
  const replacement = [image.packages?.home, image.packages?.keyboard].find((r) => r?.file === fileName);
  const label = {
    ...labelOf(image, codename),
    ...(replacement && { component: replacement.component }),
    ...(image.port && { pack: image.files.indexOf(file) + 1 }),
    ...(image.writtenBy === "rows" && file.partition !== null && { partition: file.partition }),
  };
  if (file.slot) return slotTar(label, file.slot, file.name, md5);
  if (file.partition === null) {
    const metadata = [
      `ota-type=${image.kind === "rom" ? "BLOCK" : "FILE"}`,
      `pre-device=${label.devices.join("|")}`,
      `post-build=${label.build ?? image.id}`,
      `post-sdk-level=${label.api}`,
      `post-security-patch-level=${label.patch ?? ""}`,
      "",
    ].join("\n");
    // A date built from local parts: the zip format stores local time, so the bytes are the same in every time zone.
    const options = { level: 0 as const, mtime: new Date(2020, 0, 1, 0, 0, 0) };
    return zipSync(
      {
        "META-INF/com/android/metadata": [new TextEncoder().encode(metadata), options],
        "stand-in.txt": [line(label), options],
        // A card's package holds its folder one level down, beside what is not for the card.
        ...(image.cardFolder && {
          [`package/${image.cardFolder}/update.bin`]: [line(label), options],
          [`package/${image.cardFolder}/check.txt`]: [new TextEncoder().encode(`${image.build}\n`), options],
          "package/read-me.txt": [new TextEncoder().encode("For the person at the bench.\n"), options],
        }),
      },
      options,
    );
  }
  if (file.partition === "vbmeta") return verificationBytes(label, false);
  return file.expanded ? writeSparse(padded(line(label), 4096), file.expanded) : padded(line(label), 4096);
}

/** Partition images inside the tar of a slot, as the simulated phone writes them. */
const IN_SLOT: Record<FlasherSlot, readonly string[]> = {
  bootloader: ["bootloader"],
  system: ["boot", "recovery", "system", "vbmeta"],
  radio: ["radio"],
  "region-wipe": ["region"],
  "region-keep": ["region"],
  data: ["vbmeta"],
};

/** The MD5 of bytes, hexadecimal: the core has none that answers at once. */
export type Md5 = (bytes: Uint8Array) => string;

/** A tar of partition images with the MD5 of everything before it as its last line, as download-mode packages have it. */
function slotTar(label: StandInLabel, slot: FlasherSlot, name: string, md5: Md5): Uint8Array {
  const parts = label.kind === "recovery" && slot === "system" ? ["recovery"] : IN_SLOT[slot];
  const tar = createTar(
    parts.map((part) => ({
      name: `${part}.img`,
      data: partInTar(label, part, slot),
      attrs: { mtime: 1_577_836_800_000 },
    })),
  );
  const tail = new TextEncoder().encode(`${md5(tar)}  ${name.replace(/\.md5$/, "")}\n`);
  const out = new Uint8Array(tar.length + tail.length);
  out.set(tar);
  out.set(tail, tar.length);
  return out;
}

/** A region part says whether it wipes; a patched verification file carries its flags set. */
function partInTar(label: StandInLabel, part: string, slot: FlasherSlot): Uint8Array {
  if (part === "vbmeta" && slot === "data") return verificationBytes(label, true);
  if (part === "vbmeta") return verificationBytes(label, false);
  return padded(line(part === "region" ? { ...label, wipes: slot === "region-wipe" } : label), 4096);
}

export interface ReadStandIn {
  readonly label: StandInLabel;
  /** Bytes it takes on the partition. */
  readonly size: number;
  /** For a verification file: verity and verification are switched off. */
  readonly verificationOff: boolean;
}

/**
 * Reads what a stand-in file says of itself; null when it is none.
 *
 * @example readStandIn(new Uint8Array(8)) // null
 */
export function readStandIn(bytes: Uint8Array): ReadStandIn | null {
  try {
    if (isSparse(bytes)) {
      const sparse = readSparse(bytes);
      const label = findLabel(sparse.head);
      return label && { label, size: sparse.expanded, verificationOff: false };
    }
    if (bytes[0] === 0x50 && bytes[1] === 0x4b) {
      const entry = unzipSync(bytes, { filter: (f) => f.name === "stand-in.txt" && f.originalSize < 65_536 })[
        "stand-in.txt"
      ];
      const label = entry ? findLabel(entry) : null;
      return label && { label, size: bytes.length, verificationOff: false };
    }
    if (new TextDecoder().decode(bytes.subarray(0, 4)) === "AVB0") {
      const label = findLabel(bytes.subarray(vbmetaSize(bytes)));
      const flags = new DataView(bytes.buffer, bytes.byteOffset).getUint32(FLAGS_AT, false);
      return label && { label, size: bytes.length, verificationOff: (flags & 3) === 3 };
    }
    const label = findLabel(bytes);
    return label && { label, size: bytes.length, verificationOff: false };
  } catch {
    return null;
  }
}

/**
 * The label that stands at the beginning of these bytes; null where none does.
 *
 * @example findLabel(new Uint8Array(8)) // null
 */
export function findLabel(bytes: Uint8Array): StandInLabel | null {
  const text = new TextDecoder().decode(bytes.subarray(0, 16_384));
  if (!text.startsWith(MARK)) return null;
  return StandInLabel.parse(JSON.parse(text.slice(MARK.length, text.indexOf("\n"))));
}

/** A file inside the tar of a slot, with what it says of itself. */
export interface SlotPart extends ReadStandIn {
  readonly partition: string;
  readonly bytes: Uint8Array;
}

/**
 * Reads the tar of a slot.
 *
 * @returns its partition images, or in words what is wrong with it: no tar, no MD5 behind the end, another MD5
 * @example readSlotTar(new Uint8Array(600), () => "") // "there is no MD5 behind its end"
 */
export function readSlotTar(bytes: Uint8Array, md5: Md5): readonly SlotPart[] | string {
  const tail = /([0-9a-f]{32}) {2}[^\r\n\0]{1,200}\n$/.exec(new TextDecoder("latin1").decode(bytes.subarray(-300)));
  if (!tail) return "there is no MD5 behind its end";
  const tar = bytes.subarray(0, bytes.length - tail[0].length);
  if (md5(tar) !== tail[1]) return "its MD5 is not the one behind its end: fetch the file again";
  try {
    const parts = parseTar(tar.slice()).map(({ name, data }) => ({
      name,
      data,
      read: data ? readStandIn(data) : null,
    }));
    if (parts.length === 0) return "it is empty";
    const unknown = parts.find((p) => !p.read || !p.name.endsWith(".img"));
    if (unknown) return `it holds “${unknown.name.slice(0, 60)}”, which is no partition image`;
    return parts.flatMap(({ name, data, read }) =>
      read && data ? [{ ...read, bytes: data, partition: name.replace(/\.img$/, "") }] : [],
    );
  } catch {
    return "it is no tar";
  }
}
