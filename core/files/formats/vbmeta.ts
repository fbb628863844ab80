import { Fields, hasText } from "../fields";
import { FileReadError } from "../readError";
import { type Finding, TELLS_NOTHING, type Told } from "../report";
import { readAll, type Source } from "../source";

const HEADER = 256;
const MAX_DESCRIPTORS = 1000;
/** Larger blocks are no verification data: real ones have some kilobytes. */
const MAX_BLOCK = 4 * 1_048_576;

const ALGORITHMS = [
  "not signed",
  "SHA256_RSA2048",
  "SHA256_RSA4096",
  "SHA256_RSA8192",
  "SHA512_RSA2048",
  "SHA512_RSA4096",
  "SHA512_RSA8192",
];

export interface Vbmeta {
  readonly algorithm: string;
  readonly rollbackIndex: number;
  readonly flags: number;
  readonly madeBy: string;
  /** Partitions that its descriptors speak of. */
  readonly partitions: readonly string[];
  readonly properties: Readonly<Record<string, string>>;
  /** Bytes of header and blocks. */
  readonly size: number;
}

export const isVbmeta = (head: Uint8Array): boolean => hasText(head, 0, "AVB0");

/**
 * Reads verification metadata at a place of a source.
 *
 * @source AOSP Android Verified Boot 2.0 README, "The VBMeta Digest" and `avb_vbmeta_image.h`, `avb_descriptor.h`: big
 *         endian, 256-byte header, authentication block, auxiliary block with descriptors
 */
export async function parseVbmeta(source: Source, at = 0): Promise<Vbmeta> {
  const h = new Fields(await readAll(source, at, HEADER, "the verification header"), false, "the verification header");
  if (!isVbmeta(h.bytes)) throw new FileReadError("not-this", "This is not a verification file");
  if (h.u32(4) !== 1)
    throw new FileReadError("not-supported", `The verification file needs version ${h.u32(4)}; 1 is known here`);
  const [authentication, auxiliary] = [h.u64(12), h.u64(20)];
  const [descriptorsAt, descriptors] = [h.u64(96), h.u64(104)];
  if (authentication > MAX_BLOCK || auxiliary > MAX_BLOCK || descriptorsAt + descriptors > auxiliary)
    throw new FileReadError("damaged", "The sizes in the verification header can't be: the file is damaged");
  // Digest and signature lie in the first block, the key and what is said of it in the second.
  for (const [place, block] of [
    [32, authentication],
    [48, authentication],
    [64, auxiliary],
    [80, auxiliary],
  ])
    if (h.u64(place) + h.u64(place + 8) > block)
      throw new FileReadError("damaged", "The verification header points past its own blocks: the file is damaged");
  const block = await readAll(
    source,
    at + HEADER + authentication + descriptorsAt,
    descriptors,
    "the verification descriptors",
  );
  return {
    algorithm: ALGORITHMS[h.u32(28)] ?? `unknown (${h.u32(28)})`,
    rollbackIndex: h.u64(112),
    flags: h.u32(120),
    madeBy: h.text(128, 48),
    ...readDescriptors(new Fields(block, false, "a verification descriptor")),
    size: HEADER + authentication + auxiliary,
  };
}

/** Place of the partition name's length in each kind of descriptor, and of the name itself. */
const NAMED: Record<number, { length: number; name: number }> = {
  1: { length: 104, name: 180 }, // hashtree
  2: { length: 56, name: 132 }, // hash
  4: { length: 20, name: 92 }, // chain
};

function readDescriptors(d: Fields): Pick<Vbmeta, "partitions" | "properties"> {
  const partitions: string[] = [];
  const properties: Record<string, string> = {};
  for (let at = 0, n = 0; at < d.length; n++) {
    if (n >= MAX_DESCRIPTORS) throw new FileReadError("damaged", "The verification file has too many descriptors");
    const tag = d.u64(at);
    const following = d.u64(at + 8);
    if (tag === 0) {
      const [key, value] = [d.u64(at + 16), d.u64(at + 24)];
      const from = at + 32 + key + 1;
      properties[d.text(at + 32, key).slice(0, 400)] = d.text(from, value).slice(0, 400);
    } else if (NAMED[tag]) {
      const name = d.text(at + NAMED[tag].name, Math.min(d.u32(at + NAMED[tag].length), 120));
      if (name && !partitions.includes(name)) partitions.push(name);
    }
    at += 16 + following;
  }
  return { partitions, properties };
}

/**
 * What the properties of verification metadata tell of the build it belongs to: the system's own, never another partition's,
 * whose build may be older.
 *
 * @param part the partition an image is of, where its own footer is read
 */
export function toldByVbmeta(properties: Readonly<Record<string, string>>, part = "system"): Partial<Told> {
  const find = (ending: string, of = part) => properties[`com.android.build.${of}.${ending}`];
  const release = find("os_version");
  const patch = find("security_patch") ?? (part === "system" ? find("security_patch", "boot") : undefined);
  return {
    ...toldByFingerprint(find("fingerprint") ?? ""),
    ...(release && { release }),
    ...(patch && /^\d{4}-\d{2}-\d{2}$/.test(patch) && { patch }),
  };
}

/**
 * Parts of a build fingerprint `brand/product/device:release/id/incremental:type/tags`.
 *
 * @source Android Compatibility Definition Document, section 3.2.2 "Build Parameters", FINGERPRINT
 */
export function toldByFingerprint(fingerprint: string): Partial<Told> {
  const found = /^[^/]+\/[^/]+\/([^/:]+):([^/]+)\/([^/]+)\/([^/:]+)/.exec(fingerprint.trim());
  return found ? { devices: [found[1]], release: found[2], build: found[3] } : {};
}

/** Tells a verification file. */
export async function readVbmeta(source: Source): Promise<Finding> {
  const v = await parseVbmeta(source);
  const [verityOff, verificationOff] = [(v.flags & 1) !== 0, (v.flags & 2) !== 0];
  const told: Told = { ...TELLS_NOTHING, ...toldByVbmeta(v.properties), partition: "vbmeta" };
  const off = verityOff && verificationOff ? "both switched off" : verityOff || verificationOff ? "half off" : "on";
  return {
    says: `Verification file${told.build ? ` of build ${told.build}` : ""}, ${v.algorithm}, verity and verification ${off}.`,
    whole:
      source.size >= v.size
        ? { is: "yes", says: "Header, signature block, key and descriptors are all there" }
        : { is: "no", says: `The header names ${v.size} bytes, the file has ${source.size}: it was cut short` },
    expanded: null,
    told,
    content: {
      kind: "vbmeta",
      algorithm: v.algorithm,
      rollbackIndex: v.rollbackIndex,
      flags: v.flags,
      verityOff,
      verificationOff,
      madeBy: v.madeBy,
      partitions: [...v.partitions],
      properties: { ...v.properties },
    },
  };
}

const FOOTER = 64;

/**
 * What the footer of a signed partition image tells: nearly every stock image carries one in its last 64 bytes.
 *
 * @returns null when there is none, or it points nowhere
 * @source AOSP AVB 2.0, `avb_footer.h`: magic "AVBf", original size at 12, vbmeta offset at 20, vbmeta size at 28
 */
export async function toldByFooter(source: Source): Promise<Partial<Told> | null> {
  if (source.size < FOOTER) return null;
  const f = new Fields(await source.read(source.size - FOOTER, FOOTER), false, "the verification footer");
  if (!hasText(f.bytes, 0, "AVBf")) return null;
  try {
    const { properties, partitions } = await parseVbmeta(source, f.u64(20));
    // A footer speaks of one partition: its own.
    return toldByVbmeta(properties, partitions.length === 1 ? partitions[0] : "system");
  } catch (error) {
    if (error instanceof FileReadError) return null;
    throw error;
  }
}
