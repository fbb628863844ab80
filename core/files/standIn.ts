import { unzipSync, zipSync } from "fflate";
import { z } from "zod";
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
});
export type StandInLabel = z.infer<typeof StandInLabel>;

const MARK = "UPSHIFT-STAND-IN ";

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
  };
}

const line = (label: StandInLabel) => new TextEncoder().encode(`${MARK}${JSON.stringify(label)}\n`);

function padded(bytes: Uint8Array, to: number): Uint8Array {
  const out = new Uint8Array(Math.ceil(bytes.length / to) * to);
  out.set(bytes);
  return out;
}

/**
 * The bytes of one stand-in file; the same for the same image, on every machine.
 *
 * @source package: AOSP OTA tools, `META-INF/com/android/metadata`
 */
export function standInBytes(
  image: Image,
  fileName: string,
  codename: (model: string) => string | undefined,
): Uint8Array {
  const file = image.files.find((f) => f.name === fileName);
  if (!file) throw new RangeError(`${image.id} has no file ${fileName}`);
  const replacement = [image.packages?.home, image.packages?.keyboard].find((r) => r?.file === fileName);
  const label = { ...labelOf(image, codename), ...(replacement && { component: replacement.component }) };
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
      },
      options,
    );
  }
  if (file.partition === "vbmeta") {
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
    return padded(whole, 4096);
  }
  return file.expanded ? writeSparse(padded(line(label), 4096), file.expanded) : padded(line(label), 4096);
}

export interface ReadStandIn {
  readonly label: StandInLabel;
  /** Bytes it takes on the partition. */
  readonly size: number;
  /** For a verification file: verity and verification are switched off. */
  readonly verificationOff: boolean;
}

/** Reads what a stand-in file says of itself; null when it is none. */
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
      const flags = new DataView(bytes.buffer, bytes.byteOffset).getUint32(120, false);
      return label && { label, size: bytes.length, verificationOff: (flags & 3) === 3 };
    }
    const label = findLabel(bytes);
    return label && { label, size: bytes.length, verificationOff: false };
  } catch {
    return null;
  }
}

/** The label that stands at the beginning of these bytes; null where none does. */
export function findLabel(bytes: Uint8Array): StandInLabel | null {
  const text = new TextDecoder().decode(bytes.subarray(0, 16_384));
  if (!text.startsWith(MARK)) return null;
  return StandInLabel.parse(JSON.parse(text.slice(MARK.length, text.indexOf("\n"))));
}
